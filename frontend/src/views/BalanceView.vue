<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { dropBalance, readBalance, recordBalance, touchBalance } from '../api'
import { KEPT_HERE, type Problem } from '../api/client'
import type { BalanceView, RecordRequest } from '../api/schema.gen'
import BalanceCards from '../components/balance/BalanceCards.vue'
import EarlierBalances from '../components/balance/EarlierBalances.vue'
import HoldTimes from '../components/balance/HoldTimes.vue'
import MotorLoads from '../components/balance/MotorLoads.vue'
import MountPanel from '../components/balance/MountPanel.vue'
import ReachArcs from '../components/balance/ReachArcs.vue'
import SeeSaw from '../components/balance/SeeSaw.vue'
import SupportsCompared from '../components/balance/SupportsCompared.vue'
import SlideScale from '../components/balance/SlideScale.vue'
import ZoomChart from '../components/balance/ZoomChart.vue'
import ElevationPanel from '../components/bench/ElevationPanel.vue'
import StandsAgainst from '../components/bench/StandsAgainst.vue'
import FrameShell from '../components/frame/FrameShell.vue'
import type { KeyLine } from '../composables/useKeys'
import { useLoad } from '../composables/useLoad'
import { fixed, grams, hours, signed } from '../lib/format'
import { useBench } from '../stores/bench'

const props = defineProps<{ job: string; part: string; rig: string }>()
const router = useRouter()
const bench = useBench()
const opened = ref('')
const { found, problem, load, show } = useLoad<BalanceView>(['build', 'job', 'jobs', 'shelf', 'balance'])
const order = ref<'' | 'tilt first' | 'roll first'>('')
const ends = shallowRef<[number, number] | null>(null)
const side = ref<'loads' | 'cards'>('loads')
const here = computed(() => ({ job: props.job, part: props.part, rig: props.rig }))

const look = () => load(() => readBalance(here.value, order.value, ends.value))
watch([here, order, ends], look, { immediate: true })

const kept = ref('')
function shownOrKept(now: BalanceView | null): void {
  if (now) show(now)
  kept.value = now ? '' : KEPT_HERE
}
async function record(body: Omit<RecordRequest, 'version'>): Promise<void> {
  if (!found.value) return
  try {
    shownOrKept(await recordBalance(here.value, { ...body, version: found.value.version }))
    side.value = 'loads'
  } catch (error) {
    problem.value = error as Problem
  }
}

/** The last balance that was not removed. */
const latest = computed(() => found.value?.gimbal?.records.find((r) => !r.removed) ?? null)
async function removeBalance(id: number, removed: boolean): Promise<void> {
  try {
    show(await dropBalance(here.value, id, removed))
  } catch (error) {
    problem.value = error as Problem
  }
}

async function touch(thing: string): Promise<void> {
  const last = latest.value
  if (!last) return
  try {
    shownOrKept(await touchBalance(here.value, last.id, thing, !last.touched.includes(thing)))
  } catch (error) {
    problem.value = error as Problem
  }
}

/** How hands hold it is part of the build, and can be undone there. */
async function holdAs(grip: string): Promise<void> {
  await bench.open(here.value)
  if (await bench.edit({ op: 'grip', grip })) await look()
}

/** Where an axis is turned to and something hits, when that is looked at. */
const at = ref('')
const risk = computed(() => {
  const [axis, end] = at.value.split(' ')
  const reach = found.value?.gimbal?.reaches.find((r) => r.axis === axis)
  if (!reach) return null
  const low = end === 'low'
  const [drawing, hits] = low ? [reach.at_low, reach.low_hits] : [reach.at_high, reach.high_hits]
  if (!drawing) return null
  return {
    axis,
    deg: low ? reach.low_deg : reach.high_deg,
    word: reach.words[low ? 0 : 1],
    hits,
    drawing,
    flagged: Object.fromEntries(hits.map((h) => [h, 'stop'])),
  }
})

const STATES = {
  never: 'never balanced as it is',
  good: 'balanced as it is',
  stale: 'changed since it was balanced',
} as const
const NAMES: Record<string, string> = {
  fore_aft: 'tilt fore-aft',
  vertical: 'tilt vertical',
  lateral: 'roll',
  pan: 'pan',
}
function turnOn(): void {
  const ends = (found.value?.gimbal?.reaches ?? []).flatMap((r) => [
    ...(r.at_low ? [`${r.axis} low`] : []),
    ...(r.at_high ? [`${r.axis} high`] : []),
  ])
  at.value = ends[ends.indexOf(at.value) + 1] ?? ''
}
const keys: KeyLine[] = [
  {
    keys: 's',
    does: 'step cards, and back',
    run: () => {
      side.value = side.value === 'cards' ? 'loads' : 'cards'
    },
  },
  {
    keys: 'o',
    does: 'the other order of work',
    run: () => {
      order.value = found.value?.gimbal?.order === 'tilt first' ? 'roll first' : 'tilt first'
    },
  },
  { keys: 'h', does: 'draw where it hits, one after the other', run: turnOn },
  { keys: 'Escape', does: 'to the Bench', run: () => router.push({ name: 'bench', params: here.value }) },
]
</script>

<template>
  <FrameShell :job="job" :part="part" :rig="rig" place="balance" :keys="keys" :findables="() => []">
    <main class="balance" :class="{ 'at-cards': side === 'cards' && found?.gimbal }">
      <p v-if="problem" class="trouble" role="alert">{{ problem.message }} <BButton @click="look">Retry</BButton></p>
      <p v-if="kept" role="status">{{ kept }}</p>
      <template v-if="found">
        <section class="balance-draw">
          <header>
            <h1>
              <b>{{ found.rig_label }}</b> {{ found.build_label }} <span>on {{ found.support ?? 'the hand' }}</span>
            </h1>
            <p>
              {{ grams(found.payload_g) }} g ± {{ grams(found.payload_sd_g)
              }}<template v-if="found.payload_limit_g !== null"> of {{ grams(found.payload_limit_g) }} g</template>
            </p>
          </header>
          <p v-if="risk" class="risk" role="status">
            <b>{{ risk.axis }} {{ fixed(Math.abs(risk.deg), 0) }}° {{ risk.word }}</b> {{ risk.hits.join(' meets ') }}
            <BButton @click="at = ''">Level again</BButton>
          </p>
          <ElevationPanel
            :drawing="risk?.drawing ?? found.side"
            selected=""
            :slides="{}"
            :flagged="risk?.flagged ?? {}"
          />
          <ReachArcs v-if="found.gimbal" :reaches="found.gimbal.reaches" :shown="at" @show="at = $event" />
        </section>
        <section v-if="found.gimbal" class="balance-main">
          <h2 class="visually-hidden">Slides and motors</h2>
          <div class="state" :class="found.gimbal.state">
            <b>{{ STATES[found.gimbal.state] }}</b>
            <span v-if="latest">last set {{ latest.at.slice(0, 16).replace('T', ' ') }} by {{ latest.actor }}</span>
            <BButton :aria-pressed="side === 'cards'" @click="side = side === 'cards' ? 'loads' : 'cards'">
              {{ side === 'cards' ? 'Back to the figures' : 'Step cards' }}
            </BButton>
          </div>
          <p v-if="latest && side === 'loads'" class="touched">
            Changed since:
            <BButton
              v-for="t in found.gimbal.touchable"
              :key="t"
              :aria-pressed="latest.touched.includes(t)"
              @click="touch(t)"
              >{{ t }}</BButton
            >
          </p>
          <ul v-if="found.gimbal.changes.length" class="changes">
            <li v-for="c in found.gimbal.changes" :key="c.text">
              <b>{{ c.text }}</b>
              <span v-if="!c.axes.length">moves no reading by half a millimetre</span>
              <span v-for="a in c.axes" :key="a"
                >{{ NAMES[a] }} {{ c.moved_mm[a] === undefined ? 'to check' : `${signed(c.moved_mm[a], 1)} mm` }}</span
              >
            </li>
          </ul>
          <BalanceCards
            v-if="side === 'cards'"
            :place="here"
            :gimbal="found.gimbal"
            :version="found.version"
            :last="latest"
            @order="order = $event"
            @record="record"
          />
          <template v-else>
            <div class="targets">
              <SlideScale
                v-for="s in found.gimbal.slides"
                :key="s.name"
                :slide="s"
                :was="latest?.set_to[s.name] ?? null"
              />
            </div>
            <div class="under">
              <MotorLoads :loads="found.gimbal.loads" :gives-up-first="found.gimbal.gives_up_first" />
              <div class="gimbal-hours">
                <h3>Hours of the gimbal’s own pack</h3>
                <p>
                  <b>{{ hours(found.gimbal.hours) }}</b> h as it is, {{ hours(found.gimbal.hours_balanced) }} h balanced
                  and without cables<template v-if="found.gimbal.hours_claimed !== null"
                    >; its maker claims {{ hours(found.gimbal.hours_claimed) }} h, which holds balanced and at
                    rest</template
                  ><template v-if="found.gimbal.hours_measured !== null"
                    >; measured {{ hours(found.gimbal.hours_measured) }} h</template
                  >
                </p>
                <ZoomChart v-if="found.gimbal.zoom" :zoom="found.gimbal.zoom" @ends="ends = $event" />
                <HoldTimes :hands="found.hands" @choose="holdAs" />
                <EarlierBalances :records="found.gimbal.records" :names="NAMES" @remove="removeBalance" />
              </div>
            </div>
            <div v-if="found.gimbal.proposals.length" class="proposal">
              <b>{{ found.gimbal.proposals[0]?.balances }} balances differ from what was computed in the same way.</b>
              It may be one of these; measure it before you enter it.
              <p v-for="p in found.gimbal.proposals" :key="p.unit + p.what">
                <template v-if="p.what === 'CG'"
                  >CG of {{ p.unit }} at ({{ p.better.map((v) => fixed(v, 0)).join(', ') }}) ± {{ fixed(p.sd, 0) }} mm
                  rather than ({{ p.now.map((v) => fixed(v, 0)).join(', ') }})</template
                >
                <template v-else
                  >{{ p.unit }} weighs {{ grams(p.better[0] ?? 0) }} ± {{ fixed(p.sd, 0) }} g rather than
                  {{ grams(p.now[0] ?? 0) }}</template
                >
                <small> takes away {{ fixed(p.explains * 100, 0) }} % of the differences</small>
                <router-link class="small-act" :to="{ name: 'shelf', params: here, query: { unit: p.unit } }"
                  >Look at it on the Shelf</router-link
                >
              </p>
            </div>
            <SupportsCompared :place="here" :version="found.version" @taken="look" />
          </template>
        </section>
        <SeeSaw
          v-else-if="found.see_saw"
          :saw="found.see_saw"
          :head="found.head"
          :stand="found.stand"
          :hands="found.hands"
          :place="here"
          @taken="look"
          @grip="holdAs"
          ><SupportsCompared :place="here" :version="found.version" @taken="look"
        /></SeeSaw>
        <MountPanel v-else-if="found.mount" :mount="found.mount"
          ><SupportsCompared :place="here" :version="found.version" @taken="look"
        /></MountPanel>
        <StandsAgainst v-model="opened" what="balance" :findings="found.findings" :place="here" @taken="look"
          ><template v-if="found.gimbal"
            >Power the gimbal last, and off again before any correction. Keep fingers out of the arms. </template
          ><template v-else-if="found.mount"
            >Test every point by hand on the very surface: paint, rust, dust and wet hold less. Vehicle and crane work
            is for licensed crews under local law; nobody leans out. A line to a point of its own, always. </template
          ><template v-else
            >Hold times are a guide for a rested person, no medical advice; cold hands tire sooner. </template
          >Quick releases get a second catch, above people always.</StandsAgainst
        >
      </template>
      <p v-else-if="!problem" class="quiet">Solving the balance…</p>
    </main>
  </FrameShell>
</template>

<style>
.balance {
  grid-area: bench / bench / foot / foot;
  display: grid;
  grid-template-columns: 330px minmax(0, 1fr) 290px;
  min-height: 0;
  background: var(--sheet);
  border-top: 1px solid var(--rule);
}
.balance > .trouble {
  grid-column: 1 / -1;
}
.balance-draw {
  border-right: 1px solid var(--rule);
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.balance-draw header {
  padding: var(--gap-5) var(--gap-7);
}
.balance-draw h1 {
  font: 400 var(--t-5)/1.2 var(--text);
}
.balance-draw h1 span {
  color: var(--ink-2);
}
.balance-draw header p {
  font: 600 var(--t-4) var(--figures);
  letter-spacing: -0.04em;
}
.balance-draw > .elevation {
  flex: 1;
  min-height: 160px;
}
.risk {
  margin: 0;
  padding: var(--gap-4) var(--gap-6);
  border-left: 4px solid var(--stop);
  font-size: var(--t-3);
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-6);
  align-items: center;
}
.risk .btn {
  margin-left: auto;
}
.touched {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
  padding: var(--gap-3) var(--gap-8) 0;
  font-size: var(--t-3);
  color: var(--ink-2);
}
.changes li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-1) var(--gap-7);
  padding: var(--gap-3) var(--gap-8);
  font-size: var(--t-3);
  border-bottom: 1px solid var(--rule-2);
}
.changes span {
  font: 400 var(--t-3) var(--figures);
  color: var(--watch);
}
.proposal {
  margin: 0 var(--gap-8) var(--gap-8);
  padding: var(--gap-5) var(--gap-7);
  background: var(--watch-wash);
  font-size: var(--t-3);
}
@media (max-width: 760px) {
  .balance {
    grid-area: bench;
    display: block;
  }
  .balance-draw > .elevation {
    flex: none;
    height: 380px;
    display: block;
  }
  .at-cards .balance-draw,
  .at-cards .balance-side {
    display: none;
  }
}
</style>
