<script setup lang="ts">
import { useResizeObserver } from '@vueuse/core'
import type { EChartsCoreOption, EChartsType } from 'echarts/core'
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'
import { chartFrame, inkOf, type Ink } from '../../lib/charts'
import { useAppearance } from '../../stores/appearance'

/** A plot with axes, in the ink of the appearance; what it shows is said in words too. */
const props = defineProps<{ plot: (ink: Ink) => EChartsCoreOption; label: string }>()
const appearance = useAppearance()
const box = useTemplateRef('box')
let chart: EChartsType | null = null

function draw(): void {
  const ink = inkOf(document.documentElement)
  chart?.setOption({ ...chartFrame(ink), ...props.plot(ink) }, { notMerge: true })
}

onMounted(async () => {
  const { init } = await import('./engine')
  if (!box.value) return
  chart = init(box.value, null, { renderer: 'svg' })
  draw()
})
watch([() => props.plot, () => appearance.now], draw, { flush: 'post' })
useResizeObserver(box, () => chart?.resize())
onBeforeUnmount(() => chart?.dispose())
</script>

<template>
  <div ref="box" class="axis-chart" role="img" :aria-label="label"></div>
</template>

<style>
.axis-chart {
  width: 100%;
  height: 132px;
}
</style>
