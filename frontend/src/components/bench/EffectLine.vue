<script setup lang="ts">
import type { EffectView } from '../../api/schema.gen'
import { hours, signed } from '../../lib/format'
import LevelMark from '../frame/LevelMark.vue'

defineProps<{ effect: EffectView }>()
</script>

<template>
  <span class="effect">
    <span class="sums">
      <span>{{ signed(effect.mass_g, 0) }} g</span>
      <span v-if="Math.abs(effect.cg_x_mm) >= 0.05">CG {{ signed(effect.cg_x_mm, 1) }} mm</span>
      <span v-if="Math.abs(effect.draw_w) >= 0.05">{{ signed(effect.draw_w, 1) }} W</span>
      <span v-if="effect.hours_after !== null">{{ hours(effect.hours_after) }} h</span>
    </span>
    <span v-for="f in effect.come" :key="f.text" class="comes" :class="f.level"
      ><LevelMark :level="f.level" :size="12" /> {{ f.text }}</span
    >
    <span v-for="f in effect.gone" :key="f.text" class="goes">solves: {{ f.title }}</span>
  </span>
</template>

<style>
.effect .comes {
  display: block;
}
.effect .comes.stop {
  color: var(--stop);
}
.effect .comes.watch {
  color: var(--watch);
}
.effect .goes {
  display: block;
  color: var(--mark);
}
</style>
