<script setup lang="ts">
import { computed } from 'vue'
import type { SlideTarget } from '../../api/schema.gen'
import { fixed, signed } from '../../lib/format'

const props = defineProps<{ slide: SlideTarget; was: number | null }>()
const [W, L] = [1000, 20]
const at = (reading: number): number =>
  L + ((reading - props.slide.scale[0]) / (props.slide.scale[1] - props.slide.scale[0])) * (W - 2 * L)
const marks = computed(() => {
  const [low, high] = props.slide.scale
  const step = high - low > 60 ? 5 : 2
  const found = []
  for (let mm = Math.ceil(low / step) * step; mm <= high; mm += step) found.push({ mm, big: mm % 10 === 0 })
  return found
})
const band = computed(() => {
  const [low, high] = props.slide.scale
  const from = at(Math.max(low, props.slide.reading - props.slide.spread_mm))
  return { from, width: at(Math.min(high, props.slide.reading + props.slide.spread_mm)) - from }
})
</script>

<template>
  <div class="slide-scale" :class="{ short: slide.short_mm > 0 }">
    <p class="name">{{ slide.title }}</p>
    <p class="reading">
      <b>{{ fixed(slide.reading, 1) }}</b><span>± {{ fixed(slide.spread_mm, 1) }} mm</span>
    </p>
    <svg
      viewBox="0 0 1000 92"
      preserveAspectRatio="none"
      role="img"
      :aria-label="`${slide.title}: set to ${fixed(slide.reading, 1)} on a scale from ${slide.scale[0]} to ${slide.scale[1]}`"
    >
      <rect class="rail" :x="L" y="30" :width="W - 2 * L" height="16" />
      <rect class="band" :x="band.from" y="26" :width="band.width" height="24" />
      <line v-for="m in marks" :key="m.mm" class="tick" :x1="at(m.mm)" :x2="at(m.mm)" y1="46" :y2="m.big ? 62 : 54" />
      <path v-if="was !== null" class="was" :d="`M${at(was)} 24v-16`" />
      <path class="target" :d="`M${at(slide.reading)} 52l-9 -24h18z`" />
    </svg>
    <p class="ends">
      <span v-for="m in marks.filter((x) => x.big)" :key="m.mm" :style="{ left: `${at(m.mm) / 10}%` }">{{ m.mm }}</span>
    </p>
    <p class="left">
      <template v-if="slide.short_mm > 0">ends {{ fixed(slide.short_mm, 1) }} mm too early</template>
      <template v-else>{{ fixed(slide.left_mm, 1) }} mm to the stop</template>
      <template v-if="was !== null"> · set {{ fixed(was, 1) }} ({{ signed(slide.reading - was, 1) }} to go)</template>
    </p>
    <p v-if="slide.uses?.length" class="uses">
      by
      <span v-for="[unit, mm] in slide.uses" :key="unit"
        ><b>{{ unit }}</b> {{ signed(mm, 1) }}</span
      >
      mm of slide
    </p>
  </div>
</template>

<style>
.slide-scale .uses {
  grid-area: uses;
  font-size: var(--t-2);
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-5);
  color: var(--ink-2);
}
.slide-scale .uses b {
  font-weight: 500;
}
.slide-scale {
  display: grid;
  grid-template: 'name reading' auto 'scale scale' 46px 'ends ends' 15px 'left left' auto 'uses uses' auto / 1fr auto;
  padding: var(--gap-5) var(--gap-8) var(--gap-4);
  border-bottom: 1px solid var(--rule-2);
}
.slide-scale .name {
  font-weight: 600;
  font-size: var(--t-5);
  align-self: end;
}
.slide-scale .reading b {
  font: 600 var(--t-7)/1 var(--figures);
  letter-spacing: -0.05em;
}
.slide-scale .reading span {
  color: var(--ink-2);
  margin-left: var(--gap-4);
}
.slide-scale svg {
  grid-area: scale;
  width: 100%;
  height: 46px;
}
.slide-scale .left {
  grid-area: left;
  font-size: var(--t-2);
  color: var(--ink-2);
}
.slide-scale .ends {
  grid-area: ends;
  position: relative;
}
.slide-scale .ends span {
  position: absolute;
  transform: translateX(-50%);
  font: 400 var(--t-1) var(--figures);
  color: var(--ink-2);
}
.slide-scale .rail {
  fill: var(--rule-2);
}
.slide-scale .band {
  fill: var(--mark-wash);
}
.slide-scale .tick {
  stroke: var(--ink-3);
  stroke-width: 1.4;
}
.slide-scale .target {
  fill: var(--mark);
}
.slide-scale .was {
  stroke: var(--ink);
  stroke-width: 3;
}
.slide-scale.short .reading b,
.slide-scale.short .left {
  color: var(--stop);
}
.slide-scale.short .target {
  fill: var(--stop);
}
</style>
