<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import type { Conditions, PartOfDay } from '../../api/schema.gen'
import { minutes, onClock } from '../../lib/days'
import { useFrame } from '../../stores/frame'
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
] as const

const air = (change: Partial<Conditions>): Promise<boolean> =>
  frame.editFrom((job) => ({
    ...at.value,
    conditions: { ...job.parts?.find((p) => p.id === props.part.id)?.conditions, ...change },
  }))

async function time(end: 'starts' | 'ends', event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  if (input.value && (await frame.edit({ ...at.value, [end]: input.value }))) return
  input.value = props.part[end].slice(0, 16)
}

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
  const one = { at: onClock(middle), label: added.value.trim() || 'Once only' }
  if (await set((now) => [...now, one])) added.value = ''
}
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
      <small>bears on {{ bears }}</small>
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
      <small>{{
        part.conditions.light_ev == null ? 'not entered: exposure is not judged' : 'bears on exposure, filters'
      }}</small>
    </label>
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
        {{ m.label }}
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
  grid-template-columns: repeat(auto-fill, minmax(186px, 1fr));
  gap: var(--gap-6) var(--gap-7);
  align-items: start;
}
.part-form label {
  display: grid;
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
  grid-column: 1 / -1;
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
