<script setup lang="ts">
import { computed } from 'vue'
import type { SwapsView } from '../../api/schema.gen'
import { minuteOfDay } from '../../lib/format'

const props = defineProps<{ swaps: SwapsView; chosen: string; by: 'place' | 'pack' }>()
const emit = defineEmits<{ choose: [pack: string] }>()
const share = (minute: number): number => (minute / props.swaps.minutes) * 100
const bar = (from: number, to: number): { left: string; width: string } => ({
  left: `${String(share(from))}%`,
  width: `${String(share(to - from))}%`,
})
const hoursMarks = computed(() => {
  const start = minuteOfDay(props.swaps.starts)
  const found = []
  for (let m = (60 - (start % 60)) % 60; m <= props.swaps.minutes; m += 60)
    found.push({ minute: m, label: String(Math.floor((start + m) / 60) % 24).padStart(2, '0') })
  return found
})
const bays = computed(() => {
  const rows = new Map<string, typeof props.swaps.charges>()
  for (const c of props.swaps.charges)
    rows.set(`${c.charger}, bay ${String(c.bay)}`, [...(rows.get(`${c.charger}, bay ${String(c.bay)}`) ?? []), c])
  for (const g of props.swaps.chargers)
    for (const u of g.units) if (![...rows.keys()].some((k) => k.startsWith(`${u},`))) rows.set(u, [])
  return [...rows.entries()].sort(([a], [b]) => a.localeCompare(b))
})
/** Who has a pack when: the same plan, a row for each pack. */
const packs = computed(() =>
  [
    ...new Set(
      props.swaps.uses.filter((u) => !props.swaps.slots.find((s) => s.id === u.slot)?.built_in).map((u) => u.pack),
    ),
  ].sort((a, b) => a.localeCompare(b, undefined, { numeric: true })),
)
const labelOf = (slot: string): string => props.swaps.slots.find((s) => s.id === slot)?.label ?? slot
const mains = (row: string): [number, number][] =>
  props.swaps.chargers.find((g) => g.units.some((u) => row === u || row.startsWith(`${u},`)))?.open ?? []
</script>

<template>
  <div class="swap-chart">
    <div class="scale">
      <span></span>
      <div class="lane">
        <i v-for="p in swaps.parts" :key="p.id" class="part" :style="bar(p.starts, p.ends)">{{ p.label }}</i>
        <b v-for="h in hoursMarks" :key="h.minute" :style="{ left: `${share(h.minute)}%` }">{{ h.label }}</b>
      </div>
    </div>
    <template v-if="by === 'pack'">
      <div v-for="p in packs" :key="p" class="slot-row">
        <span class="slot-name" :class="{ bring: swaps.uses.some((u) => u.pack === p && u.bring) }">{{ p }}</span>
        <div class="lane">
          <button
            v-for="u in swaps.uses.filter((x) => x.pack === p)"
            :key="u.starts"
            type="button"
            class="use"
            :class="{ bring: u.bring, chosen: p === chosen }"
            :style="bar(u.starts, u.ends)"
            :title="labelOf(u.slot)"
            @click="emit('choose', p)"
          >
            <b>{{ labelOf(u.slot) }}</b><small>{{ Math.round(u.left * 100) }} %</small
            ><u :style="{ width: `${u.left * 100}%` }"></u>
          </button>
          <button
            v-for="c in swaps.charges.filter((x) => x.pack === p)"
            :key="c.starts"
            type="button"
            class="charge"
            :style="bar(c.starts, c.ends)"
            @click="emit('choose', p)"
          >
            {{ c.charger }}
          </button>
        </div>
      </div>
    </template>
    <template v-else>
      <div v-for="s in swaps.slots" :key="s.id" class="slot-row">
        <span class="slot-name">{{ s.label }}</span>
        <div class="lane">
          <i v-for="([a, b], i) in s.on" :key="i" class="on" :style="bar(a, b)"></i>
          <i
            v-for="q in swaps.quiet"
            :key="q.label"
            class="quiet-time"
            :style="bar(q.starts, q.ends)"
            :title="q.label"
          ></i>
          <button
            v-for="u in swaps.uses.filter((x) => x.slot === s.id)"
            :key="u.starts"
            type="button"
            class="use"
            :class="{ bring: u.bring, chosen: u.pack === chosen }"
            :style="bar(u.starts, u.ends)"
            :title="`${u.pack}: ${Math.round(u.left * 100)} % left`"
            @click="emit('choose', u.pack)"
          >
            <b>{{ u.pack }}</b><small>{{ Math.round(u.left * 100) }} %</small
            ><u :style="{ width: `${u.left * 100}%` }"></u>
          </button>
          <i
            v-for="m in swaps.made.filter((x) => x.slot === s.id)"
            :key="m.id"
            class="made"
            :style="{ left: `${share(m.minute)}%` }"
            :title="`made by ${m.actor}`"
          ></i>
        </div>
      </div>
      <div v-for="[name, charges] in bays" :key="name" class="slot-row bay">
        <span class="slot-name">{{ name }}</span>
        <div class="lane">
          <i
            v-for="([a, b], i) in mains(name)"
            :key="i"
            class="mains"
            :style="bar(Math.max(0, a), Math.min(swaps.minutes, b))"
            >{{ i ? '' : 'mains' }}</i
          >
          <button
            v-for="c in charges"
            :key="c.starts"
            type="button"
            class="charge"
            :class="{ chosen: c.pack === chosen }"
            :style="bar(c.starts, c.ends)"
            @click="emit('choose', c.pack)"
          >
            <b>{{ c.pack }}</b>
          </button>
        </div>
      </div>
    </template>
  </div>
</template>

<style>
.swap-chart {
  padding: var(--gap-5) var(--gap-8);
}
.swap-chart > div {
  display: grid;
  grid-template-columns: 132px minmax(0, 1fr);
  align-items: center;
}
.swap-chart .lane {
  position: relative;
  height: 34px;
  border-bottom: 1px solid var(--rule-2);
}
.swap-chart .scale .lane {
  height: 38px;
}
.slot-name {
  font-size: var(--t-2);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  padding-right: var(--gap-5);
}
.swap-chart .lane > * {
  position: absolute;
  top: 0;
  bottom: 0;
}
.swap-chart .part {
  font: 600 var(--t-2) var(--text);
  top: 0;
  bottom: 18px;
  border-left: 2px solid var(--ink-3);
  padding-left: var(--gap-3);
  overflow: hidden;
  white-space: nowrap;
}
.swap-chart .scale b {
  top: 20px;
  font: 400 var(--t-1) var(--figures);
  color: var(--ink-2);
  transform: translateX(-50%);
}
.swap-chart .on {
  background: var(--rule-2);
}
.swap-chart .quiet-time {
  background: repeating-linear-gradient(45deg, transparent 0 3px, var(--ink-3) 3px 4px);
  z-index: 2;
  pointer-events: none;
  opacity: 0.45;
}
.swap-chart .use,
.swap-chart .charge {
  top: 4px;
  bottom: 4px;
  border: 1px solid var(--mark);
  background: var(--lift);
  overflow: hidden;
  padding: 0 var(--gap-4);
  white-space: nowrap;
  font-size: var(--t-2);
  min-height: 0;
}
.swap-chart .use b {
  font: 700 var(--t-2) var(--text);
}
.swap-chart .use small {
  margin-left: var(--gap-4);
  font: 400 var(--t-1) var(--figures);
  color: var(--ink-2);
}
.swap-chart .use u {
  position: absolute;
  left: 0;
  bottom: 0;
  height: 4px;
  background: var(--mark);
}
.swap-chart .use.bring {
  border: 2px dashed var(--stop);
}
.swap-chart .use.bring b {
  color: var(--stop);
}
.swap-chart .chosen {
  background: var(--mark-wash);
}
.swap-chart .mains {
  background: var(--mark-wash);
  font-size: var(--t-1);
  color: var(--ink-2);
  padding: var(--gap-1) var(--gap-4);
  overflow: hidden;
  font-style: normal;
}
.swap-chart .charge {
  border-style: dotted;
}
.swap-chart .made {
  width: 3px;
  background: var(--ink);
  z-index: 3;
}
.slot-name.bring {
  color: var(--stop);
}
@media (max-width: 760px) {
  .swap-chart > div {
    grid-template-columns: 84px minmax(0, 1fr);
  }
  .swap-chart .use small {
    display: none;
  }
}
</style>
