<script setup lang="ts">
import { computed } from 'vue'
import type { MotorLoadView } from '../../api/schema.gen'
import { axis, roundEnds, type Ink } from '../../lib/charts'
import { fixed } from '../../lib/format'
import AxisChart from '../charts/AxisChart.vue'
import LevelMark from '../frame/LevelMark.vue'

const props = defineProps<{ loads: readonly MotorLoadView[]; givesUpFirst: string | null }>()
const first = computed(() => props.loads.find((l) => l.axis === props.givesUpFirst))
/** Share of what each motor may hold, the part of it that cables pull as a line of its own; 100 % is drawn. */
const plot = computed(() => (ink: Ink) => {
  const rows = [...props.loads].reverse()
  const most = Math.max(100, ...rows.map((l) => l.share * 100))
  const colour = { stop: ink.stop, watch: ink.watch, note: ink.ink3, clear: ink.ink3 }
  return {
    grid: { left: 38, right: 22, top: 8, bottom: 22 },
    xAxis: axis(ink, '%', 0, [0, roundEnds(0, most)[1]]),
    yAxis: {
      type: 'category',
      data: rows.map((l) => l.axis),
      axisTick: { show: false },
      axisLine: { lineStyle: { color: ink.ink3 } },
      axisLabel: { color: ink.ink2, fontSize: ink.small },
    },
    series: [
      {
        name: 'all',
        type: 'bar',
        barWidth: 13,
        data: rows.map((l) => ({ value: Math.round(l.share * 1000) / 10, itemStyle: { color: colour[l.level] } })),
        markLine: {
          silent: true,
          symbol: 'none',
          label: { show: false },
          lineStyle: { color: ink.stop, type: 'solid' },
          data: [{ xAxis: 100 }],
        },
      },
      {
        name: 'cables',
        type: 'bar',
        barWidth: 3,
        barGap: '-60%',
        data: rows.map((l) => Math.round((l.pull_nm / l.rated_nm) * 1000) / 10),
        itemStyle: { color: ink.ink },
      },
    ],
  }
})
const said = computed(() => props.loads.map((l) => `${l.axis} ${(l.share * 100).toFixed(0)} percent`).join(', '))
</script>

<template>
  <div class="motors">
    <h3>Motor loads, worst case</h3>
    <AxisChart :plot="plot" :label="said" />
    <div v-for="l in loads" :key="l.axis" class="motor" :class="l.level">
      <span class="axis-name">{{ l.axis }}</span><b>{{ fixed(l.share * 100, 0) }} %</b
      ><LevelMark :level="l.level" :size="14" />
      <small
        >{{ fixed(l.torque_nm, 3) }} of {{ fixed(l.rated_nm, 2) }} N·m<template v-if="l.pull_nm"
          >, {{ fixed(l.pull_nm * 1000, 0) }} mN·m of it cables</template
        ></small
      >
    </div>
    <h3>In the gusts of this part of the day</h3>
    <p v-if="first" class="gives-up">
      <b>{{ fixed(first.gives_up_m_s ?? 0, 0) }}</b> m/s of mean wind, and {{ first.axis }} gives up
    </p>
    <p v-for="l in loads" :key="l.axis" class="school">
      <span>{{ l.axis }}</span><span>{{ fixed(l.wind_nm, 3) }} N·m</span
      ><b>{{ fixed(l.wind_share * 100, 0) }} %</b> limit
      {{ l.gives_up_m_s === null ? 'no wind' : `${fixed(l.gives_up_m_s, 0)} m/s` }}
    </p>
  </div>
</template>

<style>
.motors .axis-chart {
  height: 100px;
}
.motor {
  display: grid;
  grid-template-columns: 38px 52px 18px minmax(0, 1fr);
  gap: 0 var(--gap-5);
  align-items: baseline;
  padding: 1px 0;
}
.motor b {
  font: 600 var(--t-5) var(--figures);
  text-align: right;
  letter-spacing: -0.05em;
}
.motor.stop b {
  color: var(--stop);
}
.motor.watch b {
  color: var(--watch);
}
.motor small {
  color: var(--ink-2);
  font-size: var(--t-2);
}
.school {
  display: grid;
  grid-template-columns: 1fr 58px 42px 88px;
  white-space: nowrap;
  gap: var(--gap-4);
  font-size: var(--t-2);
  color: var(--ink-2);
}
.school b {
  font-family: var(--figures);
  color: var(--ink);
}
</style>
