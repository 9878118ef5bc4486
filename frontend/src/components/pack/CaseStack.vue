<script setup lang="ts">
import type { PackingView } from '../../api/schema.gen'
import { clock, fixed, weekday } from '../../lib/format'

/** The cases as they stand there, side on and to one scale, each filled as far as it is. */
const props = defineProps<{
  view: PackingView
  chosen: string
  marks: ReadonlyMap<string, 'stop' | 'watch' | 'note'>
}>()
const emit = defineEmits<{ choose: [unit: string] }>()
type Case = PackingView['cases'][number]
const widest = (): number => Math.max(...props.view.cases.map((c) => c.outside_mm[0]), 1)
const WIDE = 176
const scale = (): number => WIDE / widest()
const packed = (c: Case): number =>
  props.view.things.filter((t) => t.state === 'packed' && t.case === c.along.unit).length
const state = (c: Case): string => {
  const count = packed(c)
  if (c.closed) return `closed ${weekday(c.closed)} ${clock(c.closed)}`
  return count
    ? `${String(count)} of ${String(c.laid.length + c.loose.length)} in it`
    : `${String(c.laid.length + c.loose.length)} planned`
}
</script>

<template>
  <ul class="case-stack" aria-label="Cases that go along">
    <li v-for="c in view.cases" :key="c.along.unit">
      <button
        type="button"
        :class="{ chosen: c.along.unit === chosen }"
        :aria-pressed="c.along.unit === chosen"
        @click="emit('choose', c.along.unit)"
      >
        <span class="named"
          ><b>{{ c.along.unit }}</b
          ><strong :class="marks.get(c.along.unit)"
            >{{ fixed(c.mass_g / 1000, 1) }} <small>of {{ fixed(c.most_kg, 0) }} kg</small></strong
          ></span
        >
        <svg
          :width="c.outside_mm[0] * scale() + 2"
          :height="c.outside_mm[2] * scale() + 9"
          role="img"
          :aria-label="`${fixed(c.filled * 100, 0)} % full`"
        >
          <g :transform="`translate(1, ${7})`">
            <path
              v-if="c.travels !== 'on the back'"
              class="grip"
              :d="`M ${c.outside_mm[0] * scale() * 0.4} 0 v -5 h ${c.outside_mm[0] * scale() * 0.2} v 5`"
            />
            <rect class="shell" :width="c.outside_mm[0] * scale()" :height="c.outside_mm[2] * scale()" rx="2.5" />
            <rect
              class="fill"
              x="3"
              :y="3 + (c.outside_mm[2] * scale() - 6) * (1 - c.filled)"
              :width="c.outside_mm[0] * scale() - 6"
              :height="Math.max(0, (c.outside_mm[2] * scale() - 6) * c.filled)"
            />
            <path
              v-if="c.closed"
              class="band"
              :d="`M 0 ${c.outside_mm[2] * scale() * 0.35} h ${c.outside_mm[0] * scale()}`"
            />
          </g>
        </svg>
        <span class="told"
          >{{ c.travels }}{{ c.along.carried_by ? `, ${c.along.carried_by}` : '' }}<em>{{ state(c) }}</em></span
        >
      </button>
    </li>
  </ul>
</template>

<style>
.case-stack {
  display: grid;
  gap: var(--gap-2);
}
.case-stack button {
  width: 100%;
  text-align: left;
  padding: var(--gap-5) var(--gap-6);
  border-left: 3px solid transparent;
  font-weight: 400;
}
.case-stack button.chosen {
  border-left-color: var(--mark);
  background: var(--lift);
}
.case-stack .named {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
.case-stack b {
  font: 700 var(--t-4) var(--figures);
}
.case-stack strong {
  font: 700 var(--t-5) var(--figures);
}
.case-stack strong small {
  font: 400 var(--t-2) var(--text);
  color: var(--ink-2);
}
.case-stack strong.stop {
  color: var(--stop);
}
.case-stack strong.watch {
  color: var(--watch);
}
.case-stack svg {
  display: block;
}
.case-stack .shell {
  fill: var(--sheet);
  stroke: var(--p-line);
  stroke-width: 1.6;
}
.case-stack .fill {
  fill: var(--p-metal);
}
.case-stack .grip {
  fill: none;
  stroke: var(--p-line);
  stroke-width: 2;
}
.case-stack .band {
  stroke: var(--mark);
  stroke-width: 3;
}
.case-stack .told {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-5);
  font-size: var(--t-2);
  color: var(--ink-2);
}
.case-stack .told em {
  font-style: normal;
  color: var(--ink);
}
</style>
