<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { computed, onUnmounted, reactive, ref, shallowRef } from 'vue'
import { growProposal, readStarts, type Operation } from '../../api'
import type { Problem } from '../../api/client'
import type { GrowRequest, GrownView } from '../../api/schema.gen'
import { counted, grams, hours, signed } from '../../lib/format'
import { useBench } from '../../stores/bench'
import { useJob } from '../../stores/job'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import PickerFrame from './PickerFrame.vue'

/** Whole builds from what is free: one grows after the other, the best of them first; nothing is saved until one is taken. */
const emit = defineEmits<{ close: [] }>()
const bench = useBench()
const job = useJob()
type Support = NonNullable<GrowRequest['support']>
const wants = reactive({
  support: 'head' as Support,
  monitor: true,
  microphone: false,
  transmitter: false,
  receiver: false,
})
/** Hours without a swap, where more than the part of the day asks. */
const lasting = ref<number | null>(null)
const problem = shallowRef<Problem | null>(null)
const starts = shallowRef<{ lens: string; title: string; operations: Operation[] }[]>([])
const found = shallowRef<{ lens: string; title: string; view: GrownView; why: string[] }[]>([])
const at = ref(-1)
const MOST_SHOWN = 3
let round = 0

const best = computed(() => [...found.value].sort((a, b) => compared(a.view.rank, b.view.rank)).slice(0, MOST_SHOWN))
function compared(a: number[], b: number[]): number {
  const i = a.findIndex((x, k) => x !== b[k])
  return i < 0 ? 0 : (a[i] ?? 0) - (b[i] ?? 0)
}

async function search(): Promise<void> {
  const here = job.place
  if (!here) return
  const mine = ++round
  problem.value = null
  found.value = []
  try {
    for (const [i, start] of starts.value.entries()) {
      at.value = i
      let view: GrownView | null = null
      const why: string[] = []
      while (!view?.done) {
        view = await growProposal(here, {
          ...wants,
          hours: lasting.value ?? 0,
          operations: (view?.operations ?? start.operations) as Operation[],
          given_up: view?.given_up ?? [],
        })
        if (mine !== round) return
        why.push(...view.why)
      }
      found.value = [...found.value, { lens: start.lens, title: start.title, view, why }]
      if (best.value[0]?.lens === start.lens) void bench.tryOut(view.operations as Operation[])
    }
  } catch (error) {
    if (mine === round) problem.value = error as Problem
  } finally {
    if (mine === round) at.value = -1
  }
}
function stop(): void {
  round++
  at.value = -1
}
onUnmounted(stop)

async function begin(): Promise<void> {
  const here = job.place
  if (!here) return
  try {
    const told = await readStarts(here)
    starts.value = told.starts as typeof starts.value
    wants.support = told.support
    await search()
  } catch (error) {
    problem.value = error as Problem
  }
}
void begin()

async function take(view: GrownView): Promise<void> {
  stop()
  if (await bench.edit(...(view.operations as Operation[]))) emit('close')
}
/** What is put on, in order. */
function partsOf(view: GrownView): string {
  const names = (view.operations as Operation[]).map((op) =>
    op.op === 'attach' ? op.unit : op.op === 'connect' ? op.cable : op.op === 'replace' ? op.by : '',
  )
  return [...new Set(names.filter(Boolean))].join(' · ')
}
const SUPPORTS: { value: Support; text: string }[] = [
  { value: 'head', text: 'head and sticks' },
  { value: 'gimbal', text: 'gimbal' },
  { value: 'shoulder', text: 'shoulder' },
  { value: 'hand', text: 'hand' },
  { value: 'mount', text: 'mount' },
]
</script>

<template>
  <PickerFrame
    label="Propose a build"
    unit="Propose"
    what="a whole build from what is free"
    :more="undefined"
    :problem="problem"
    :working="null"
    @close="emit('close')"
  >
    <template #ask>
      <form class="wants" @submit.prevent="search">
        <label>On <ChoiceField v-model="wants.support" :choices="SUPPORTS" aria-label="What carries it" /></label>
        <BFormCheckbox v-model="wants.monitor">monitor</BFormCheckbox>
        <BFormCheckbox v-model="wants.microphone">microphone</BFormCheckbox>
        <BFormCheckbox v-model="wants.transmitter">video transmitter</BFormCheckbox>
        <BFormCheckbox v-model="wants.receiver">sound receiver</BFormCheckbox>
        <label
          >runs, h
          <NumberField v-model="lasting" optional min="0" max="48" step="any" placeholder="as asked" class="lasting"
        /></label>
        <BButton type="submit">Search</BButton>
        <BButton v-if="at >= 0" @click="stop">Stop searching</BButton>
        <span v-if="at >= 0" role="status">{{ at + 1 }} of {{ starts.length }}: with {{ starts[at]?.lens }}</span>
      </form>
    </template>
    <p v-if="!starts.length && at < 0" class="quiet">
      No free lens goes on this body, not even through a free adapter. Free one, or hire a lens or an adapter for it.
    </p>
    <ol class="proposals">
      <li v-for="(p, i) in best" :key="p.lens">
        <button
          type="button"
          class="candidate"
          data-rove
          :aria-label="`Build ${i + 1} with ${p.lens}`"
          @click="take(p.view)"
          @focus="bench.tryOut(p.view.operations as Operation[])"
        >
          <span class="unit">{{ p.lens }}</span> {{ p.title }}
          <span class="tally" :class="p.view.counts.stops ? 'stop' : p.view.counts.watches ? 'watch' : ''">
            {{
              p.view.counts.stops
                ? counted(p.view.counts.stops, 'Stop')
                : p.view.counts.watches
                  ? `no Stop, ${counted(p.view.counts.watches, 'Watch').replace('Watchs', 'Watches')}`
                  : 'no problems'
            }}
          </span>
          <span class="sums"
            >{{ grams(p.view.figures.total_g) }} g · {{ signed(p.view.figures.front_nm, 2) }} N·m ·
            {{ hours(p.view.figures.hours) }} h</span
          >
          <small v-for="why in p.view.left" :key="why" class="stop">{{ why }}</small>
          <small class="made">{{ partsOf(p.view) }}</small>
        </button>
        <details class="whys">
          <summary>Why each part</summary>
          <ul>
            <li v-for="w in p.why" :key="w">{{ w }}</li>
          </ul>
        </details>
      </li>
    </ol>
  </PickerFrame>
</template>

<style>
.whys {
  padding: 0 var(--gap-7) var(--gap-4);
  font-size: var(--t-2);
}
.whys summary {
  cursor: pointer;
  min-height: 24px;
}
.wants {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4) var(--gap-6);
  align-items: center;
  padding: var(--gap-5) var(--gap-7);
  border-bottom: 1px solid var(--rule-2);
}
.wants label {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
}
.wants .lasting {
  width: 92px;
}
.proposals {
  list-style: none;
  padding: var(--gap-3) var(--gap-5);
}
.proposals .tally {
  display: block;
  font: 600 var(--t-5) var(--text);
}
.proposals .tally.stop {
  color: var(--stop);
}
.proposals .tally.watch {
  color: var(--watch);
}
.proposals .sums {
  display: block;
  font: 400 var(--t-3) var(--figures);
}
.proposals small {
  display: block;
  color: var(--ink-2);
}
.proposals small.stop {
  color: var(--stop);
}
</style>
