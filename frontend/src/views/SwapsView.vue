<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { dropSwap, noteSwap, PLAN, readCharger, readSwaps, swapsAddress, type WhatIf } from '../api'
import { KEPT_HERE, type Problem } from '../api/client'
import type { ChargerReadView, MadeRequest, SwapsView } from '../api/schema.gen'
import ChoiceField from '../components/fields/ChoiceField.vue'
import NumberField from '../components/fields/NumberField.vue'
import FrameShell from '../components/frame/FrameShell.vue'
import LevelMark from '../components/frame/LevelMark.vue'
import SwapCards from '../components/swaps/SwapCards.vue'
import SwapTimeline from '../components/swaps/SwapTimeline.vue'
import UnplannedSwap from '../components/swaps/UnplannedSwap.vue'
import type { KeyLine } from '../composables/useKeys'
import { useLoad } from '../composables/useLoad'
import { clock, fixed } from '../lib/format'
import { useJob } from '../stores/job'

const props = defineProps<{ job: string; part: string; rig: string }>()
const router = useRouter()
const frame = useJob()
const here = computed(() => ({ job: props.job, part: props.part, rig: props.rig }))
const what = reactive<WhatIf>({ ...PLAN })
const differs = computed(() => JSON.stringify(what) !== JSON.stringify(PLAN))
const { found, problem, steps } = useLoad<SwapsView>(['build', 'job', 'jobs', 'shelf', 'swaps'])
/** The day as planned, to be seen beside what if. */
const planned = shallowRef<SwapsView | null>(null)
const chosen = ref('')
const only = ref(false)
const who = ref('')
const by = ref<'place' | 'pack'>('place')
const busy = ref(false)

/** Asks until the plan is done; the best so far is shown meanwhile. */
async function load(first?: Promise<SwapsView>): Promise<void> {
  let counted = false
  let answer = first
  await steps(
    async () => {
      // What was answered once is old when the same is asked again.
      const came = answer
      answer = undefined
      const value = await (came ?? readSwaps(props.job, props.part, { ...what }))
      return { value, last: !value.working }
    },
    250,
    (next) => {
      if (!differs.value) planned.value = next
      if (counted || (!next.cures.length && next.working)) return
      counted = true
      void frame.look(props.job, props.part)
    },
  )
}
watch(
  [() => props.job, () => props.part],
  () => {
    Object.assign(what, PLAN)
    planned.value = null
    void load()
  },
  { immediate: true },
)
function suppose(change: Partial<WhatIf>): void {
  Object.assign(what, change)
  void load()
}
const kept = ref('')
/** Notes a swap or takes one back; what is refused is told where it was typed. */
async function change(call: Promise<SwapsView | null>): Promise<Problem | null> {
  busy.value = true
  try {
    const now = await call
    kept.value = now ? '' : KEPT_HERE
    if (now) void load(Promise.resolve(now))
    return null
  } catch (error) {
    return error as Problem
  } finally {
    busy.value = false
  }
}
const note = (swap: MadeRequest): Promise<Problem | null> => change(noteSwap(props.job, props.part, swap))
const drop = (id: number): Promise<Problem | null> => change(dropSwap(props.job, props.part, id))

function print(): void {
  window.print()
}

const { found: charger, problem: chargerTrouble, load: readBays } = useLoad<ChargerReadView>()
const look = () => readBays(() => readCharger(props.job))

const packs = computed(() => [
  { value: '', text: 'none' },
  ...[...new Set((planned.value ?? found.value)?.uses.filter((u) => !u.bring).map((u) => u.pack))]
    .sort()
    .map((pack) => ({ value: pack, text: pack })),
])
const keys: KeyLine[] = [
  { keys: 'd', does: 'the chain of the camera', run: () => router.push({ name: 'power', params: here.value }) },
  {
    keys: 'o',
    does: 'this camera’s swaps only',
    run: () => {
      only.value = !only.value
    },
  },
  {
    keys: 'b',
    does: 'by pack: who has it when',
    run: () => {
      by.value = by.value === 'pack' ? 'place' : 'pack'
    },
  },
  {
    keys: 'w',
    does: 'no mains, and back',
    run: () => {
      suppose({ mains: !what.mains })
    },
  },
  {
    keys: 't',
    does: 'ten degrees colder, and back',
    run: () => {
      suppose({ colder: what.colder ? 0 : 10 })
    },
  },
  { keys: 'p', does: 'print the swap card', run: print },
  { keys: 'Escape', does: 'to the Bench', run: () => router.push({ name: 'bench', params: here.value }) },
]
</script>

<template>
  <FrameShell :job="job" :part="part" :rig="rig" place="swaps" :keys="keys" :findables="() => []">
    <main class="swaps">
      <h1 class="visually-hidden">The day’s swaps</h1>
      <p v-if="problem" class="trouble" role="alert">{{ problem.message }} <BButton @click="load()">Retry</BButton></p>
      <template v-if="found">
        <section class="swaps-main">
          <header class="swaps-head">
            <p class="swaps-verdict" :class="found.verdict_level">
              <LevelMark :level="found.verdict_level" :size="28" /><b>{{ found.verdict }}</b>
            </p>
            <p class="swaps-sum">
              <b>{{ found.packs }}</b> packs, {{ found.owned }} here, <b>{{ found.swaps }}</b> swaps<small>{{
                found.working
                  ? 'still looking for better'
                  : found.proven
                    ? 'fewest packs, proven'
                    : `best found, at least ${found.least} are needed`
              }}</small>
            </p>
            <p v-if="differs && planned" class="swaps-sum beside">
              <b>{{ planned.packs }}</b> packs, <b>{{ planned.swaps }}</b> swaps<small>as planned</small>
            </p>
            <BButton @click="router.push({ name: 'power', params: here })"> The chain </BButton>
          </header>
          <div class="what-if" role="group" aria-label="What if">
            <b>What if</b>
            <BButton :aria-pressed="!what.mains" @click="suppose({ mains: !what.mains })"> no mains </BButton>
            <BButton :aria-pressed="what.colder > 0" @click="suppose({ colder: what.colder ? 0 : 10 })">
              10 °C colder
            </BButton>
            <BButton :aria-pressed="what.late > 0" @click="suppose({ late: what.late ? 0 : 90 })">
              90 min late
            </BButton>
            <label
              >monitors at
              <NumberField
                :model-value="Math.round(what.monitors * 100)"
                min="10"
                max="100"
                step="10"
                aria-label="Monitors, percent of their draw"
                :commit="(part) => suppose({ monitors: Math.min(1, Math.max(0.1, part / 100)) })"
              />
              %</label
            >
            <label
              >dead
              <ChoiceField
                :model-value="what.dead"
                aria-label="A pack that is dead"
                :choices="packs"
                :commit="(dead: string) => suppose({ dead })"
            /></label>
            <BButton v-if="differs" @click="suppose(PLAN)">As planned</BButton>
            <BButton class="by-pack" :aria-pressed="by === 'pack'" @click="by = by === 'pack' ? 'place' : 'pack'">
              by pack
            </BButton>
          </div>
          <SwapTimeline :swaps="found" :chosen="chosen" :by="by" @choose="chosen = chosen === $event ? '' : $event" />
          <div class="bays">
            <BButton @click="look">Read the charger</BButton>
            <span v-if="chargerTrouble" class="trouble" role="alert">{{ chargerTrouble.message }}</span>
            <template v-if="charger"
              ><b>{{ charger.name }}</b
              ><span v-for="b in charger.bays" :key="b.bay" class="bay-now"
                ><small>bay {{ b.bay }}</small> {{ b.state
                }}<template v-if="b.state !== 'empty'"
                  >{{ ' ' }} <b>{{ Math.round(b.charge * 100) }} %</b> {{ Math.round(b.watts) }} W</template
                ></span
              ></template
            >
          </div>
          <div v-if="found.cures.length" class="cures">
            <h3>Fixes, each re-planned</h3>
            <p v-for="c in found.cures" :key="c.title" :class="{ works: c.works }">
              <LevelMark :level="c.works ? 'clear' : 'note'" :size="14" /> {{ c.title }}
              <b>{{ c.works ? 'then the day holds' : c.bring ? `still ${c.bring} short` : 'not enough by itself' }}</b>
            </p>
          </div>
          <div class="families">
            <p v-for="f in found.families" :key="f.models.join()">
              <b>{{ f.packs }}</b><span
                >{{ f.models.join(', ') }}
                <small
                  >{{ Math.round(f.energy_wh) }} Wh<template v-if="f.mass_g !== null"
                    >, {{ fixed(f.mass_g / 1000, 1) }} kg in the bag</template
                  ></small
                ></span
              ><span>for {{ f.at_once }} at once from {{ clock(f.starts) }}: {{ f.wanted_by.join(', ') }}</span>
            </p>
          </div>
          <div class="swap-findings">
            <p v-for="f in found.findings" :key="f.key" :class="f.level">
              <LevelMark :level="f.level" :size="14" /> {{ f.text }}
            </p>
            <p v-for="w in found.warnings" :key="w" class="note">{{ w }}</p>
          </div>
        </section>
        <section class="swaps-side">
          <header>
            <h2>Swap card</h2>
            <BButton :aria-pressed="only" @click="only = !only">this camera</BButton>
            <ChoiceField
              v-if="found.people.length > 1"
              v-model="who"
              aria-label="Whose card"
              :choices="[
                { value: '', text: 'everybody' },
                ...found.people.map((name) => ({ value: name, text: name })),
              ]"
            />
          </header>
          <p v-if="kept" role="status">{{ kept }}</p>
          <SwapCards :swaps="found" :rig="rig" :only="only" :who="who" :busy="busy" :note="note" :drop="drop" />
          <UnplannedSwap :swaps="found" :busy="busy" :note="note" :drop="drop" />
          <p class="take-along">
            All swaps as <BLink class="btn btn-secondary" :href="swapsAddress(job, part, 'ics')">calendar</BLink
            ><BLink class="btn btn-secondary" :href="swapsAddress(job, part, 'csv')">CSV</BLink
            ><BButton @click="print">print</BButton>
          </p>
        </section>
      </template>
      <p v-else-if="!problem" class="quiet">Planning the day’s swaps…</p>
    </main>
  </FrameShell>
</template>

<style>
.bay-now {
  border-left: 3px solid var(--mark);
  padding-left: var(--gap-5);
}
.bay-now small {
  color: var(--ink-2);
}
.swaps-verdict {
  display: flex;
  gap: var(--gap-5);
  align-items: center;
}
.swaps-verdict b {
  font: 700 var(--t-7)/1.1 var(--text);
}
.swaps-verdict.stop {
  color: var(--stop);
}
.swaps-sum small {
  display: block;
  color: var(--ink-2);
  font-size: var(--t-2);
}
.swaps-sum.beside {
  border-left: 3px solid var(--rule);
  padding-left: var(--gap-6);
  opacity: 0.8;
}
.swaps-head .btn {
  margin-left: auto;
}
.what-if {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4) var(--gap-6);
  align-items: center;
  padding: var(--gap-4) var(--gap-8);
  border-bottom: 1px solid var(--rule-2);
  font-size: var(--t-3);
}
.what-if input {
  width: 54px;
}
.what-if input,
.what-if select {
  font: 600 var(--t-3) var(--figures);
  min-height: 28px;
}
.cures {
  padding: var(--gap-3) var(--gap-8);
}
.cures p,
.swap-findings p {
  font-size: var(--t-3);
  padding: var(--gap-2) 0;
  display: flex;
  gap: var(--gap-5);
  align-items: baseline;
}
.cures b {
  margin-left: auto;
  white-space: nowrap;
}
.cures .works b {
  color: var(--mark);
}
.swap-findings {
  padding: var(--gap-4) var(--gap-8) var(--gap-7);
}
.swap-findings .stop {
  color: var(--stop);
}
.swap-findings .watch {
  color: var(--watch);
}
.families {
  padding: var(--gap-3) var(--gap-8);
  border-top: 1px solid var(--rule-2);
}
.families p {
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr) minmax(0, 1fr);
  gap: var(--gap-3) var(--gap-7);
  align-items: baseline;
  font-size: var(--t-3);
  padding: var(--gap-2) 0;
}
.families b {
  font: 700 var(--t-6)/1 var(--figures);
}
.families small {
  color: var(--ink-2);
}
.what-if .by-pack {
  margin-left: auto;
}
.swaps-side {
  border-left: 1px solid var(--rule);
  overflow-y: auto;
}
.swaps-side header {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
  align-items: center;
  padding: var(--gap-5) var(--gap-7);
  background: var(--lift);
  position: sticky;
  top: 0;
  z-index: 2;
}
.swaps-side h2 {
  font: 600 var(--t-5) var(--text);
  margin: 0 auto 0 0;
}
.take-along a.btn {
  text-decoration: none;
  color: inherit;
}
.take-along {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
  padding: var(--gap-6) var(--gap-7);
  font-size: var(--t-3);
}
@media (max-width: 760px) {
  .swaps-main,
  .swaps-side {
    overflow: visible;
    border: 0;
  }
  .swaps .swaps-main {
    display: contents;
  }
  .swaps .swaps-head {
    order: -2;
  }
  .swaps .swaps-side {
    order: -1;
  }
  .families p {
    grid-template-columns: 34px minmax(0, 1fr);
  }
  .families span + span {
    grid-column: 2;
  }
}
@media print {
  .at-swaps .swaps-main,
  .at-swaps .take-along {
    display: none;
  }
  .at-swaps .swaps-side {
    overflow: visible;
    border: 0;
  }
}
</style>
