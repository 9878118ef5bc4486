<script setup lang="ts">
import { computed, ref } from 'vue'
import { fixed, grams, hours, signed } from '../lib/format'
import { useBench } from '../stores/bench'
import WorkingView from './WorkingView.vue'

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
      more: `${head} · carried ${grams(v.total_g)} g, ${fixed(v.total_lb, 2)} lb`,
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
      name: 'Hours untouched',
      value: hours(v.hours),
      unit: 'h',
      more: `of ${hours(v.hours_needed)} h · ${v.first_empty ?? 'no pack'} first`,
      change: v.hours === null ? '' : change(v.hours, (o) => o.hours ?? null, 2),
      bad: v.hours !== null && v.hours < v.hours_needed,
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
      <button type="button" class="small-act" @click="opened = ''">Close</button>
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
