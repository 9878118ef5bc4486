<script setup lang="ts">
import { computed } from 'vue'
import type { ZoomView } from '../api/schema.gen'
import { fixed, hours } from '../lib/format'
import NumberField from './fields/NumberField.vue'

const props = defineProps<{ zoom: ZoomView }>()
const emit = defineEmits<{ ends: [ends: [number, number]] }>()
const percent = (share: number): number => Math.round(share * 100)
/** One end's share is what is asked for; the other gives way where both are more than the whole. */
function share(end: 'wide' | 'long', value: number): void {
  const asked = Math.min(1, Math.max(0, value / 100))
  emit(
    'ends',
    end === 'wide' ? [asked, Math.min(props.zoom.long, 1 - asked)] : [Math.min(props.zoom.wide, 1 - asked), asked],
  )
}
const [W, H] = [360, 110]
const low = computed(() => props.zoom.loads[0]?.[0] ?? 0)
const high = computed(() => props.zoom.loads.at(-1)?.[0] ?? 1)
const top = computed(() => Math.max(...props.zoom.loads.map((l) => l[1]), 1e-6))
const x = (focal: number): number => 8 + ((focal - low.value) / (high.value - low.value)) * (W - 16)
const y = (nm: number): number => H - 8 - (nm / top.value) * (H - 22)
const path = computed(() =>
  props.zoom.loads.map(([f, nm], i) => `${i ? 'L' : 'M'}${x(f).toFixed(1)} ${y(nm).toFixed(1)}`).join(''),
)
const best = computed(() => props.zoom.schools[0])
</script>

<template>
  <div class="zoom-chart">
    <h3 v-if="!zoom.helps">{{ zoom.unit }}: no other focal length balances better</h3>
    <h3 v-else>
      Set {{ zoom.unit }} to
      <b>{{ best?.focal_mm == null ? 'the middle of its travel' : `${fixed(best.focal_mm, 0)} mm` }}</b> and balance
      there
    </h3>
    <svg
      :viewBox="`0 0 ${W} ${H}`"
      role="img"
      :aria-label="`Tilt torque over focal length, up to ${fixed(top, 3)} N·m`"
    >
      <line class="base" x1="8" :x2="W - 8" :y1="H - 8" :y2="H - 8" />
      <path class="load" :d="path" />
      <path v-if="best?.focal_mm != null" class="here" :d="`M${x(best.focal_mm)} ${H - 8}V10`" />
      <path class="now" :d="`M${x(zoom.set_mm)} ${H - 8}v-12`" />
      <text :x="8" y="10">{{ fixed(top, 3) }} N·m</text>
      <text :x="8" :y="H - 12">{{ fixed(low, 0) }}</text>
      <text :x="W - 8" :y="H - 12" text-anchor="end">{{ fixed(high, 0) }} mm</text>
    </svg>
    <h3>Balanced there, at worst over the range</h3>
    <p v-for="s in zoom.schools" :key="s.name" class="school-line">
      <span>{{ s.name }}</span><span>{{ s.focal_mm === null ? '–' : `${fixed(s.focal_mm, 0)} mm` }}</span
      ><b>{{ fixed(s.worst_nm, 3) }} N·m</b><span>{{ hours(s.hours) }} h</span>
    </p>
    <p class="zoom-ends">
      Hours with
      <label
        ><NumberField
          :model-value="percent(zoom.wide)"
          min="0"
          max="100"
          step="10"
          aria-label="Percent of the time at the wide end"
          :commit="(part) => share('wide', part)"
        />
        % at {{ fixed(low, 0) }} mm</label
      >
      and
      <label
        ><NumberField
          :model-value="percent(zoom.long)"
          min="0"
          max="100"
          step="10"
          aria-label="Percent of the time at the long end"
          :commit="(part) => share('long', part)"
        />
        % at {{ fixed(high, 0) }} mm</label
      >
    </p>
  </div>
</template>

<style>
.zoom-ends {
  font-size: var(--t-3);
  color: var(--ink-2);
  padding: var(--gap-3) var(--gap-6);
}
.zoom-ends input {
  width: 52px;
  font: 600 var(--t-3) var(--figures);
}
.school-line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 52px 82px 52px;
  gap: var(--gap-3);
  font-size: var(--t-2);
  padding: var(--gap-1) 0;
  border-bottom: 1px solid var(--rule-2);
}
.school-line b,
.school-line span + span,
.school-line b + span {
  font-family: var(--figures);
  text-align: right;
}
.zoom-chart svg {
  width: 100%;
  display: block;
}
.zoom-chart .load {
  fill: none;
  stroke: var(--mark);
  stroke-width: 2.4;
}
.zoom-chart .base {
  stroke: var(--ink-3);
}
.zoom-chart .here {
  stroke: var(--ink);
  stroke-dasharray: 3 3;
  fill: none;
}
.zoom-chart .now {
  stroke: var(--stop);
  stroke-width: 3;
  fill: none;
}
.zoom-chart text {
  font: 400 var(--t-1) var(--figures);
  fill: var(--ink-2);
}
</style>
