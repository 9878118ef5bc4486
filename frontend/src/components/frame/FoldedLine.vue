<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useJob } from '../../stores/job'
import CountMarks from './CountMarks.vue'

/** On a phone, once the page is scrolled: ribbon and strips as one line; a tap brings them back. */
const store = useJob()
const y = ref(0)
useEventListener(
  window,
  'scroll',
  () => {
    y.value = window.scrollY
  },
  { passive: true },
)
const FOLDS_AT = 130
const folded = computed(() => y.value > FOLDS_AT)
const strip = computed(() => store.strips?.strips.find((s) => s.rig === store.camera) ?? null)
function up(): void {
  window.scrollTo({ top: 0 })
}
</script>

<template>
  <button
    v-if="folded && store.part"
    type="button"
    class="folded-line"
    aria-label="Back to the day and the cameras"
    @click="up"
  >
    <span>{{ store.part.label }}</span>
    <template v-if="strip">
      <b>{{ strip.number }} {{ strip.label }}</b>
      <CountMarks :counts="strip.counts" />
    </template>
  </button>
</template>

<style>
.folded-line {
  display: none;
}
@media (max-width: 760px) {
  .folded-line {
    position: fixed;
    inset: 0 0 auto;
    z-index: 10;
    height: 40px;
    display: flex;
    align-items: center;
    gap: var(--gap-6);
    padding: 0 var(--gap-7);
    background: var(--ground);
    border-bottom: 2px solid var(--mark);
    font-size: var(--t-3);
    text-align: left;
  }
  .folded-line span:first-child {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
}
@media print {
  .folded-line {
    display: none;
  }
}
</style>
