<script setup lang="ts">
import { ref } from 'vue'
import { useShownChoice } from '../../composables/useShownChoice'
import { grams, hours } from '../../lib/format'
import { useJob } from '../../stores/job'
import { useLive } from '../../stores/live'
import CountMarks from './CountMarks.vue'

const store = useJob()
const live = useLive()
const row = ref<HTMLElement | null>(null)
useShownChoice(row)
const emit = defineEmits<{ choose: [rig: string] }>()
</script>

<template>
  <nav ref="row" class="strips" aria-label="Cameras">
    <button
      v-for="s in store.strips?.strips ?? []"
      :key="s.rig"
      type="button"
      class="strip"
      :class="{ chosen: s.rig === store.camera }"
      :aria-current="s.rig === store.camera"
      :title="s.position"
      @click="emit('choose', s.rig)"
    >
      <span class="number">{{ s.number }}</span>
      <span class="who"
        ><b>{{ s.label }}</b
        ><span>{{ s.build_label ?? 'no build' }}</span
        ><em v-for="who in live.on(s.rig)" :key="who.tab" class="looker" title="looks at this camera now">{{
          who.name
        }}</em></span
      >
      <span class="facts">
        <span>{{ grams(s.mass_g) }} g</span>
        <span>{{ s.balance }}</span>
        <span :class="{ short: s.short }">{{ hours(s.hours) }} of {{ hours(s.hours_needed) }} h</span>
      </span>
      <CountMarks :counts="s.counts" />
    </button>
  </nav>
</template>

<style>
.strips {
  grid-area: strips;
  min-height: 56.5px;
  display: flex;
  gap: var(--gap-2);
  padding: var(--gap-2) var(--gap-7) var(--gap-4);
  overflow-x: auto;
  scrollbar-width: none;
}
.strip {
  flex: 1 1 0;
  min-width: 214px;
  display: grid;
  grid-template: 'n who counts' auto 'n facts facts' auto / auto 1fr auto;
  column-gap: var(--gap-6);
  padding: var(--gap-3) var(--gap-6) var(--gap-3) var(--gap-4);
  background: var(--sheet);
  border-bottom: 3px solid transparent;
  align-items: center;
}
.strip:hover {
  background: var(--lift);
}
.strip.chosen {
  background: var(--lift);
  border-bottom-color: var(--mark);
}
.strip .number {
  grid-area: n;
  font: 700 var(--t-7)/1 var(--figures);
  color: var(--ink-2);
  width: 24px;
  text-align: center;
}
.strip.chosen .number {
  color: var(--mark);
}
.strip .who {
  grid-area: who;
  display: flex;
  gap: var(--gap-4);
  align-items: baseline;
  white-space: nowrap;
  overflow: hidden;
}
.strip .who span {
  color: var(--ink-2);
  font-size: var(--t-3);
}
.strip .looker {
  padding: 0 var(--gap-2);
  font: 600 var(--t-2)/1.4 var(--text);
  color: var(--mark);
  border: 1px solid currentcolor;
}
.strip .facts {
  grid-area: facts;
  display: flex;
  gap: var(--gap-6);
  font-size: var(--t-3);
  font-variant-numeric: tabular-nums;
  color: var(--ink-2);
  white-space: nowrap;
}
.strip .facts .short {
  color: var(--stop);
  font-weight: 700;
}
.strip .counts {
  grid-area: counts;
}
@media (max-width: 760px) {
  .strips {
    padding: var(--gap-3) var(--gap-6) var(--gap-5);
    gap: var(--gap-4);
    min-height: 69px;
  }
  .strip {
    flex: 0 0 auto;
    min-width: 264px;
    padding: var(--gap-5) var(--gap-6);
  }
}
@media print {
  .strips {
    display: none !important;
  }
  .at-swaps .strips {
    display: none;
  }
}
</style>
