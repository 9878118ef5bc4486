<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import type { HeadReport } from '../../api/schema.gen'
import { fixed, signed } from '../../lib/format'

const props = defineProps<{ head: HeadReport }>()
const chosen = ref('')
const label = computed(() =>
  props.head.steps.some((s) => s.label === chosen.value) ? chosen.value : props.head.best.label,
)
const step = computed(() => props.head.steps.find((s) => s.label === label.value))
const [W, H, L, B] = [300, 150, 34, 20]
const low = computed(() => props.head.tilts_deg[0] ?? -30)
const high = computed(() => props.head.tilts_deg.at(-1) ?? 30)
const top = computed(() => Math.max(props.head.hold_nm * 1.4, ...(step.value?.left_nm ?? []).map(Math.abs)) * 1.08)
const x = (deg: number): number => L + ((deg - low.value) / (high.value - low.value)) * (W - L - 10)
const y = (nm: number): number => (H - B) / 2 - (nm / top.value) * ((H - B) / 2 - 6)
const line = computed(() =>
  (step.value?.left_nm ?? [])
    .map((nm, i) => `${i ? 'L' : 'M'}${x(props.head.tilts_deg[i] ?? 0).toFixed(1)} ${y(nm).toFixed(1)}`)
    .join(''),
)
</script>

<template>
  <div class="head-panel">
    <h3>Moment left over the tilt</h3>
    <p class="head-verdict">
      <b>{{ fixed(step?.worst_nm ?? 0, 1) }}</b> N·m at worst with {{ label }}; its drag holds
      {{ fixed(head.hold_nm, 1) }} N·m
      <small v-if="step?.stays_deg"
        >stays between {{ signed(step.stays_deg[0], 0) }}° and {{ signed(step.stays_deg[1], 0) }}°</small
      ><small v-else>does not stay level</small>
    </p>
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`Moment left over the tilt with ${label}`">
      <rect
        class="holds"
        :x="L"
        :y="y(head.hold_nm)"
        :width="W - L - 10"
        :height="y(-head.hold_nm) - y(head.hold_nm)"
      />
      <line class="base" :x1="L" :x2="W - 10" :y1="y(0)" :y2="y(0)" />
      <line class="base" :x1="x(0)" :x2="x(0)" y1="4" :y2="H - B" />
      <path class="left-over" :d="line" />
      <text :x="L - 4" :y="y(head.hold_nm) + 4" text-anchor="end">{{ fixed(head.hold_nm, 1) }}</text>
      <text :x="L - 4" :y="y(-head.hold_nm) + 4" text-anchor="end">−{{ fixed(head.hold_nm, 1) }}</text>
      <text :x="x(low)" :y="H - 6">{{ signed(low, 0) }}° lens up</text>
      <text :x="x(high)" :y="H - 6" text-anchor="end">lens down {{ signed(high, 0) }}°</text>
    </svg>
    <p class="spring-steps" role="group" aria-label="Counterbalance">
      <BButton v-for="s in head.steps" :key="s.label" :aria-pressed="s.label === label" @click="chosen = s.label">
        {{ s.label }} <b>{{ fixed(s.worst_nm, 1) }}</b>
      </BButton>
    </p>
    <p class="quiet">
      CG {{ fixed(head.high_mm, 0) }} mm above the pivot and {{ fixed(Math.abs(head.ahead_mm), 0) }} mm
      {{ head.ahead_mm >= 0 ? 'ahead of' : 'behind' }} it.
    </p>
  </div>
</template>

<style>
.head-panel svg {
  width: 100%;
  max-height: 190px;
}
.head-panel .holds {
  fill: var(--mark-wash);
}
.head-panel .base {
  stroke: var(--ink-3);
  stroke-width: 1;
}
.head-panel .left-over {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
}
.head-panel text {
  font: var(--t-2) var(--figures);
  fill: var(--ink-2);
}
.spring-steps {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  padding: var(--gap-3) var(--gap-6);
}
.spring-steps b {
  font-family: var(--figures);
}
</style>
