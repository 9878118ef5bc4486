<script setup lang="ts">
import { computed } from 'vue'

/** Level by shape as well as colour: a barred gate for Stop, an open eye for Watch, a dot for Note, nothing for clear. */
const props = defineProps<{ level: string; size?: number }>()
const word = computed(() => ({ stop: 'Stop', watch: 'Watch', note: 'Note', clear: 'Clear' })[props.level] ?? '')
</script>

<template>
  <svg
    class="level"
    :class="level"
    :width="size ?? 16"
    :height="size ?? 16"
    viewBox="0 0 16 16"
    role="img"
    :aria-label="word"
  >
    <g v-if="level === 'stop'" fill="currentColor">
      <rect x="1" y="1" width="3" height="14" />
      <rect x="12" y="1" width="3" height="14" />
      <rect x="1" y="3.4" width="14" height="3" />
      <rect x="1" y="9.4" width="14" height="3" />
    </g>
    <g v-else-if="level === 'watch'" fill="none" stroke="currentColor" stroke-width="1.9">
      <path d="M1 8 C4.2 3 11.8 3 15 8 C11.8 13 4.2 13 1 8Z" />
      <circle cx="8" cy="8" r="1.7" fill="currentColor" />
    </g>
    <circle v-else-if="level === 'note'" cx="8" cy="8" r="3" fill="none" stroke="currentColor" stroke-width="1.8" />
    <path v-else d="M3 8.5h10" stroke="currentColor" stroke-width="1.6" fill="none" />
  </svg>
</template>

<style>
.level {
  flex: none;
  vertical-align: -2px;
}
.level.note {
  color: var(--note);
}
</style>
