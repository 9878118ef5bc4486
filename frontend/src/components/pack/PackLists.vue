<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { useWakeLock } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { notePackSteps, takeBackPackStep, type PackStep } from '../../api'
import { KEPT_HERE, type Problem } from '../../api/client'
import type { PackingView } from '../../api/schema.gen'
import { clock, counted, weekday } from '../../lib/format'
import { packSteps } from '../../lib/outbox'
import { useOutbox } from '../../stores/outbox'
import ScanField from './ScanField.vue'

/** The list out, case by case, and the same list back: by scan or by tap, each with its time. */
type Thing = PackingView['things'][number]
const props = defineProps<{ job: string; view: PackingView; way: 'out' | 'back'; chosen: string; may: boolean }>()
const emit = defineEmits<{ choose: [unit: string]; now: [view: PackingView] }>()
const wake = useWakeLock()
void wake.request('screen').catch(() => undefined)
onBeforeUnmount(() => void wake.release().catch(() => undefined))

const PEOPLE = 'with people'
const NONE = 'in no case'
/** With what was noted here and is not sent yet. */
const outbox = useOutbox()
const things = computed(() => {
  const noted = new Map<string, Partial<Thing>>()
  const path = `/api/jobs/${props.job}/pack/steps`
  for (const n of outbox.row.filter((x) => x.method === 'POST' && x.url === path && x.body))
    for (const step of packSteps(JSON.parse(n.body ?? '{}') as Record<string, unknown>) as unknown as PackStep[])
      if (step.act !== 'closed' && step.act !== 'opened')
        noted.set(step.thing, {
          state: step.act,
          ...(step.case ? { case: step.case } : {}),
          since: n.at,
          actor: 'not sent yet',
          step: null,
        })
  return noted.size ? props.view.things.map((t) => ({ ...t, ...noted.get(t.id) })) : props.view.things
})
const going = computed(() => things.value.filter((t) => !t.left))
const caseOf = (t: Thing): string =>
  props.way === 'back'
    ? t.case || t.planned || PEOPLE
    : t.state === 'packed'
      ? t.case
      : t.planned || (t.group === 'people' ? PEOPLE : NONE)
const listed = computed(() => (props.way === 'out' ? going.value : things.value.filter((t) => t.state !== 'to pack')))
const groups = computed(() => {
  const found = new Map<string, Thing[]>()
  for (const c of props.view.cases) found.set(c.along.unit, [])
  for (const t of listed.value) found.set(caseOf(t), [...(found.get(caseOf(t)) ?? []), t])
  return [...found].filter(([, things]) => things.length)
})
const done = (t: Thing): boolean =>
  props.way === 'out' ? t.state !== 'to pack' : t.state === 'back' || t.state === 'returned'
const left = (things: readonly Thing[]): number => things.filter((t) => !done(t)).length
const all = computed(() => ({ of: listed.value.length, done: listed.value.length - left(listed.value) }))
const shown = computed(() => groups.value.find(([unit]) => unit === props.chosen) ?? groups.value[0])
const theCase = computed(() => props.view.cases.find((c) => c.along.unit === shown.value?.[0]))
const label = (id: string): string =>
  id.startsWith('+') ? (props.view.things.find((t) => t.id === id)?.title ?? id) : id

const said = ref('')
const refusal = ref<Problem | null>(null)
/** What is asked before an unlikely step. */
const asked = ref<{ text: string; steps: PackStep[]; told: string } | null>(null)
watch(
  () => [props.way, props.chosen],
  () => {
    refusal.value = asked.value = null
  },
)
async function note(steps: PackStep[], told: string, anyway = false): Promise<void> {
  refusal.value = asked.value = null
  try {
    const now = await notePackSteps(props.job, steps, anyway)
    if (now) emit('now', now)
    said.value = now ? told : KEPT_HERE
  } catch (error) {
    const problem = error as Problem
    said.value = ''
    if (problem.code === 'pack.asked') asked.value = { text: problem.message, steps, told }
    else refusal.value = problem
  }
}
async function takeBack(t: Thing): Promise<void> {
  if (t.step === null) {
    said.value = 'It is not sent yet; it can be taken back when it is.'
    return
  }
  try {
    const now = await takeBackPackStep(props.job, t.step)
    if (now) emit('now', now)
    said.value = now ? `${label(t.id)}: taken back.` : KEPT_HERE
  } catch (error) {
    refusal.value = error as Problem
  }
}
const pack = (thing: string): Promise<void> => {
  const unit = theCase.value?.along.unit ?? props.view.things.find((t) => t.id === thing)?.planned ?? ''
  return note([{ act: 'packed', thing, case: unit, note: '' }], `${label(thing)} is in ${unit}.`)
}
const back = (thing: string): Promise<void> =>
  note([{ act: 'back', thing, case: '', note: '' }], `${label(thing)} is back.`)
function tap(t: Thing): void {
  if (!props.may) return
  if (done(t) && t.state !== 'returned') void takeBack(t)
  else if (props.way === 'out') void pack(t.id)
  else void back(t.id)
}
function read(text: string): void {
  // Whatever the reader makes of letters, labels are known by what is on the shelf.
  const known = (id: string): boolean => id.toLowerCase() === text.toLowerCase()
  const box = props.view.cases.find((c) => known(c.along.unit))
  if (box && props.way === 'out') {
    emit('choose', box.along.unit)
    said.value = `Packing ${box.along.unit}.`
    return
  }
  const thing = props.view.things.find((t) => known(t.id))?.id ?? text
  void (props.way === 'out' ? pack(thing) : back(thing))
}
const missing = computed(() => listed.value.filter((t) => t.state === 'packed'))
const closing = ref(false)
async function closeList(): Promise<void> {
  closing.value = false
  await note(
    missing.value.map((t) => ({
      act: 'missing' as const,
      thing: t.id,
      case: t.case,
      note: t.last ? `last: ${t.last}` : '',
    })),
    `The list is closed; ${counted(missing.value.length, 'thing')} missing.`,
  )
}
const returned = (t: Thing): Promise<void> =>
  note([{ act: 'returned', thing: t.id, case: '', note: '' }], `${t.id} is returned.`)
</script>

<template>
  <section class="pack-lists" :aria-label="way === 'out' ? 'The list out' : 'The list back'">
    <p class="count">
      <strong>{{ all.done }}</strong> of {{ all.of }} {{ way === 'out' ? 'packed' : 'back' }}
    </p>
    <ScanField v-if="may" @read="read" />
    <p v-if="said" class="said" role="status">{{ said }}</p>
    <p v-if="refusal" class="trouble" role="alert">{{ refusal.message }}</p>
    <div v-if="asked" class="asked" role="alert">
      <p>{{ asked.text }}</p>
      <BButton variant="primary" @click="note(asked.steps, asked.told, true)">Yes</BButton>
      <BButton @click="asked = null">No</BButton>
    </div>
    <p v-if="!groups.length" class="quiet">
      {{ way === 'out' ? 'Nothing goes along yet. Plan builds under Job, and take cases along.' : 'Nothing is out.' }}
    </p>
    <div v-else class="chips" role="group" aria-label="Case">
      <button
        v-for="[unit, inside] in groups"
        :key="unit"
        type="button"
        :aria-pressed="unit === shown?.[0]"
        :class="{ whole: !left(inside) }"
        @click="emit('choose', unit)"
      >
        <b>{{ unit }}</b> {{ left(inside) ? `${left(inside)} left` : 'all' }}
      </button>
    </div>
    <template v-if="shown">
      <div v-if="theCase && way === 'out' && may" class="lid">
        <span v-if="theCase.closed">Closed {{ weekday(theCase.closed) }} {{ clock(theCase.closed) }}</span>
        <BButton
          v-if="!theCase.closed"
          @click="
            note([{ act: 'closed', thing: theCase.along.unit, case: '', note: '' }], `${theCase.along.unit} is closed.`)
          "
          >Close {{ theCase.along.unit }}</BButton
        >
        <BButton
          v-else
          @click="
            note([{ act: 'opened', thing: theCase.along.unit, case: '', note: '' }], `${theCase.along.unit} is open.`)
          "
          >Open it</BButton
        >
      </div>
      <ul class="ticks">
        <li v-for="t in shown[1]" :key="t.id" :class="[t.state.replace(' ', '-'), { 'seen-to': done(t) }]">
          <button type="button" :aria-pressed="done(t)" :disabled="!may || t.state === 'returned'" @click="tap(t)">
            <i aria-hidden="true"></i>
            <span
              ><b>{{ label(t.id) }}</b>
              {{ t.id.startsWith('+') ? (t.count > 1 ? `${t.count} pieces` : '') : t.title }}
              <em v-if="t.note || t.condition === 'doubtful'"
                >{{ t.condition === 'doubtful' ? 'doubtful' : '' }} {{ t.note }}</em
              >
              <small>{{
                t.state === 'missing'
                  ? `missing; last ${t.last || t.case}`
                  : done(t) && t.since
                    ? `${weekday(t.since)} ${clock(t.since)} ${t.actor}`
                    : way === 'back' && t.last
                      ? `last ${t.last}`
                      : t.first_for || t.whys[0]
              }}</small></span
            >
          </button>
          <BButton v-if="way === 'back' && t.hired_until && t.state === 'back' && may" @click="returned(t)"
            >Returned (by {{ t.hired_until }})</BButton
          >
        </li>
      </ul>
    </template>
    <div v-if="way === 'back' && may && missing.length" class="close-list">
      <BButton v-if="!closing" @click="closing = true">Close the list</BButton>
      <div v-else class="asked" role="alert">
        <p>
          {{ counted(missing.length, 'thing') }} not back:
          {{
            missing
              .slice(0, 6)
              .map((t) => `${label(t.id)} (last ${t.last || t.case})`)
              .join(', ')
          }}{{ missing.length > 6 ? '…' : '' }}. Note them as missing?
        </p>
        <BButton variant="primary" @click="closeList">Yes, close it</BButton>
        <BButton @click="closing = false">No</BButton>
      </div>
    </div>
  </section>
</template>

<style>
.pack-lists {
  padding: var(--gap-6) var(--gap-7) var(--gap-9);
  overflow-y: auto;
  max-width: 760px;
  width: 100%;
}
.pack-lists .count strong {
  font: 700 var(--t-7) var(--figures);
}
.pack-lists .said {
  color: var(--mark);
  font-weight: 600;
}
.pack-lists .asked {
  border: 2px solid var(--watch);
  background: var(--watch-wash);
  padding: var(--gap-6);
  margin: var(--gap-5) 0;
}
.pack-lists .asked .btn {
  min-height: 44px;
  margin-right: var(--gap-5);
}
.pack-lists .chips {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
  margin: var(--gap-6) 0;
}
.pack-lists .chips button {
  min-height: 44px;
  padding: 0 var(--gap-6);
  border: 1px solid var(--rule);
}
.pack-lists .chips button[aria-pressed='true'] {
  border-color: var(--mark);
  background: var(--mark-wash);
}
.pack-lists .chips .whole {
  color: var(--ink-2);
}
.pack-lists .lid {
  display: flex;
  align-items: center;
  gap: var(--gap-6);
  margin-bottom: var(--gap-5);
}
.pack-lists .ticks li {
  display: flex;
  align-items: center;
  border-top: 1px solid var(--rule-2);
}
.pack-lists .ticks button:first-child {
  flex: 1;
  display: flex;
  align-items: center;
  gap: var(--gap-6);
  min-height: 48px;
  text-align: left;
  font-weight: 400;
}
.pack-lists .ticks i {
  flex: none;
  width: 24px;
  height: 24px;
  border: 2px solid var(--ink-3);
}
.pack-lists .seen-to i {
  border-color: var(--mark);
  background: var(--mark);
  box-shadow: inset 0 0 0 3px var(--sheet);
}
.pack-lists .missing i {
  border: 3px dashed var(--stop);
}
.pack-lists .ticks b {
  font: 700 var(--t-4) var(--figures);
}
.pack-lists .ticks small {
  display: block;
  color: var(--ink-2);
}
.pack-lists .ticks em {
  display: block;
  font-style: normal;
  color: var(--watch);
}
.pack-lists .seen-to b {
  color: var(--ink-2);
}
.pack-lists .close-list {
  margin-top: var(--gap-8);
}
</style>
