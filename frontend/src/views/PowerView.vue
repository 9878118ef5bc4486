<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { putUnit, readMeter, readPower, readUnit } from '../api'
import type { Problem } from '../api/client'
import type { MeterReadView, PowerView } from '../api/schema.gen'
import StandsAgainst from '../components/bench/StandsAgainst.vue'
import FrameShell from '../components/frame/FrameShell.vue'
import BrickTable from '../components/power/BrickTable.vue'
import PowerChain from '../components/power/PowerChain.vue'
import RunDownChart from '../components/power/RunDownChart.vue'
import type { KeyLine } from '../composables/useKeys'
import { useLoad } from '../composables/useLoad'
import { fixed } from '../lib/format'
import { useBench } from '../stores/bench'

const props = defineProps<{ job: string; part: string; rig: string }>()
const router = useRouter()
const bench = useBench()
const here = computed(() => ({ job: props.job, part: props.part, rig: props.rig }))
const MODES = ['standby', 'record', 'peak'] as const
const mode = ref<(typeof MODES)[number]>('record')
const empty = ref(false)
const { found, problem, load } = useLoad<PowerView>(['build', 'job', 'jobs', 'shelf'])
const selected = ref('')
const opened = ref('')

const look = () => load(() => readPower(here.value, mode.value, empty.value))
watch([here, mode, empty], look, { immediate: true })

/** A unit measured by the power meter; its figure is entered only when asked for. */
const { found: metered, problem: meterTrouble, load: readIt, show: meter } = useLoad<MeterReadView>()
const chosenNode = computed(() => found.value?.nodes.find((n) => n.unit === selected.value) ?? null)
/** What nothing can stand in for, whoever takes most along first. */
const alone = computed(() =>
  (found.value?.nodes ?? []).filter((n) => !n.spares.length).sort((a, b) => b.dark.length - a.dark.length),
)
const measurable = computed(() =>
  chosenNode.value?.draw_source != null && chosenNode.value.volts !== null ? chosenNode.value : null,
)
watch([selected, here], () => {
  meter(null)
})
const measure = () => readIt(() => readMeter(here.value, selected.value))
async function enter(watts: number | null): Promise<void> {
  try {
    const { unit, seen } = await readUnit(selected.value)
    await putUnit({ ...unit, measured_w: watts }, seen)
    meter(null)
    await look()
  } catch (error) {
    meterTrouble.value = error as Problem
  }
}
/** Another pack is in: the one that was chosen is gone from the chain. */
async function brickIn(): Promise<void> {
  selected.value = ''
  await look()
}
/** Switched off or left on between takes: a part of the build, undone there. */
async function between(off: boolean): Promise<void> {
  await bench.open(here.value)
  if (await bench.edit({ op: 'off between', off })) await look()
}
function select(unit: string): void {
  selected.value = unit
  const about = found.value?.findings.find((f) => f.units.includes(unit))
  if (about) opened.value = about.key
}

const keys: KeyLine[] = [
  {
    keys: 'm',
    does: 'standby, record, peak',
    run: () => {
      mode.value = MODES[(MODES.indexOf(mode.value) + 1) % 3] ?? 'record'
    },
  },
  {
    keys: 'e',
    does: 'packs full, or at the end of their charge',
    run: () => {
      empty.value = !empty.value
    },
  },
  { keys: 'd', does: 'the day’s swaps', run: () => router.push({ name: 'swaps', params: here.value }) },
  { keys: 'Escape', does: 'to the Bench', run: () => router.push({ name: 'bench', params: here.value }) },
]
</script>

<template>
  <FrameShell :job="job" :part="part" :rig="rig" place="power" :keys="keys" :findables="() => []">
    <main class="power">
      <p v-if="problem" class="trouble" role="alert">{{ problem.message }} <BButton @click="look">Retry</BButton></p>
      <template v-if="found">
        <section class="power-main">
          <header class="power-head">
            <h1>
              <b>{{ found.rig_label }}</b> {{ found.build_label }}
            </h1>
            <p class="power-sum">
              <b>{{ fixed(found.watts, 1) }}</b> W from its packs at {{ found.temperature_c }} °C
            </p>
            <div class="power-acts">
              <span role="group" aria-label="Mode"
                ><BButton v-for="m in MODES" :key="m" :aria-pressed="mode === m" @click="mode = m">
                  {{ m }}
                </BButton></span
              >
              <span role="group" aria-label="Charge"
                ><BButton :aria-pressed="!empty" @click="empty = false"> packs full</BButton
                ><BButton :aria-pressed="empty" @click="empty = true"> at the end </BButton></span
              >
              <BButton @click="router.push({ name: 'swaps', params: here })"> The day’s swaps </BButton>
            </div>
          </header>
          <p v-if="found.rolling < 1" class="pattern" role="group" aria-label="Between takes">
            Rolls {{ fixed(found.rolling * 100, 0) }} % of the time
            <BButton :aria-pressed="!found.off_between" @click="between(false)">left on between takes</BButton>
            <BButton :aria-pressed="found.off_between" @click="between(true)">switched off</BButton>
            <template v-if="found.off_between">{{
              found.takes_per_h
                ? `each start takes ${fixed(found.restart_min, 1)} min, ${fixed(found.takes_per_h, 0)} an hour`
                : 'takes an hour are not entered: no start is counted'
            }}</template>
          </p>
          <PowerChain v-if="found.nodes.length" :power="found" :selected="selected" @select="select" />
          <p v-else class="quiet">Nothing in this build uses or supplies power.</p>
          <p v-if="chosenNode" class="meter">
            <b>{{ chosenNode.unit }}</b>
            {{
              chosenNode.dark.length ? `taken off, these go dark: ${chosenNode.dark.join(', ')}` : 'feeds nothing else'
            }};
            {{
              chosenNode.spares.length
                ? `free in its place: ${chosenNode.spares.join(', ')}`
                : 'no spare of it is free at this time'
            }}
          </p>
          <p v-else-if="alone.length" class="meter">
            No spare at this time for:
            <span v-for="n in alone" :key="n.unit"
              ><BButton @click="select(n.unit)">{{ n.unit }}</BButton
              ><small v-if="n.dark.length"> and {{ n.dark.length }} behind it</small></span
            >
          </p>
          <div v-if="measurable" class="meter">
            <b>{{ measurable.unit }}</b> draws {{ fixed(measurable.draw_w, 1) }} W ({{ measurable.draw_source }})
            <BButton @click="measure">Read the power meter</BButton>
            <BButton v-if="measurable.draw_source === 'measured'" @click="enter(null)">
              Delete measured values
            </BButton>
            <span v-if="metered"
              >{{ metered.name }}: <strong>{{ fixed(metered.watts, 1) }}</strong> W at {{ fixed(metered.volts, 2) }} V
              <BButton @click="enter(Math.round((metered?.watts ?? 0) * 10) / 10)">
                Enter it as measured
              </BButton></span
            >
            <span v-if="meterTrouble" class="trouble">{{ meterTrouble.message }}</span>
          </div>
          <BrickTable
            v-if="chosenNode?.kind === 'pack'"
            :place="here"
            :pack="chosenNode.unit"
            :version="found.version"
            @taken="brickIn"
          />
          <div class="run-downs">
            <RunDownChart v-for="r in found.runs" :key="r.pack" :run="r" :need="found.hours_needed" />
          </div>
        </section>
        <StandsAgainst v-model="opened" what="power" :findings="found.findings" :place="here" @taken="look"
          >Check polarity and voltage with a meter before you bridge unknown plugs. Damaged or swollen packs stay out of
          use.</StandsAgainst
        >
      </template>
      <p v-else-if="!problem" class="quiet">Working out the power chain…</p>
    </main>
  </FrameShell>
</template>

<style>
.power-head h1 {
  font: 400 var(--t-5)/1.2 var(--text);
  margin: 0;
}
.pattern {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-5);
  align-items: center;
  padding: 0 var(--gap-8) var(--gap-4);
  font-size: var(--t-3);
}
.power-acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-7);
  margin-left: auto;
}
.power-acts span {
  display: inline-flex;
}
.run-downs {
  display: flex;
  flex-wrap: wrap;
  border-top: 1px solid var(--rule-2);
}
.meter strong {
  font: 700 var(--t-6) var(--figures);
}
@media (max-width: 760px) {
  .power {
    grid-template-columns: minmax(0, 1fr);
    display: flex;
    flex-direction: column;
    overflow-y: auto;
  }
  .power-main {
    overflow: visible;
    border: 0;
  }
}
</style>
