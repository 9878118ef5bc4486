<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { BFormTextarea } from 'bootstrap-vue-next/components/BFormTextarea'
import { computed, nextTick, ref, watch } from 'vue'
import type { EntryRequest, LogView, MadeRequest } from '../../api/schema.gen'
import { clock } from '../../lib/format'
import { entryId, fieldTime, isNow, momentOf, smallPhoto, TAPS, type EntryKind, type LogLine } from '../../lib/log'
import ChoiceField from '../fields/ChoiceField.vue'

/** One tap keeps the moment; what there is to say follows, or does not. */
const props = defineProps<{
  view: LogView
  cameras: readonly { id: string; label: string }[]
  units: readonly string[]
  camera: string
  /** Where cards are noted. */
  cards: object
  from: string
  corrects: LogLine | null
  settles: LogLine | null
  busy: boolean
}>()
const emit = defineEmits<{ note: [entry: EntryRequest]; swap: [swap: MadeRequest]; camera: [id: string]; leave: [] }>()
/** Places for packs of the day, each with what the plan puts there. */
const places = computed(() => {
  const found = new Map<string, string>()
  for (const l of props.view.lines)
    if (l.slot && (!props.camera || l.rig === props.camera)) found.set(l.slot, l.text.split(':')[0] ?? l.slot)
  return [...found].map(([value, text]) => ({ value, text }))
})
const swap = ref<{ slot: string; packIn: string; packOut: string; left: string; at: string } | null>(null)
async function tapSwap(): Promise<void> {
  form.value = null
  swap.value = swap.value
    ? null
    : { slot: places.value[0]?.value ?? '', packIn: '', packOut: '', left: '', at: moment() }
  await nextTick()
  first.value?.querySelector<HTMLElement>('select')?.focus()
}
function sendSwap(): void {
  const s = swap.value
  if (!s) return
  const share = s.left.trim() === '' ? null : Number(s.left) / 100
  if (share !== null && !(share >= 0 && share <= 1)) {
    trouble.value = `'${s.left}' is no charge; say 0 to 100 %.`
    return
  }
  emit('swap', {
    slot: s.slot,
    at: momentOf(s.at, props.view.starts),
    pack_in: s.packIn.trim(),
    pack_out: s.packOut.trim() || null,
    charge_left: share,
  })
}

interface Form {
  kind: EntryKind
  at: string
  unit: string
  who: string
  text: string
  what: string
  value: string
  times: string
  people: string
  verdict: '' | 'doubtful' | 'out of use'
  picture: string
}
const form = ref<Form | null>(null)
const first = ref<HTMLElement | null>(null)
const trouble = ref('')
/** Now, where now is on this day; else where the plan that is looked at begins. */
function moment(): string {
  const now = new Date()
  if (!isNow(props.view, now)) return fieldTime(props.from)
  const here = new Date(now.getTime() + offset.value * 60_000)
  return here.toISOString().slice(0, 16)
}
/** Minutes by which the job's clock is before that of Greenwich. */
const offset = computed(() => {
  const found = /([+-])(\d\d):(\d\d)$/.exec(props.view.starts)
  return found ? (found[1] === '-' ? -1 : 1) * (Number(found[2]) * 60 + Number(found[3])) : 0
})
function empty(kind: EntryKind): Form {
  const what = kind === 'reading' ? 'hours' : kind === 'minutes' ? 'changeover' : ''
  return {
    kind,
    at: moment(),
    unit: '',
    who: '',
    text: '',
    what,
    value: '',
    times: '1',
    people: '1',
    verdict: kind === 'fault' ? 'doubtful' : '',
    picture: '',
  }
}
async function tap(kind: EntryKind): Promise<void> {
  swap.value = null
  form.value = form.value?.kind === kind ? null : empty(kind)
  trouble.value = ''
  await nextTick()
  first.value
    ?.querySelector<HTMLElement>('input:not([type=datetime-local]):not([type=file]), select, textarea')
    ?.focus()
}
watch(
  () => props.corrects ?? props.settles,
  (line) => {
    if (!line) return
    const e = line.entry
    if (props.settles || !e) {
      form.value = { ...empty('settled'), at: moment() }
      return
    }
    form.value = {
      kind: e.kind,
      at: fieldTime(line.at),
      unit: e.unit ?? '',
      who: e.who ?? '',
      text: e.text ?? '',
      what: e.what ?? '',
      value: e.value == null ? '' : String(e.value),
      times: String(e.times ?? 1),
      people: String(e.people ?? 1),
      verdict: e.verdict ?? '',
      picture: '',
    }
    if (e.rig) emit('camera', e.rig)
  },
)
function leave(): void {
  form.value = swap.value = null
  emit('leave')
}
function send(): void {
  const f = form.value
  if (!f) return
  const value = f.value.trim() === '' ? null : Number(f.value.replace(',', '.'))
  if (value !== null && Number.isNaN(value)) {
    trouble.value = `'${f.value}' is no figure.`
    return
  }
  const now = isNow(props.view, new Date()) && f.at === moment() && !props.corrects
  emit('note', {
    id: entryId(),
    kind: f.kind,
    at: now ? null : momentOf(f.at, props.view.starts),
    rig: props.camera,
    unit: f.unit.trim(),
    who: f.who.trim(),
    text: f.text.trim(),
    what: f.what,
    value,
    times: Number(f.times) || 1,
    people: Number(f.people) || 1,
    verdict: f.kind === 'fault' && f.unit.trim() ? f.verdict : '',
    picture: f.picture,
    photo: props.corrects?.photo ?? '',
    corrects: props.corrects?.id ?? '',
    settles: props.settles?.id ?? '',
  })
}
/** What was noted is off the pad; what was refused stays on it. */
function noted(): void {
  form.value = swap.value = null
}
defineExpose({ tap, tapSwap, noted })
async function photo(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file || !form.value) return
  try {
    form.value.picture = await smallPhoto(file)
    trouble.value = ''
  } catch {
    trouble.value = 'This file is no picture that can be read here. Take it as JPEG.'
  }
}
const readings = computed(() => props.view.readings.map((r) => ({ value: r.id, text: `${r.label}, ${r.unit}` })))
const timings = computed(() => props.view.timings.map((t) => ({ value: t.id, text: t.label })))
const unitOf = computed(() => props.view.readings.find((r) => r.id === form.value?.what)?.unit ?? 'min')
const asksUnit = computed(() => ['fault', 'near miss', 'reading', 'note'].includes(form.value?.kind ?? ''))
const VERDICTS = [
  { value: 'doubtful' as const, text: 'works, look at it' },
  { value: 'out of use' as const, text: 'out of use' },
  { value: '' as const, text: 'as it was' },
]
const title = computed(() =>
  props.settles
    ? `Settle: ${props.settles.text}`
    : props.corrects
      ? `Correct: ${props.corrects.text}`
      : (TAPS.find((t) => t.kind === form.value?.kind)?.label ?? ''),
)
const WORDS: Partial<Record<EntryKind, string>> = {
  fault: 'What is wrong with it',
  'near miss': 'What nearly happened',
  promise: 'What was promised: what is not published, until when',
  consent: 'To what, until when',
  version: 'Why this build is kept',
  settled: 'How it was settled',
}
</script>

<template>
  <section class="log-pad" :class="{ writing: form || swap }" aria-label="Note something">
    <div class="log-cameras" role="group" aria-label="Camera">
      <BButton :aria-pressed="camera === ''" @click="emit('camera', '')">All</BButton>
      <BButton v-for="c in cameras" :key="c.id" :aria-pressed="camera === c.id" @click="emit('camera', c.id)">{{
        c.label
      }}</BButton>
    </div>
    <div class="log-taps" role="group" aria-label="What happened">
      <BButton :aria-pressed="swap !== null" @click="tapSwap">Swap</BButton>
      <BLink class="btn btn-secondary" :to="cards">Card</BLink>
      <BButton v-for="t in TAPS" :key="t.kind" :aria-pressed="form?.kind === t.kind" @click="tap(t.kind)">{{
        t.label
      }}</BButton>
    </div>
    <form v-if="swap" ref="first" class="log-form" @submit.prevent="sendSwap">
      <h2>Swap of a pack</h2>
      <p v-if="!places.length" class="quiet wide">No place for a pack is planned on this day yet.</p>
      <label>Where <ChoiceField v-model="swap.slot" :choices="places" aria-label="Where the pack went in" /></label>
      <label>In <BFormInput v-model="swap.packIn" required list="log-units" aria-label="Pack that went in" /></label>
      <label>Out <BFormInput v-model="swap.packOut" list="log-units" aria-label="Pack that came out" /></label>
      <label
        >Left in it, %
        <BFormInput v-model="swap.left" inputmode="numeric" aria-label="Charge left in the pack that came out, %"
      /></label>
      <label
        >When <BFormInput v-model="swap.at" type="datetime-local" required aria-label="When it was swapped"
      /></label>
      <p v-if="trouble" class="trouble">{{ trouble }}</p>
      <div class="log-send">
        <BButton type="submit" variant="primary" :disabled="busy || !swap.slot">Note it</BButton>
        <BButton @click="leave">Close</BButton>
      </div>
    </form>
    <form v-else-if="form" ref="first" class="log-form" @submit.prevent="send">
      <h2>
        {{ title }}<time v-if="form.at">{{ clock(`${form.at}:00`) }}</time>
      </h2>
      <label v-if="form.kind === 'reading'"
        >What <ChoiceField v-model="form.what" :choices="readings" aria-label="What was read"
      /></label>
      <label v-if="form.kind === 'minutes'"
        >What <ChoiceField v-model="form.what" :choices="timings" aria-label="What was timed"
      /></label>
      <label v-if="asksUnit"
        >Label <BFormInput v-model="form.unit" list="log-units" autocomplete="off" aria-label="Label of the unit"
      /></label>
      <label v-if="form.kind === 'reading' || form.kind === 'minutes'"
        >{{ unitOf }} <BFormInput v-model="form.value" inputmode="decimal" :aria-label="`Figure, ${unitOf}`"
      /></label>
      <template v-if="form.kind === 'minutes'">
        <label v-if="form.what !== 'changeover'"
          >How often <BFormInput v-model="form.times" type="number" min="1" aria-label="How often it was done"
        /></label>
        <label
          >People <BFormInput v-model="form.people" type="number" min="1" max="9" aria-label="By how many people"
        /></label>
      </template>
      <label v-if="form.kind === 'promise' || form.kind === 'consent'"
        >{{ form.kind === 'promise' ? 'To whom' : 'Whose' }} <BFormInput v-model="form.who" aria-label="Who"
      /></label>
      <label class="wide"
        >{{ WORDS[form.kind] ?? 'Words' }}
        <BFormTextarea v-model="form.text" rows="2" max-rows="6" :aria-label="WORDS[form.kind] ?? 'Words'"
      /></label>
      <label v-if="form.kind === 'fault'"
        >The unit <ChoiceField v-model="form.verdict" :choices="VERDICTS" aria-label="What becomes of the unit"
      /></label>
      <label>When <BFormInput v-model="form.at" type="datetime-local" required aria-label="When it happened" /></label>
      <label v-if="form.kind !== 'settled'"
        >Photo
        <input type="file" accept="image/*" capture="environment" aria-label="Photo" @change="photo" />
        <small v-if="form.picture">{{ Math.round((form.picture.length * 3) / 4 / 1024) }} kB</small></label
      >
      <p v-if="trouble" class="trouble">{{ trouble }}</p>
      <div class="log-send">
        <BButton type="submit" variant="primary" :disabled="busy">Note it</BButton>
        <BButton @click="leave">Close</BButton>
      </div>
    </form>
    <datalist id="log-units"><option v-for="u in units" :key="u" :value="u" /></datalist>
  </section>
</template>

<style>
.log-pad {
  padding: var(--gap-6) var(--gap-7);
  background: var(--lift);
  border-bottom: 1px solid var(--rule);
}
.log-cameras {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
}
.log-taps {
  display: grid;
  grid-template-columns: repeat(5, minmax(0, 1fr));
  gap: var(--gap-4);
}
.log-cameras {
  margin-bottom: var(--gap-5);
}
.log-taps .btn {
  min-height: 44px;
  font-weight: 700;
  padding-inline: var(--gap-2);
  display: grid;
  place-content: center;
}
.log-form {
  margin-top: var(--gap-6);
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: var(--gap-5);
  align-items: end;
}
.log-form label {
  display: grid;
  gap: var(--gap-1);
}
.log-form label > * {
  width: 100%;
  min-width: 0;
}
.log-form h2 {
  grid-column: 1 / -1;
  font: 700 var(--t-5) var(--text);
  margin: 0;
}
.log-form h2 time {
  float: right;
  font: 600 var(--t-5) var(--figures);
}
.log-form .wide,
.log-form .trouble,
.log-send {
  grid-column: 1 / -1;
}
.log-send {
  display: flex;
  gap: var(--gap-5);
}
.log-send .btn {
  min-height: 44px;
  flex: 1;
}
@media (max-width: 760px) {
  .log-taps {
    grid-template-columns: repeat(4, minmax(0, 1fr));
  }
  /* What is written stands above the thumb, with the button that notes it. */
  .writing .log-taps {
    display: none;
  }
}
</style>
