<script setup lang="ts">
import { computed } from 'vue'
import type { RunDownView } from '../api/schema.gen'
import { fixed, hours } from '../lib/format'

const props = defineProps<{ run: RunDownView; need: number }>()
const [W, H, L, B] = [340, 132, 46, 18]
const last = computed(() => Math.max(props.need, ...props.run.curve.map((p) => p[0]), 0.1) * 1.04)
const volts = computed(() => props.run.curve.map((p) => p[1]))
const low = computed(() => Math.min(...volts.value, ...props.run.cut_outs.map((c) => c.stop_v)) - 0.2)
const high = computed(() => Math.max(...volts.value, low.value + 1) + 0.1)
const x = (h: number): number => L + (h / last.value) * (W - L - 8)
const y = (v: number): number => 6 + ((high.value - v) / (high.value - low.value)) * (H - B - 6)
const line = computed(() =>
  props.run.curve.map((p, i) => `${i ? 'L' : 'M'}${x(p[0]).toFixed(1)} ${y(p[1]).toFixed(1)}`).join(''),
)
const ticks = computed(() =>
  Array.from(
    { length: Math.floor(last.value / (last.value > 4 ? 1 : 0.5)) + 1 },
    (_, i) => i * (last.value > 4 ? 1 : 0.5),
  ),
)
</script>

<template>
  <figure class="run-down" :class="{ short: run.hours !== null && run.hours < need }">
    <figcaption>
      <b>{{ run.pack }}</b> <strong>{{ run.hours === null ? 'no end' : `${hours(run.hours)} h` }}</strong>{{ ' ' }}
      <span>of {{ hours(need) }} h untouched, {{ fixed(run.load_w, 1) }} W</span
      ><small
        >by watt-hours {{ run.by_energy_h === null ? '–' : `${hours(run.by_energy_h)} h`
        }}<template v-if="run.standby_h !== null"> · only standing by {{ hours(run.standby_h) }} h</template></small
      >
    </figcaption>
    <svg
      v-if="run.curve.length"
      :viewBox="`0 0 ${W} ${H}`"
      role="img"
      :aria-label="`${run.pack} from ${fixed(volts[0] ?? 0, 1)} V down over ${hours(run.hours)} hours`"
    >
      <rect class="needed" :x="L" y="6" :width="Math.max(0, x(need) - L)" :height="H - B - 6" />
      <line v-for="t in ticks" :key="t" class="tick" :x1="x(t)" :x2="x(t)" :y1="H - B" :y2="H - B + 4" />
      <text v-for="t in ticks" :key="`t${t}`" :x="x(t)" :y="H - 3" text-anchor="middle">
        {{ t }}{{ t === ticks.at(-1) ? ' h' : '' }}
      </text>
      <text :x="L - 4" y="14" text-anchor="end">{{ fixed(high, 1) }}</text>
      <text :x="L - 4" :y="H - B" text-anchor="end">{{ fixed(low, 1) }} V</text>
      <path class="curve" :d="line" />
      <g v-for="c in run.cut_outs" :key="c.unit" class="cut">
        <path :d="`M${x(c.hours)} 6V${H - B}`" />
        <text :x="Math.min(x(c.hours) + 4, W - 90)" y="18">{{ c.unit }} stops at {{ fixed(c.stop_v, 1) }} V</text>
      </g>
    </svg>
  </figure>
</template>

<style>
.run-down {
  flex: 1 1 300px;
  max-width: 520px;
  padding: var(--gap-5) var(--gap-8);
  margin: 0;
}
.run-down strong {
  font: 700 var(--t-6) var(--figures);
}
.run-down.short strong {
  color: var(--stop);
}
.run-down span,
.run-down small {
  color: var(--ink-2);
  font-size: var(--t-3);
}
.run-down small {
  display: block;
}
.run-down svg {
  width: 100%;
}
.run-down .needed {
  fill: var(--mark-wash);
}
.run-down .curve {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.2;
}
.run-down .tick {
  stroke: var(--ink-3);
}
.run-down text {
  font: 400 var(--t-1) var(--figures);
  fill: var(--ink-2);
}
.run-down .cut path {
  stroke: var(--stop);
  stroke-dasharray: 4 3;
}
.run-down .cut text {
  fill: var(--stop);
}
</style>
