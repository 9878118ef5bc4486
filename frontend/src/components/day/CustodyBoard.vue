<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, nextTick, ref, watch } from 'vue'
import { custodyFile, noteCardStep, putCardInReader, readCustody, takeBackCardStep } from '../../api'
import { KEPT_HERE, type Problem } from '../../api/client'
import type { CustodyView, DayView, CardStepRequest } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { minutes, onClock } from '../../lib/days'
import { clock, counted, weekday } from '../../lib/format'
import TextField from '../fields/TextField.vue'
import CopyStation from './CopyStation.vue'

/** Where every card is, and what was done with it: blank, in a slot, recorded, copied to so many places. */
const props = defineProps<{ job: string; view: DayView; part: string; version: number }>()
type Card = CustodyView['cards'][number]
const { found, problem, load, show } = useLoad<CustodyView>(['cards', 'job', 'jobs'])
watch(
  () => [props.job, props.version] as const,
  ([job]) => void load(() => readCustody(job)),
  { immediate: true },
)
const chosen = ref('')
const card = computed(() => found.value?.cards.find((c) => c.card === chosen.value))
const LANES = [
  ['blank', 'Blank'],
  ['in a slot', 'In a recorder'],
  ['recorded', 'To be copied'],
  ['copied', 'Copied'],
] as const
const inLane = (state: string): Card[] => (found.value?.cards ?? []).filter((c) => c.state === state)
const rigOf = (unit: string): string => found.value?.slots.find((s) => s.unit === unit)?.rig ?? ''

/** Now, while the job runs; before or after it the hour at which it would usually be done. */
const part = computed(() => props.view.parts.find((p) => p.id === props.part) ?? props.view.parts[0])
function usual(c: Card): string {
  const all = props.view.parts
  const [first, last] = [all[0], all[all.length - 1]]
  const at = Date.now()
  const runs =
    first && last && at > Date.parse(first.starts) - 12 * 3_600_000 && at < Date.parse(last.ends) + 48 * 3_600_000
  const here = part.value
  if (runs || !here) return ''
  const before = c.steps.filter((s) => !s.taken_back_by).map((s) => minutes(s.at))
  const planned = { blank: minutes(here.starts) - 10, 'in a slot': minutes(here.ends), recorded: 0, copied: 0 }[c.state]
  return onClock(Math.max(planned, ...before.map((m) => m + 5)))
}
const when = ref('')
const place = ref('')
/** Said, never supposed: a copy that nobody compared counts for nothing. */
const verified = ref(false)
const fault = ref('')
const refusal = ref<Problem | null>(null)
watch(card, (now, was) => {
  if (!now) return
  if (now.card !== was?.card || now.steps.length !== was.steps.length) {
    when.value = usual(now)
    place.value = fault.value = ''
    verified.value = false
    if (now.card !== was?.card) refusal.value = null
  }
})
const work = ref<HTMLElement | null>(null)
async function choose(id: string): Promise<void> {
  chosen.value = chosen.value === id ? '' : id
  await nextTick()
  if (window.matchMedia('(max-width: 760px)').matches) work.value?.scrollIntoView({ block: 'nearest' })
}

const kept = ref('')
async function sent(call: () => Promise<CustodyView | null>): Promise<void> {
  try {
    const now = await call()
    if (now) show(now)
    kept.value = now ? '' : KEPT_HERE
    refusal.value = null
  } catch (error) {
    refusal.value = error as Problem
  }
}
const note = (act: CardStepRequest['act'], more: Partial<CardStepRequest> = {}): Promise<void> =>
  sent(() => noteCardStep(props.job, { act, card: chosen.value, at: when.value || null, ...more }))
const copied = (to: string): Promise<void> => note('copied', { place: to, verified: verified.value })
const goBack = (step: number): Promise<void> => sent(() => takeBackCardStep(props.job, step))

/** Slots that take this card and are free, those it is dealt to first. */
const slots = computed(() => {
  const c = card.value
  if (!c) return []
  const planned = (unit: string, slot: string) => c.planned.filter((p) => p.unit === unit && p.slot === slot)
  return (found.value?.slots ?? [])
    .filter((s) => s.takes === c.slot && !s.card)
    .map((s) => ({ ...s, planned: planned(s.unit, s.slot).map((p) => labelOf(p.part)) }))
    .sort((a, b) => b.planned.length - a.planned.length)
})
const labelOf = (id: string): string => props.view.parts.find((p) => p.id === id)?.label ?? id
const drives = computed(() => (found.value?.drives ?? []).filter((d) => !card.value?.copies.some((c) => c.place === d)))
const words = (c: Card): string => {
  if (c.state === 'blank') {
    const next = c.planned.find((p) => p.part === props.part)
    return next ? `for ${next.rig} ${next.slot}` : ''
  }
  const at = c.since ? ` ${clock(c.since)}` : ''
  if (c.state === 'in a slot') return `${rigOf(c.unit) || c.unit} ${c.in_slot}, since${at}`
  return `from ${rigOf(c.unit) || c.unit}, out${at}`
}
const station = ref<InstanceType<typeof CopyStation> | null>(null)
const { load: putIn } = useLoad<unknown>()
async function toReader(number: number): Promise<void> {
  refusal.value = null
  await putIn(async () => {
    try {
      station.value?.show(await putCardInReader(props.job, number, chosen.value))
    } catch (error) {
      refusal.value = error as Problem
    }
  })
}
</script>

<template>
  <section class="custody" aria-label="Where every card is">
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <p v-else-if="!found" class="quiet">Looking for the cards…</p>
    <p v-else-if="!found.cards.length" class="quiet">
      No cards yet. Add cards to the Shelf and plan a camera with slots, and they are dealt here.
    </p>
    <template v-else>
      <div class="lanes">
        <section v-for="[state, title] in LANES" :key="state" :aria-label="title">
          <h2>
            {{ title }} <small>{{ inLane(state).length }}</small>
          </h2>
          <button
            v-for="c in inLane(state)"
            :key="c.card"
            type="button"
            class="card-chip"
            :class="{ chosen: c.card === chosen, failed: c.faults.length }"
            :aria-pressed="c.card === chosen"
            @click="choose(c.card)"
          >
            <b>{{ c.card }}</b>
            <i v-if="state !== 'blank'" role="img" :aria-label="`${c.places} of ${found.places} places`"
              ><u v-for="n in found.places" :key="n" :class="{ there: n <= c.places }"></u
            ></i>
            <span v-if="words(c)">{{ words(c) }}</span>
            <em v-if="c.faults.length">failed {{ c.faults.length > 1 ? `${c.faults.length} times` : 'once' }}</em>
          </button>
        </section>
      </div>
      <div ref="work" class="custody-side">
        <article v-if="card" class="card-work" :aria-label="card.card">
          <header>
            <h2>{{ card.card }}</h2>
            <span>{{ card.title }}, {{ words(card) }}</span>
            <label
              >When <input v-model="when" class="form-control" type="datetime-local" aria-label="When it was done" />
              <small v-if="!when">now</small></label
            >
          </header>
          <p v-if="refusal" class="trouble" role="alert">{{ refusal.message }}</p>
          <p v-if="kept" role="status">{{ kept }}</p>
          <p v-for="f in card.faults" :key="f" class="card-fault">{{ f }}</p>
          <div v-if="card.state !== 'in a slot'" class="card-acts">
            <template v-if="card.state === 'blank'">
              <BButton
                v-for="s in slots"
                :key="s.unit + s.slot"
                :variant="s.planned.length ? 'primary' : 'secondary'"
                @click="note('in', { unit: s.unit, slot: s.slot })"
                >Into {{ s.rig }} {{ s.slot }}<small v-if="s.planned.length">{{ s.planned.join(', ') }}</small></BButton
              >
              <p v-if="!slots.length" class="quiet">No free slot takes it.</p>
            </template>
            <template v-else>
              <BButton v-for="d in drives" :key="d" variant="primary" @click="copied(d)">Copied to {{ d }}</BButton>
              <label class="elsewhere"
                ><TextField v-model="place" aria-label="Another place" placeholder="another place" /><BButton
                  :disabled="!place.trim()"
                  @click="copied(place)"
                  >Copied there</BButton
                ></label
              >
              <BFormCheckbox v-model="verified">read again and compared</BFormCheckbox>
              <BButton v-for="n in station?.free ?? []" :key="n" @click="toReader(n)">Into reader {{ n }}</BButton>
            </template>
          </div>
          <div v-else class="card-acts">
            <BButton variant="primary" @click="note('out')">Taken out</BButton>
          </div>
          <p v-if="card.copies.length || card.twins.length" class="card-copies">
            On
            <template v-for="(x, n) in card.copies" :key="n"
              >{{ n ? ', ' : '' }}<b>{{ x.place }}</b
              >{{ x.verified ? '' : ' (not compared)' }}<code v-if="x.checksum">{{ x.checksum }}</code></template
            ><template v-if="card.twins.length"
              >{{ card.copies.length ? ', ' : '' }}<b>{{ card.twins.join(', ') }}</b> (the other side of the
              mirror)</template
            >.
          </p>
          <div v-if="card.state === 'recorded' || card.state === 'copied'" class="card-acts">
            <BButton @click="note('wiped')">Wiped</BButton>
            <small class="keeps">{{ card.keeps || 'It lies in enough places.' }}</small>
          </div>
          <div class="card-acts">
            <TextField v-model="fault" aria-label="What it did" placeholder="What it did" />
            <BButton :disabled="!fault.trim()" @click="note('fault', { note: fault })">Note a fault</BButton>
            <BButton v-if="card.faults.length" @click="note('sound again')">Tested, sound again</BButton>
          </div>
          <ol class="card-steps">
            <li v-for="s in [...card.steps].reverse()" :key="s.id" :class="{ gone: s.taken_back_by }">
              <time>{{ weekday(s.at) }} {{ clock(s.at) }}</time>
              <span>{{ s.text }}</span>
              <small>{{ s.actor }}{{ s.taken_back_by ? `, taken back by ${s.taken_back_by}` : '' }}</small>
              <BButton v-if="s.here && !s.taken_back_by" size="sm" @click="goBack(s.id)">Take back</BButton>
            </li>
          </ol>
        </article>
        <p v-else class="quiet">
          {{ counted(found.cards.length, 'card') }}. Choose one to say what was done with it: what lies in
          {{ found.places }} places may be wiped, and not on the day.
        </p>
        <CopyStation ref="station" :job="job" :drives="found.drives" :when="when" @noted="show" />
        <p><BLink class="btn btn-secondary" :href="custodyFile(job)">Custody as CSV</BLink></p>
      </div>
    </template>
  </section>
</template>

<style>
.custody {
  grid-column: 1 / -1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 420px;
  font-size: var(--t-3);
}
.custody-side {
  border-left: 1px solid var(--rule);
  background: var(--lift);
}
.custody-side,
.lanes {
  overflow: auto;
  scrollbar-width: thin;
  padding: var(--gap-5) var(--gap-7) var(--gap-9);
  display: grid;
  gap: var(--gap-7);
  align-content: start;
}
.lanes {
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: var(--gap-7) var(--gap-5);
  align-items: start;
}
.lanes > section {
  display: grid;
  gap: var(--gap-4);
  border-top: 2px solid var(--ink);
  padding-top: var(--gap-4);
}
.lanes h2 {
  font: 600 var(--t-4) var(--text);
  display: flex;
  justify-content: space-between;
}
.lanes h2 small {
  font-family: var(--figures);
  color: var(--ink-2);
}
/* A memory card lying there: one corner cut off. */
.card-chip {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 var(--gap-5);
  align-items: center;
  text-align: left;
  border: 0;
  color: var(--ink);
  background: var(--lift);
  padding: var(--gap-4) var(--gap-8) var(--gap-4) var(--gap-5);
  clip-path: polygon(0 0, calc(100% - 9px) 0, 100% 9px, 100% 100%, 0 100%);
}
.card-chip.chosen {
  background: var(--mark);
  color: var(--sheet);
}
.card-chip b {
  font: 700 var(--t-3) var(--figures);
}
.card-chip span {
  grid-column: 1 / -1;
  font-size: var(--t-2);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.card-chip i {
  display: flex;
  gap: 2px;
}
.card-chip u {
  width: 8px;
  height: 8px;
  border: 1px solid currentcolor;
}
.card-chip u.there {
  background: currentcolor;
}
.card-chip em {
  grid-column: 1 / -1;
  font: 600 var(--t-2) var(--text);
  color: var(--stop);
}
.card-chip.chosen em {
  color: inherit;
}
.card-work {
  display: grid;
  gap: var(--gap-5);
}
.card-work header {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4) var(--gap-7);
  align-items: center;
}
.card-work header h2 {
  font: 700 var(--t-6) var(--figures);
}
.card-work header label {
  margin-left: auto;
  display: flex;
  gap: var(--gap-4);
  align-items: center;
}
.card-acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4) var(--gap-5);
  align-items: center;
}
.card-acts input[type='text'] {
  width: 180px;
}
.card-acts .btn small {
  display: block;
}
.keeps {
  flex: 1 1 200px;
  color: var(--ink-2);
}
.elsewhere {
  display: flex;
}
.card-fault {
  color: var(--stop);
  font-weight: 600;
}
.card-copies code {
  font: 400 var(--t-2) var(--figures);
  color: var(--ink-2);
  margin-left: var(--gap-3);
}
.card-steps {
  list-style: none;
  margin: 0;
  padding: 0;
}
.card-steps li {
  display: grid;
  grid-template-columns: 124px minmax(0, 1fr) auto auto;
  gap: var(--gap-5);
  align-items: baseline;
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-3) 0;
}
.card-steps time {
  font-family: var(--figures);
}
.card-steps .gone span {
  text-decoration: line-through;
}
@media (max-width: 760px) {
  .custody {
    grid-template-columns: minmax(0, 1fr);
    overflow: auto;
    align-content: start;
  }
  .custody-side {
    order: -1;
    border-left: 0;
    overflow: visible;
  }
  .lanes {
    grid-template-columns: 1fr 1fr;
    overflow: visible;
  }
  .card-chip {
    padding-block: var(--gap-7);
  }
  .card-acts .btn {
    min-height: 48px;
  }
  .card-steps li {
    grid-template-columns: 92px minmax(0, 1fr);
  }
}
</style>
