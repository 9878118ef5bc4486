<script setup lang="ts">
import type { Hold, Twist } from '../../api/schema.gen'
import { fixed, grams, signed } from '../../lib/format'

defineProps<{ holds: readonly Hold[]; twists?: readonly Twist[] }>()
const WHOLE = 30
const share = (minutes: number | null): number => Math.min(100, ((minutes ?? WHOLE) / WHOLE) * 100)
</script>

<template>
  <div v-if="holds.length" class="hold-times">
    <h3>How long it can be held, as a guide</h3>
    <p v-for="h in holds" :key="h.name" class="hold-line">
      <span>{{ h.name }}<i :style="{ width: `${share(h.minutes)}%` }"></i></span><span>{{ grams(h.carried_g) }} g</span
      ><b>{{ h.minutes === null ? 'long' : `${fixed(h.minutes, 1)} min` }}</b>
    </p>
    <template v-if="twists?.length"
      ><h3>Load on the wrist, per handle</h3>
      <p v-for="t in twists" :key="t.unit" class="hold-line">
        <span>{{ t.unit }}</span><span>{{ signed(t.nose_nm, 2) }} N·m nose-down</span
        ><b>{{ signed(t.side_nm, 2) }} N·m to the left</b>
      </p></template
    >
  </div>
</template>

<style>
.hold-times .hold-line span:first-child i {
  display: block;
  height: 4px;
  background: var(--mark);
  margin-top: var(--gap-1);
}
</style>
