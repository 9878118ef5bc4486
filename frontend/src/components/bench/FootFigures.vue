<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import { fixed, grams, hours, signed } from '../../lib/format'
import { useBench } from '../../stores/bench'
import WorkingView from '../frame/WorkingView.vue'

const bench = useBench()
const opened = ref('')
const f = computed(() => bench.view?.figures ?? null)

interface Figure {
  key: string
  name: string
  value: string
  unit: string
  more: string
  change: string
  bad: boolean
}

function change(now: number, key: (old: NonNullable<typeof bench.before>) => number | null, digits: number): string {
  const old = bench.before ? key(bench.before) : null
  if (old === null || Math.abs(now - old) < 0.5 * 10 ** -digits) return ''
  return signed(now - old, digits)
}

const figures = computed<Figure[]>(() => {
  const v = f.value
  if (!v) return []
  const on = v.support ? `on ${v.support}` : 'in the hand'
  const head =
    v.headroom_g === null
      ? `all ${grams(v.total_g)} g`
      : v.headroom_g >= 0
        ? `${grams(v.headroom_g)} g headroom`
        : `${grams(-v.headroom_g)} g too much`
  return [
    {
      key: 'mass',
      name: `Mass ${on}`,
      value: grams(v.payload_g),
      unit: `g ± ${grams(v.payload_sd_g)}`,
      more: `${head} · carried ${grams(v.total_g)} g, ${fixed(v.total_lb, 2)} lb${
        v.worn_g > 0 ? ` · on the operator ${grams(v.worn_g)} g` : ''
      }`,
      change: change(v.payload_g, (o) => o.payload_g, 0),
      bad: (v.headroom_g ?? 0) < 0,
    },
    {
      key: 'front',
      name: 'Front-heaviness',
      value: signed(v.front_nm, 2),
      unit: 'N·m',
      more: v.front_word,
      change: change(v.front_nm, (o) => o.front_nm, 2),
      bad: false,
    },
    {
      key: 'cg',
      name: 'CG from film plane',
      value: signed(v.cg_mm[0], 1),
      unit: `mm ± ${fixed(v.cg_sd_mm[0], 1)}`,
      more: `left ${signed(v.cg_mm[1], 1)} · up ${signed(v.cg_mm[2], 1)} mm`,
      change: change(v.cg_mm[0], (o) => o.cg_mm[0], 1),
      bad: false,
    },
    {
      key: 'draw',
      name: 'Draw',
      value: fixed(v.draw_w, 1),
      unit: 'W',
      more: v.packs.length > 1 ? v.packs.map((p) => `${p.pack} ${fixed(p.load_w, 1)}`).join(' · ') : 'recording',
      change: change(v.draw_w, (o) => o.draw_w, 1),
      bad: false,
    },
    {
      key: 'hours',
      name: 'Runtime without a swap',
      value: hours(v.hours),
      unit: 'h',
      more: `of ${hours(v.hours_needed)} h · ${v.first_empty ?? 'no pack'} first`,
      change: v.hours === null ? '' : change(v.hours, (o) => o.hours ?? null, 2),
      bad: v.short,
    },
    {
      key: 'cost',
      name: 'Cost',
      value: fixed(v.cost_per_day, 0),
      unit: `${v.currency} a day`,
      more: `worth ${grams(v.value)}${v.cost_unknown.length ? ` · ${String(v.cost_unknown.length)} unpriced` : ''}`,
      change: change(v.cost_per_day, (o) => o.cost_per_day, 0),
      bad: false,
    },
  ]
})
const working = computed(() => f.value?.working[opened.value] ?? null)
</script>

<template>
  <footer class="foot" aria-label="Figures">
    <div v-if="working" class="open-working">
      <BButton @click="opened = ''">Close</BButton>
      <WorkingView :working="working" />
    </div>
    <button
      v-for="x in figures"
      :key="x.key"
      type="button"
      class="figure"
      :class="{ bad: x.bad }"
      :aria-expanded="opened === x.key"
      :title="'Show the working'"
      @click="opened = opened === x.key ? '' : x.key"
    >
      <span class="name"
        ><span>{{ x.name }}</span
        ><i v-if="x.change">{{ x.change }}</i></span
      >
      <span class="value"
        ><b>{{ x.value }}</b> <span>{{ x.unit }}</span></span
      >
      <span class="more">{{ x.more }}</span>
    </button>
  </footer>
</template>

<style>
.foot {
  grid-area: foot;
  position: relative;
  display: grid;
  grid-template-columns: 1.5fr 1fr 1.15fr 1fr 1.1fr 1fr;
  border-top: 1px solid var(--rule);
  background: var(--lift);
}
.figure {
  padding: var(--gap-4) var(--gap-7) var(--gap-5);
  border-right: 1px solid var(--rule-2);
  min-width: 0;
}
.figure:hover {
  background: var(--sheet);
}
.figure .name {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-4);
  align-items: baseline;
  font-size: var(--t-2);
  color: var(--ink-2);
  white-space: nowrap;
}
.figure .name span {
  overflow: hidden;
  text-overflow: ellipsis;
}
.figure .value {
  display: flex;
  gap: var(--gap-4);
  align-items: baseline;
  white-space: nowrap;
}
.figure .value b {
  font: 600 var(--t-7)/1.1 var(--figures);
  letter-spacing: -0.05em;
}
.figure .value span {
  color: var(--ink-2);
  font-size: var(--t-4);
}
.figure .name i {
  font: 600 var(--t-3)/1 var(--figures);
  color: var(--mark);
  font-style: normal;
}
.figure .more {
  display: block;
  font-size: var(--t-2);
  color: var(--ink-2);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.figure.bad .value b {
  color: var(--stop);
}
.open-working {
  position: absolute;
  bottom: 100%;
  left: 0;
  width: min(560px, 100%);
  max-height: 52vh;
  overflow-y: auto;
  background: var(--lift);
  border: 1px solid var(--rule);
  padding: var(--gap-5) var(--gap-7);
  z-index: 5;
}
.open-working .btn {
  float: right;
}
@media (max-width: 760px) {
  .foot {
    position: fixed;
    inset: auto 0 52px;
    z-index: 10;
    display: flex;
    overflow-x: auto;
    scrollbar-width: none;
  }
  .figure {
    flex: 0 0 auto;
    padding: var(--gap-4) var(--gap-7);
  }
  .figure .value b {
    font-size: var(--t-6);
  }
  .figure .more {
    display: none;
  }
  .figure:first-of-type .value {
    max-width: 200px;
  }
  .open-working {
    position: fixed;
    bottom: 118px;
  }
}
</style>
