<script setup lang="ts">
import { computed } from 'vue'
import type { ZoomView } from '../../api/schema.gen'
import { axis, roundEnds, type Ink } from '../../lib/charts'
import { fixed, hours } from '../../lib/format'
import AxisChart from '../charts/AxisChart.vue'
import NumberField from '../fields/NumberField.vue'

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
const best = computed(() => props.zoom.schools[0])
const low = computed(() => props.zoom.loads[0]?.[0] ?? 0)
const high = computed(() => props.zoom.loads.at(-1)?.[0] ?? 1)
const top = computed(() => Math.max(...props.zoom.loads.map((l) => l[1]), 1e-6))
/** Torque of the tilt motor over focal length; where it stands now, and where it is best balanced. */
const plot = computed(() => (ink: Ink) => ({
  grid: { left: 54, right: 14, top: 12, bottom: 22 },
  xAxis: {
    ...axis(ink, 'mm', 0, [low.value, high.value]),
    splitLine: { show: false },
  },
  yAxis: axis(ink, 'N·m', top.value < 0.1 ? 3 : 2, [0, roundEnds(0, top.value)[1]]),
  series: [
    {
      name: 'N·m',
      type: 'line',
      showSymbol: false,
      data: props.zoom.loads.map(([focal, nm]) => [focal, Math.round(nm * 1e4) / 1e4]),
      lineStyle: { color: ink.mark, width: 2.4 },
      itemStyle: { color: ink.mark },
      markLine: {
        silent: true,
        symbol: 'none',
        data: [
          {
            xAxis: props.zoom.set_mm,
            lineStyle: { color: ink.stop, width: 2.4, type: 'solid' },
            label: { formatter: 'now', color: ink.stop, fontSize: ink.small },
          },
          ...(best.value?.focal_mm == null
            ? []
            : [
                {
                  xAxis: best.value.focal_mm,
                  lineStyle: { color: ink.ink, type: 'dashed' },
                  label: { show: false },
                },
              ]),
        ],
      },
    },
  ],
}))
</script>

<template>
  <div class="zoom-chart">
    <h3 v-if="!zoom.helps">{{ zoom.unit }}: no other focal length balances better</h3>
    <h3 v-else>
      Set {{ zoom.unit }} to
      <b>{{ best?.focal_mm == null ? 'the middle of its travel' : `${fixed(best.focal_mm, 0)} mm` }}</b> and balance
      there
    </h3>
    <AxisChart :plot="plot" :label="`Tilt torque over focal length, up to ${fixed(top, 3)} N·m`" />
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
</style>
