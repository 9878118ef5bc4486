<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, watch } from 'vue'
import { readFreeChannels } from '../../api'
import type { FreeView, SoundView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { counted } from '../../lib/format'
import { useFrame } from '../../stores/frame'

/** Channels on the air in a part of the day on one line of frequencies, the products they make, and which of them fall
 * on a channel; the nearest free set is asked for and taken. */
const props = defineProps<{ job: string; sound: SoundView; air: SoundView['air'][number]; where: string }>()
const frame = useFrame()
const { found: free, problem, loading, load, show } = useLoad<FreeView>()
const low = ref('')
const high = ref('')
watch(
  () => props.air,
  () => {
    show(null)
  },
)

const voiceOf = (id: string): string => props.sound.voices.find((v) => v.id === id)?.label ?? id
const moved = computed(() => (free.value?.channels ?? []).filter((c) => c.khz !== c.now_khz))
const ends = computed(() => {
  const at = [
    ...props.air.channels.map((c) => c[2]),
    ...(free.value?.channels ?? []).map((c) => c.khz),
    ...props.air.products.map((p) => p.khz),
  ]
  const [from, to] = [Math.min(...at), Math.max(...at)]
  const room = Math.max(200, (to - from) * 0.06)
  return { from: from - room, to: to + room }
})
const x = (khz: number): number => ((khz - ends.value.from) / (ends.value.to - ends.value.from)) * 1000
const hit = (khz: number): boolean =>
  [...props.air.products, ...props.air.near].some((p) => p.on_khz === khz) ||
  props.air.near.some((p) => p.of_khz.includes(khz))
const mhz = (khz: number): string => (khz / 1000).toFixed(3)
/** Steps of the line, some eight of them. */
const ticks = computed(() => {
  const wide = ends.value.to - ends.value.from
  const step = [50, 100, 200, 500, 1000, 2000, 5000, 10_000].find((s) => wide / s <= 9) ?? 20_000
  const first = Math.ceil(ends.value.from / step) * step
  return Array.from({ length: Math.floor((ends.value.to - first) / step) + 1 }, (_, i) => first + i * step)
})
/** Names over the line, in rows so that none stands on another. */
const named = computed(() => {
  const rows: number[] = []
  return [...props.air.channels]
    .sort((a, b) => a[2] - b[2])
    .map(([voice, source, khz]) => {
      const at = x(khz)
      let row = rows.findIndex((end) => end < at - 4)
      if (row < 0) row = rows.push(0) - 1
      rows[row] = at + 108
      return { key: `${voice} ${source}`, text: voiceOf(voice), khz, at, row }
    })
})
const tall = computed(() => 44 + 15 * Math.max(1, ...named.value.map((n) => n.row + 1)))
async function take(): Promise<void> {
  await frame.edit({
    op: 'set channels',
    channels: moved.value.map((c) => [c.voice, c.source, c.khz] as [string, string, number]),
  })
}
async function bands(list: { low_khz: number; high_khz: number }[]): Promise<void> {
  if (await frame.edit({ op: 'set bands', bands: list })) low.value = high.value = ''
}
const typed = computed(() => [low.value, high.value].map((t) => Math.round(Number(t.replace(',', '.')) * 1000)))
</script>

<template>
  <section class="radio-strip" aria-label="Radio">
    <header>
      <h2>
        Radio <small>in {{ where }}</small>
      </h2>
      <b v-if="air.products.length || air.near.length" class="hit">{{
        counted(air.products.length + air.near.length, 'disturbance')
      }}</b>
      <b v-else class="clear">nothing disturbs anything</b>
      <BButton :disabled="loading" @click="load(() => readFreeChannels(job))">Nearest free set</BButton>
    </header>
    <svg
      :viewBox="`0 0 1000 ${tall}`"
      role="img"
      :aria-label="air.channels.map((c) => `${voiceOf(c[0])} ${mhz(c[2])} MHz`).join(', ')"
    >
      <g class="scale">
        <line x1="0" x2="1000" :y1="tall - 16" :y2="tall - 16" />
        <g v-for="t in ticks" :key="t">
          <line :x1="x(t)" :x2="x(t)" :y1="tall - 16" :y2="tall - 12" />
          <text :x="x(t)" :y="tall - 2">{{ (t / 1000).toFixed(1) }}</text>
        </g>
      </g>
      <g class="products">
        <circle
          v-for="(p, i) in air.products"
          :key="i"
          :cx="x(p.khz)"
          :cy="tall - 22"
          r="4.5"
          :class="{ on: hit(p.on_khz) }"
        />
      </g>
      <g v-for="n in named" :key="n.key" class="channel" :class="{ hit: hit(n.khz) }">
        <line :x1="n.at" :x2="n.at" :y1="12 + n.row * 15" :y2="tall - 16" />
        <text :x="n.at > 860 ? n.at - 4 : n.at + 4" :y="11 + n.row * 15" :class="{ before: n.at > 860 }">
          {{ n.text }} {{ mhz(n.khz) }}
        </text>
      </g>
      <g v-for="c in moved" :key="c.voice + c.source" class="moves">
        <path :d="`M${x(c.now_khz)} ${tall - 26} L${x(c.khz)} ${tall - 26}`" />
        <path :d="`M${x(c.khz)} ${tall - 26} l${c.khz > c.now_khz ? -7 : 7} -4 v8 Z`" class="head" />
      </g>
    </svg>
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <p v-else-if="free && !free.found" class="hit">
      No set within the bands keeps them apart; fewer at once, or more band.
    </p>
    <div v-else-if="free" class="free-set">
      <template v-if="moved.length">
        <span v-for="c in moved" :key="c.voice + c.source"
          ><b>{{ voiceOf(c.voice) }}</b> {{ c.source }}: {{ mhz(c.now_khz) }} → <b>{{ mhz(c.khz) }}</b></span
        >
        <BButton variant="primary" @click="take">Tune to these</BButton>
      </template>
      <span v-else>They stay where they are.</span>
    </div>
    <form class="bands" @submit.prevent="bands([...sound.bands, { low_khz: typed[0] ?? 0, high_khz: typed[1] ?? 0 }])">
      <span v-if="!sound.bands.length">No band is named: nobody said which may be used here.</span>
      <span v-for="(b, i) in sound.bands" :key="b.low_khz" class="band"
        >{{ mhz(b.low_khz) }} to {{ mhz(b.high_khz) }} MHz
        <BButton
          :aria-label="`No longer ${mhz(b.low_khz)} to ${mhz(b.high_khz)} MHz`"
          @click="bands(sound.bands.filter((_, n) => n !== i))"
          >×</BButton
        ></span
      >
      <input
        v-model="low"
        class="form-control"
        inputmode="decimal"
        placeholder="from MHz"
        aria-label="Band from, MHz"
      />
      <input v-model="high" class="form-control" inputmode="decimal" placeholder="to MHz" aria-label="Band to, MHz" />
      <BButton type="submit" :disabled="!(typed[0] && typed[1])">Add band</BButton>
      <small>Local rules decide which bands may be used.</small>
    </form>
  </section>
</template>

<style>
.radio-strip header {
  display: flex;
  gap: var(--gap-6);
  align-items: baseline;
}
.radio-strip header h2 {
  flex: 1;
}
.radio-strip .hit {
  color: var(--stop);
}
.radio-strip .clear {
  color: var(--ink-2);
  font-weight: 400;
}
.radio-strip svg {
  width: 100%;
  display: block;
}
.radio-strip .scale line {
  stroke: var(--ink-3);
}
.radio-strip .scale text {
  font: 400 10px var(--figures);
  fill: var(--ink-2);
  text-anchor: middle;
}
.radio-strip .channel line {
  stroke: var(--mark);
  stroke-width: 3;
}
.radio-strip .channel text {
  font: 600 11px var(--figures);
  fill: var(--ink);
}
.radio-strip .channel .before {
  text-anchor: end;
}
.radio-strip .channel.hit line {
  stroke: var(--stop);
}
.radio-strip .channel.hit text {
  fill: var(--stop);
}
.radio-strip .products circle {
  fill: none;
  stroke: var(--ink-3);
  stroke-width: 1.5;
}
.radio-strip .products .on {
  stroke: var(--stop);
  stroke-width: 2.2;
}
.radio-strip .moves path {
  stroke: var(--mark);
  stroke-width: 2;
  fill: none;
}
.radio-strip .moves .head {
  fill: var(--mark);
}
.free-set,
.bands {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4) var(--gap-7);
  align-items: center;
  font-size: var(--t-3);
  padding: var(--gap-3) 0;
}
.free-set b {
  font-family: var(--figures);
}
.bands .form-control {
  width: 92px;
}
.bands small {
  color: var(--ink-2);
}
</style>
