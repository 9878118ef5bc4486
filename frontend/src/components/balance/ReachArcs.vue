<script setup lang="ts">
import type { ReachView } from '../../api/schema.gen'
import { fixed } from '../../lib/format'

defineProps<{ reaches: readonly ReachView[]; shown: string }>()
const emit = defineEmits<{ show: [at: string] }>()
const R = 44
/** Level points left; up (negative tilt) is drawn upwards. */
function point(deg: number, r = R): string {
  const a = (deg * Math.PI) / 180
  return `${(60 - r * Math.cos(a)).toFixed(1)} ${(60 + r * Math.sin(a)).toFixed(1)}`
}
function arc(low: number, high: number, r = R): string {
  if (high - low >= 359) return `${arc(-180, 0, r)}${arc(0, 180, r)}`
  return `M${point(low, r)}A${String(r)} ${String(r)} 0 ${high - low > 180 ? 1 : 0} 0 ${point(high, r)}`
}
const ends = (x: ReachView): { at: string; word: string; deg: number; hits: string[] }[] =>
  [
    { at: `${x.axis} low`, word: x.words[0], deg: x.low_deg, hits: x.low_hits },
    { at: `${x.axis} high`, word: x.words[1], deg: x.high_deg, hits: x.high_hits },
  ].filter((end) => end.hits.length)
</script>

<template>
  <div class="reach">
    <figure v-for="x in reaches" :key="x.axis">
      <svg
        viewBox="0 0 120 120"
        role="img"
        :aria-label="`${x.axis} free from ${fixed(x.low_deg, 0)} to ${fixed(x.high_deg, 0)} degrees`"
      >
        <path class="needed" :d="arc(x.needed[0], x.needed[1], 52)" />
        <path class="free" :d="arc(x.low_deg, x.high_deg)" />
        <path v-for="end in ends(x)" :key="end.at" class="hit" :d="`M60 60L${point(end.deg)}`" />
        <path class="level-line" :d="`M60 60L${point(0)}`" />
      </svg>
      <figcaption>
        <b>{{ x.axis }}</b> {{ fixed(x.low_deg, 0) }}° to {{ fixed(x.high_deg, 0) }}°
        <button
          v-for="end in ends(x)"
          :key="end.at"
          type="button"
          :aria-pressed="shown === end.at"
          @click="emit('show', shown === end.at ? '' : end.at)"
        >
          {{ end.word }}: {{ end.hits.join(' meets ') }}</button
        ><small v-if="!ends(x).length">hits nothing</small>
      </figcaption>
    </figure>
  </div>
</template>

<style>
.reach {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  border-top: 1px solid var(--rule-2);
}
.reach figure {
  padding: var(--gap-3) var(--gap-5);
}
.reach svg {
  width: 100%;
  max-height: 120px;
}
.reach path {
  fill: none;
}
.reach .needed {
  stroke: var(--ink-3);
  stroke-width: 3;
  stroke-dasharray: 2 3;
}
.reach .free {
  stroke: var(--mark);
  stroke-width: 7;
}
.reach .hit {
  stroke: var(--stop);
  stroke-width: 2.4;
}
.reach .level-line {
  stroke: var(--ink-3);
  stroke-width: 1;
}
.reach figcaption {
  font-size: var(--t-2);
}
.reach small {
  display: block;
  color: var(--ink-2);
}
.reach button {
  display: block;
  width: 100%;
  border: 0;
  border-bottom: 1px dotted var(--ink-3);
  background: none;
  color: var(--ink-2);
  font: inherit;
  font-size: var(--t-2);
  text-align: left;
  padding: var(--gap-3) 0;
  min-height: 28px;
}
.reach button[aria-pressed='true'] {
  color: var(--ink);
  background: var(--mark-wash);
  border-bottom-style: solid;
}
</style>
