<script setup lang="ts">
import { computed } from 'vue'
import type { DrillView } from '../../api/schema.gen'
import { fixed } from '../../lib/format'

/** Tasks put in an order, one after the other, against the time that is left. */
const props = defineProps<{ view: DrillView; order: readonly string[] }>()
const emit = defineEmits<{ put: [id: string] }>()
const byId = computed(() => new Map(props.view.late.map((t) => [t.id, t])))
const open = computed(() => props.view.late.filter((t) => !props.order.includes(t.id)))
const can = (t: DrillView['late'][number]): boolean => t.after.every((a) => props.order.includes(a))
const line = computed(() => {
  let clock = 0
  return props.order.flatMap((id) => {
    const t = byId.value.get(id)
    if (!t) return []
    const from = clock
    clock += t.minutes
    return [{ ...t, from, to: clock, late: Math.max(0, clock - t.by_min) }]
  })
})
const most = computed(() => props.view.late.reduce((sum, t) => sum + t.minutes, 0))
const x = (min: number): number => (600 * min) / Math.max(1, most.value)
</script>

<template>
  <div class="drill-order">
    <svg viewBox="-4 0 612 64" role="img" :aria-label="`${fixed(view.left_min, 0)} minutes are left`">
      <rect x="0" y="18" :width="x(view.left_min)" height="28" class="left" />
      <g v-for="t in line" :key="t.id">
        <rect
          :x="x(t.from)"
          y="18"
          :width="Math.max(1, x(t.minutes) - 1.5)"
          height="28"
          :class="t.late > 0.05 ? 'late' : 'task'"
        />
        <line :x1="x(t.by_min)" :x2="x(t.by_min)" y1="12" y2="52" class="by" />
      </g>
      <line :x1="x(view.left_min)" :x2="x(view.left_min)" y1="4" y2="60" class="begins" />
      <text :x="Math.min(540, x(view.left_min) + 4)" y="12">begins</text>
    </svg>
    <ol class="put" aria-label="In this order">
      <li v-for="t in line" :key="t.id">
        <button type="button" @click="emit('put', t.id)">
          <b>{{ t.text }}</b>
          <small
            >{{ fixed(t.from, 0) }} to {{ fixed(t.to, 0) }} min{{
              t.late > 0.05 ? `, ${fixed(t.late, 0)} min late` : ''
            }}</small
          >
        </button>
      </li>
    </ol>
    <h3>Still to do</h3>
    <ul aria-label="Still to do">
      <li v-for="t in open" :key="t.id">
        <button type="button" :disabled="!can(t)" @click="emit('put', t.id)">
          <b>{{ t.text }}</b>
          <small
            >{{ fixed(t.minutes, 0) }} min, by minute {{ fixed(t.by_min, 0) }}, {{ t.why
            }}{{ can(t) ? '' : `; after ${t.after.map((a) => byId.get(a)?.text ?? a).join(', ')}` }}</small
          >
        </button>
      </li>
      <li v-if="!open.length" class="quiet">Everything is in the order.</li>
    </ul>
  </div>
</template>

<style>
.drill-order {
  max-width: 760px;
}
.drill-order .left {
  fill: var(--mark-wash);
}
.drill-order .task {
  fill: var(--mark);
}
.drill-order .late {
  fill: var(--stop);
}
.drill-order .by {
  stroke: var(--ink-3);
  stroke-dasharray: 2 2;
}
.drill-order .begins {
  stroke: var(--ink);
  stroke-width: 2;
}
.drill-order text {
  font: 600 11px var(--figures);
  fill: var(--ink-2);
}
.drill-order ol,
.drill-order ul {
  padding-left: var(--gap-9);
}
.drill-order ul {
  list-style: none;
  padding-left: 0;
}
.drill-order button {
  width: 100%;
  min-height: 44px;
  text-align: left;
  border: 1px solid var(--rule);
  background: var(--lift);
  color: inherit;
  margin-bottom: var(--gap-3);
  padding: var(--gap-3) var(--gap-6);
}
.drill-order button:disabled {
  opacity: 0.6;
}
.drill-order small {
  display: block;
  color: var(--ink-3);
}
.drill-order h3 {
  font: 700 var(--t-4) var(--text);
  color: var(--ink);
  padding: 0;
}
</style>
