<script setup lang="ts">
import { computed } from 'vue'
import type { RunDown } from '../../api/schema.gen'
import { axis, roundEnds, type Ink } from '../../lib/charts'
import { fixed, hours } from '../../lib/format'
import AxisChart from '../charts/AxisChart.vue'

const props = defineProps<{ run: RunDown; need: number }>()
const from = computed(() => props.run.curve[0]?.[1] ?? 0)
/** Volts over hours; what is needed is shaded, and where a device stops is a line with its name. */
const plot = computed(() => (ink: Ink) => {
  const { curve, cut_outs: cutOuts } = props.run
  const last = Math.max(props.need, ...curve.map((p) => p[0]), 0.1)
  const volts = [...curve.map((p) => p[1]), ...cutOuts.map((c) => c.stop_v)]
  return {
    grid: { left: 46, right: 14, top: 12, bottom: 22 },
    xAxis: { ...axis(ink, 'h', last > 4 ? 0 : 1, [0, roundEnds(0, last)[1]]), splitLine: { show: false } },
    yAxis: axis(ink, 'V', 1, roundEnds(Math.min(...volts), Math.max(...volts))),
    series: [
      {
        name: 'V',
        type: 'line',
        showSymbol: false,
        data: curve.map((p) => [Math.round(p[0] * 1000) / 1000, Math.round(p[1] * 100) / 100]),
        lineStyle: { color: ink.ink, width: 2.2 },
        itemStyle: { color: ink.ink },
        markArea: { silent: true, itemStyle: { color: ink.wash }, data: [[{ xAxis: 0 }, { xAxis: props.need }]] },
        markLine: {
          silent: true,
          symbol: 'none',
          lineStyle: { color: ink.stop, type: 'dashed' },
          label: { color: ink.stop, fontSize: ink.small, position: 'insideEndTop' },
          data: cutOuts
            .map((c) => ({ xAxis: c.hours, name: `${c.unit} stops at ${fixed(c.stop_v, 1)} V` }))
            .map((m) => ({
              ...m,
              label: { formatter: m.name },
            })),
        },
      },
    ],
  }
})
</script>

<template>
  <figure class="run-down" :class="{ short: run.short }">
    <figcaption>
      <b>{{ run.pack }}</b> <strong>{{ run.hours === null ? 'no end' : `${hours(run.hours)} h` }}</strong>{{ ' ' }}
      <span>of {{ hours(need) }} h needed without a swap, {{ fixed(run.load_w, 1) }} W</span
      ><small
        >by watt-hours {{ run.by_energy_h === null ? '–' : `${hours(run.by_energy_h)} h`
        }}<template v-if="run.standby_h !== null"> · only standing by {{ hours(run.standby_h) }} h</template
        ><template v-if="run.off_h !== null">
          · left on between takes {{ hours(run.left_on_h) }} h, switched off {{ hours(run.off_h) }} h</template
        ></small
      >
    </figcaption>
    <AxisChart
      v-if="run.curve.length"
      :plot="plot"
      :label="`${run.pack} from ${fixed(from, 1)} V down over ${hours(run.hours)} hours`"
    />
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
</style>
