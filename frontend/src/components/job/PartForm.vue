<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import type { Conditions, PartOfDay } from '../../api/schema.gen'
import { minutes, onClock } from '../../lib/days'
import { useFrame } from '../../stores/frame'
import type { Choice } from '../../lib/fields'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** One part of the day: when it is and what it asks of every camera. */
const props = defineProps<{ part: PartOfDay }>()
const frame = useFrame()
const at = computed(() => ({ op: 'change part' as const, part: props.part.id }))

const AIR = [
  ['temperature_c', 'Temperature', '°C', 'runtimes, charging'],
  ['wind_m_s', 'Mean wind', 'm/s', 'sticks, gimbal motors'],
  ['hours_needed', 'Longest stretch without a swap', 'h', 'runtimes'],
  ['longest_take_min', 'Longest take', 'min', 'runtimes'],
] as const

const SUBJECT = [
  ['subject_set_up_min', 'set up'],
  ['subject_take_min', 'take'],
  ['subject_reset_min', 'reset'],
] as const

const air = (change: Partial<Conditions>): Promise<boolean> =>
  frame.editFrom((job) => ({
    ...at.value,
    conditions: { ...job.parts?.find((p) => p.id === props.part.id)?.conditions, ...change },
  }))

const LIGHT = computed<Choice[]>(() => [
  { value: '', text: 'not entered' },
  ...(frame.choices?.light ?? []).map((l) => ({ value: String(l.ev), text: l.words })),
])
/** The words nearest to the figure. */
const inWords = computed(() => {
  const ev = props.part.conditions.light_ev
  if (ev == null) return ''
  const off = (c: Choice): number => Math.abs(Number(c.value) - ev)
  const [, first, ...others] = LIGHT.value
  return first ? others.reduce((best, c) => (off(c) < off(best) ? c : best), first).value : ''
})

const YES = [
  ['indoors', 'indoors: no wind, no rain'],
  ['rain', 'rain expected'],
  ['rings', 'the room rings'],
  ['repeatable', 'cannot be repeated'],
  ['protected', 'cut last when the day runs late'],
] as const
const turn = (field: (typeof YES)[number][0]): Promise<boolean> =>
  air({ [field]: !(props.part.conditions[field] ?? field === 'repeatable') })

async function time(end: 'starts' | 'ends', event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  if (input.value && (await frame.edit({ ...at.value, [end]: input.value }))) return
  input.value = props.part[end].slice(0, 16)
}

/** What is to be seen on the plan: a moment is about one of these. */
const things = computed(() =>
  (frame.view?.job.venue?.things ?? [])
    .filter((t) => t.kind === 'to see')
    .map((t) => ({ value: t.id ?? '', text: t.label ?? '' })),
)
const moments = computed(() => props.part.moments ?? [])
type Moments = NonNullable<PartOfDay['moments']>
const set = (change: (now: Moments) => Moments): Promise<boolean> =>
  frame.editFrom((job) => ({
    ...at.value,
    moments: change(job.parts?.find((p) => p.id === props.part.id)?.moments ?? []),
  }))
const added = ref('')
async function addMoment(): Promise<void> {
  const middle = Math.round((minutes(props.part.starts) + minutes(props.part.ends)) / 10) * 5
  const typed = added.value
  const one = { at: onClock(middle), label: typed.trim() || 'Once only' }
  added.value = ''
  if (!(await set((now) => [...now, one])) && !added.value) added.value = typed
}
const renameMoment = (i: number, label: string): Promise<boolean> =>
  set((now) => now.map((m, k) => (k === i ? { ...m, label } : m)))
async function moveMoment(i: number, event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const to = input.value
  if (!to || !(await set((now) => now.map((m, k) => (k === i ? { ...m, at: to } : m)))))
    input.value = moments.value[i]?.at.slice(0, 16) ?? ''
}
</script>

<template>
  <form class="part-form" :aria-label="part.label" @submit.prevent>
    <label>
      Name
      <TextField
        :model-value="part.label"
        @change="frame.edit({ ...at, label: ($event.target as HTMLInputElement).value })"
      />
    </label>
    <label v-for="end in ['starts', 'ends'] as const" :key="end">
      {{ end === 'starts' ? 'Starts' : 'Ends' }}
      <input
        class="form-control"
        type="datetime-local"
        step="300"
        :value="part[end].slice(0, 16)"
        @change="time(end, $event)"
      />
    </label>
    <label v-for="[field, label, unit, bears] in AIR" :key="field">
      {{ label }}, {{ unit }}
      <NumberField
        :model-value="part.conditions[field] ?? 0"
        step="any"
        :commit="(value: number) => air({ [field]: value })"
      />
      <small>affects {{ bears }}</small>
    </label>
    <label>
      Rolling, % of the time
      <NumberField
        :model-value="Math.round((part.conditions.rolling ?? 1) * 1000) / 10"
        min="0"
        max="100"
        step="any"
        :commit="(value: number) => air({ rolling: value / 100 })"
      />
      <small>affects runtimes; the rest standing by</small>
    </label>
    <label>
      Takes an hour
      <NumberField
        :model-value="part.conditions.takes_per_h ?? 0"
        min="0"
        max="120"
        step="any"
        :commit="(value: number) => air({ takes_per_h: value })"
      />
      <small>affects runtimes switched off between takes</small>
    </label>
    <label>
      Light, EV at ISO 100
      <NumberField
        :model-value="part.conditions.light_ev"
        optional
        step="any"
        placeholder="not judged"
        :commit="(value: number) => air({ light_ev: value })"
        :clear="() => air({ light_ev: null })"
      />
      <ChoiceField
        class="in-words"
        aria-label="Light in plain words"
        :model-value="inWords"
        :choices="LIGHT"
        :commit="(ev: string) => air({ light_ev: ev === '' ? null : Number(ev) })"
      />
      <small>{{
        part.conditions.light_ev == null ? 'not entered: exposure is not judged' : 'affects exposure, filters'
      }}</small>
    </label>
    <fieldset class="yes-no each-subject">
      <legend>Subjects one after the other: minutes for each</legend>
      <label v-for="[field, label] in SUBJECT" :key="field">
        {{ label }}
        <NumberField
          :model-value="part.conditions[field] ?? 0"
          min="0"
          max="600"
          step="any"
          :aria-label="`Each subject: ${label}, min`"
          :commit="(value: number) => air({ [field]: value })"
        />
      </label>
      <small>{{
        part.conditions.subject_take_min ? 'how many fit stands on the run sheet' : 'no take: there are none'
      }}</small>
    </fieldset>
    <fieldset class="yes-no">
      <legend>What it is like there</legend>
      <label v-for="[field, text] in YES" :key="field">
        <input
          type="checkbox"
          class="form-check-input"
          :checked="field === 'repeatable' ? part.conditions.repeatable === false : part.conditions[field]"
          @click.prevent="turn(field)"
        />
        {{ text }}
      </label>
    </fieldset>
    <fieldset>
      <legend>Moments that cannot be repeated</legend>
      <p v-for="(m, i) in moments" :key="`${m.at} ${m.label}`" class="moment-line">
        <input
          class="form-control"
          type="datetime-local"
          step="300"
          :aria-label="`When ${m.label} is`"
          :value="m.at.slice(0, 16)"
          @change="moveMoment(i, $event)"
        />
        <TextField
          :model-value="m.label"
          :aria-label="`Name of ${m.label}`"
          @change="renameMoment(i, ($event.target as HTMLInputElement).value)"
        />
        <ChoiceField
          v-if="things.length"
          :model-value="m.thing ?? ''"
          :choices="[{ value: '', text: 'about nothing on the plan' }, ...things]"
          :aria-label="`What ${m.label} is about`"
          :commit="(thing: string) => set((now) => now.map((x, k) => (k === i ? { ...x, thing } : x)))"
        />
        <BButton @click="set((now) => now.filter((_, k) => k !== i))">Remove</BButton>
      </p>
      <p class="moment-line">
        <TextField v-model="added" aria-label="A new moment" placeholder="What happens" @keydown.enter="addMoment" />
        <BButton @click="addMoment">Add a moment</BButton>
      </p>
    </fieldset>
    <BButton variant="warning" @click="frame.edit({ op: 'remove part', part: part.id })"
      >Remove {{ part.label }}</BButton
    >
  </form>
</template>

<style>
.part-form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: var(--gap-6) var(--gap-7);
  align-items: start;
}
.part-form label {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: var(--gap-2);
  font-size: var(--t-3);
}
.part-form .form-control {
  min-width: 0;
  width: 100%;
}
.part-form small {
  color: var(--ink-2);
  font-size: var(--t-2);
}
.part-form fieldset {
  grid-column: span 3;
}
@media (max-width: 900px) {
  .part-form fieldset {
    grid-column: 1 / -1;
  }
}
.part-form .yes-no {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-8);
}
.part-form .yes-no label {
  display: flex;
  align-items: center;
  gap: var(--gap-3);
  min-height: 26px;
}
.part-form .each-subject label {
  white-space: nowrap;
}
.part-form .each-subject input {
  width: 72px;
}
.part-form legend {
  font: 600 var(--t-3) var(--text);
}
.part-form > .btn {
  justify-self: start;
}
.moment-line {
  display: flex;
  gap: var(--gap-6);
  align-items: center;
  padding: var(--gap-2) 0;
}
.part-form .moment-line .form-control {
  max-width: 196px;
}
</style>
