<script setup lang="ts">
import { computed, watch } from 'vue'
import { readLevellers, type Operation, type Place } from '../../api'
import type { HandsReport, HeadReport, LevellersView, Leveller, SeeSawReport, TipOver } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { fixed, grams, hours, signed } from '../../lib/format'
import { useBench } from '../../stores/bench'
import HeadPanel from './HeadPanel.vue'
import HoldTimes from './HoldTimes.vue'
import StandPanel from './StandPanel.vue'

const props = defineProps<{
  saw: SeeSawReport
  place: Place
  head: HeadReport | null
  stand: TipOver | null
  hands: HandsReport
}>()
const emit = defineEmits<{ taken: []; grip: [grip: string] }>()
const bench = useBench()
const { found: levellers, problem, load, show } = useLoad<LevellersView>()

watch(
  () => props.saw,
  async () => {
    show(null)
    await load(() => readLevellers(props.place))
  },
  { immediate: true },
)

const [W, H, Y] = [900, 270, 172]
const most = computed(
  () =>
    Math.max(
      120,
      ...props.saw.arms.map((a) => Math.abs(a.from_support_mm)),
      Math.abs((props.saw.grip_x_mm ?? 0) - props.saw.pad_x_mm),
    ) * 1.1,
)
/** Forward is to the left, as in the side elevation. */
const x = (mm: number): number => W / 2 - (mm / most.value) * (W / 2 - 30)
/** The beam leans as far as the rig would have to be tipped for its CG to stand over the support; drawn no further than there is room. */
const tilt = computed(() => Math.max(-9, Math.min(9, -props.saw.tips_deg)))
const arms = computed(() =>
  props.saw.arms.slice(0, 12).map((a) => ({ ...a, x: x(a.from_support_mm), size: 6 + Math.sqrt(a.mass_g) * 1.15 })),
)
/** The heaviest by name, in rows above the tallest box, so that no two names meet. */
const names = computed(() => {
  const floor = Y - 16 - Math.max(0, ...arms.value.map((a) => a.size))
  const ends: number[] = []
  return [...arms.value.slice(0, 6)]
    .sort((a, b) => a.x - b.x)
    .map((a) => {
      const half = a.unit.length * 4.7 + 3
      const free = ends.findIndex((end) => a.x - half > end)
      const row = free < 0 ? ends.length : free
      ends[row] = a.x + half
      return { ...a, y: floor - row * 17 }
    })
})
const SUPPORT: Record<string, string> = { shoulder: 'pad', head: 'pivot', hand: 'palm' }

async function take(l: Leveller): Promise<void> {
  await bench.open(props.place)
  if (await bench.edit(...(l.operations as Operation[]))) emit('taken')
}
</script>

<template>
  <section class="balance-main see-saw">
    <h2 class="visually-hidden">On the see-saw</h2>
    <div class="verdict-line">
      <p>
        <b>{{ signed(saw.moment_nm, 2) }}</b> N·m about the {{ SUPPORT[saw.kind] ?? 'support' }}, {{ saw.verdict
        }}<small v-if="Math.abs(saw.tips_deg) >= 0.5">
          · level when tipped {{ fixed(Math.abs(saw.tips_deg), 0) }}° {{ saw.tips_deg > 0 ? 'back' : 'forward' }}</small
        >
      </p>
      <p v-if="saw.hands_g !== null">
        <b>{{ grams(saw.hands_g) }}</b> g on the hands at {{ saw.grip
        }}<small v-if="(saw.hands_signed_g ?? 0) < 0"> · they hold the front down</small>
      </p>
    </div>
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" aria-label="Parts on the see-saw by their distance from the support">
      <g :transform="`rotate(${tilt} ${W / 2} ${Y})`">
        <line class="beam" x1="20" :x2="W - 20" :y1="Y" :y2="Y" />
        <g v-for="a in arms" :key="a.unit" class="weight">
          <rect :x="a.x - a.size / 2" :y="Y - 2 - a.size" :width="a.size" :height="a.size" />
          <title>{{ a.unit }}: {{ grams(a.mass_g) }} g at {{ signed(a.from_support_mm, 0) }} mm</title>
        </g>
        <g v-for="a in names" :key="`t${a.unit}`" class="weight-name">
          <path :d="`M${a.x} ${a.y + 3}V${Y - 2 - a.size}`" />
          <text :x="a.x" :y="a.y">{{ a.unit }}</text>
        </g>
        <path class="cg-drop" :d="`M${x(saw.cg_x_mm - saw.pad_x_mm)} ${Y + 2}v18`" />
        <path
          v-if="saw.grip_x_mm !== null"
          class="grip-mark"
          :d="`M${x(saw.grip_x_mm - saw.pad_x_mm)} ${Y + 2}l-9 17h18z`"
        />
      </g>
      <path class="fulcrum" :d="`M${W / 2} ${Y + 2}l-30 74h60z`" />
      <text class="fulcrum-name" :x="W / 2" :y="H - 32">{{ SUPPORT[saw.kind] ?? 'support' }}</text>
      <text class="end" x="24" :y="H - 6">front</text>
      <text class="end" :x="W - 24" :y="H - 6" text-anchor="end">rear</text>
    </svg>
    <div class="under">
      <div>
        <h3>Greatest moments</h3>
        <p v-for="a in saw.arms.slice(0, 7)" :key="a.unit" class="arm-line">
          <span>{{ a.unit }}</span><span>{{ grams(a.mass_g) }} g</span><span>{{ signed(a.from_support_mm, 0) }} mm</span
          ><b>{{ signed(a.moment_nm, 2) }} N·m</b>
        </p>
        <HoldTimes :hands="hands" :twists="saw.twists" @choose="emit('grip', $event)" />
        <StandPanel v-if="stand" :stand="stand" />
      </div>
      <div>
        <HeadPanel v-if="head" :head="head" />
        <h3>Ways to level it</h3>
        <p v-if="problem" class="trouble">{{ problem.message }}</p>
        <p v-else-if="!levellers" class="quiet">Trying slides, packs and counterweights…</p>
        <p v-else-if="!levellers.found.length" class="quiet">
          No slide on it and nothing free on the shelf makes it more level.
        </p>
        <button v-for="l in levellers?.found ?? []" :key="l.title" type="button" class="remedy" @click="take(l)">
          <span class="what">{{ l.title }}</span>
          <span class="effect"
            ><span class="sums"
              ><span>{{ signed(l.front_nm, 2) }} N·m</span><span>{{ signed(l.mass_g, 0) }} g</span
              ><span>{{ hours(l.hours) }} h</span></span
            ><span v-for="wrong in l.brings" :key="wrong" class="brings">{{ wrong }}</span></span
          >
        </button>
      </div>
    </div>
    <slot></slot>
  </section>
</template>

<style>
.see-saw svg {
  width: 100%;
  display: block;
  background: var(--sheet);
}
.beam {
  stroke: var(--ink);
  stroke-width: 4;
}
.weight rect {
  fill: var(--p-body);
  stroke: var(--p-line);
  stroke-width: 1;
  fill-opacity: 0.85;
}
.weight-name path {
  stroke: var(--ink-3);
  stroke-width: 1;
}
.weight-name text {
  font: 600 var(--t-4) var(--figures);
  fill: var(--ink);
  text-anchor: middle;
}
.fulcrum {
  fill: var(--ink);
}
.fulcrum-name,
.see-saw .end {
  font: 400 var(--t-4) var(--text);
  fill: var(--ink-2);
}
.fulcrum-name {
  text-anchor: middle;
  fill: var(--ground);
}
.cg-drop {
  stroke: var(--stop);
  stroke-width: 4;
}
.grip-mark {
  fill: var(--mark);
}
</style>
