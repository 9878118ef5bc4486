<script setup lang="ts">
import type { ReachView } from '../api/schema.gen'
import { fixed } from '../lib/format'

defineProps<{ reaches: readonly ReachView[] }>()
const R = 44
/** Level points left; up (negative tilt) is drawn upwards. */
function point(deg: number, r = R): string {
  const a = (deg * Math.PI) / 180
  return `${(60 - r * Math.cos(a)).toFixed(1)} ${(60 + r * Math.sin(a)).toFixed(1)}`
}
const arc = (low: number, high: number, r = R): string => `M${point(low, r)}A${String(r)} ${String(r)} 0 ${high - low > 180 ? 1 : 0} 0 ${point(high, r)}`
</script>

<template>
  <div class="reach">
    <figure v-for="x in reaches" :key="x.axis">
      <svg viewBox="0 0 120 120" role="img" :aria-label="`${x.axis} free from ${fixed(x.low_deg, 0)} to ${fixed(x.high_deg, 0)} degrees`">
        <path class="needed" :d="arc(x.needed[0], x.needed[1], 52)" />
        <path class="free" :d="arc(x.low_deg, x.high_deg)" />
        <path v-if="x.low_hits" class="hit" :d="`M60 60L${point(x.low_deg)}`" /><path v-if="x.high_hits" class="hit" :d="`M60 60L${point(x.high_deg)}`" />
        <path class="level-line" :d="`M60 60L${point(0)}`" />
      </svg>
      <figcaption><b>{{ x.axis }}</b> {{ fixed(x.low_deg, 0) }}° to {{ fixed(x.high_deg, 0) }}°
        <small v-if="x.low_hits">{{ x.axis === 'tilt' ? 'up' : 'right' }}: {{ x.low_hits }}</small><small v-if="x.high_hits">{{ x.axis === 'tilt' ? 'down' : 'left' }}: {{ x.high_hits }}</small><small v-if="!x.low_hits && !x.high_hits">nothing is hit</small></figcaption>
    </figure>
  </div>
</template>
