<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { computed, ref } from 'vue'
import type { Problem } from '../../api/client'
import type { MadeRequest, SwapsView } from '../../api/schema.gen'
import { useTakeBack } from '../../composables/useTakeBack'
import { clock } from '../../lib/format'
import ChoiceField from '../fields/ChoiceField.vue'
import TextField from '../fields/TextField.vue'

/** A swap that no card asked for: noted with its time, and taken back when it was noted by mistake. */
const props = defineProps<{
  swaps: SwapsView
  busy: boolean
  note: (swap: MadeRequest) => Promise<Problem | null>
  drop: (id: number) => Promise<Problem | null>
}>()
const back = useTakeBack(props.drop)
const refusal = ref('')
const open = ref(false)
const form = ref({ slot: '', at: '', packIn: '', packOut: '', left: '' })
const slots = computed(() => props.swaps.slots.filter((s) => !s.built_in))
const choices = computed(() => slots.value.map((s) => ({ value: s.id, text: s.label })))
const label = (slot: string): string => slots.value.find((s) => s.id === slot)?.label ?? slot
const noted = computed(() => props.swaps.made.filter((m) => m.card === null))

function start(): void {
  open.value = true
  form.value = {
    slot: slots.value[0]?.id ?? '',
    at: props.swaps.starts.slice(0, 16),
    packIn: '',
    packOut: '',
    left: '',
  }
}
async function send(): Promise<void> {
  const { slot, at, packIn, packOut, left } = form.value
  const share = left === '' ? null : Math.min(100, Math.max(0, Number(left))) / 100
  const refused = await props.note({
    slot,
    at: `${at}${props.swaps.starts.slice(16)}`,
    pack_in: packIn.trim(),
    pack_out: packOut.trim() || null,
    charge_left: share,
    charge_in: null,
  })
  refusal.value = refused?.message ?? ''
  open.value = refused !== null
}
</script>

<template>
  <section class="unplanned" aria-label="Swaps that were not planned">
    <p v-for="m in noted" :key="m.id">
      <time>{{ clock(m.at) }}</time> <b>{{ label(m.slot) }}</b> {{ m.pack_in }} in<template v-if="m.pack_out"
        >, {{ m.pack_out }} out</template
      >; not planned
      <BButton :disabled="busy" :aria-label="`Take back: ${label(m.slot)} ${clock(m.at)}`" @click="back.take(m.id)"
        >Take back</BButton
      >
      <span v-if="back.refusals[m.id]" class="trouble" role="alert">{{ back.refusals[m.id] }}</span>
    </p>
    <BButton v-if="!open && slots.length" @click="start">Note a swap that was not planned</BButton>
    <form v-if="open" @submit.prevent="send">
      <label>Where <ChoiceField v-model="form.slot" :choices="choices" aria-label="Where the pack went in" /></label>
      <label
        >When
        <BFormInput v-model="form.at" type="datetime-local" required aria-label="When it was swapped" />
      </label>
      <label>In <TextField v-model="form.packIn" required aria-label="Pack that was put in" /></label>
      <label>Out <TextField v-model="form.packOut" aria-label="Pack that was taken out" /></label>
      <label
        >Left in it, %
        <BFormInput v-model="form.left" type="number" min="0" max="100" aria-label="Charge left in what came out" />
      </label>
      <BButton type="submit" variant="primary" :disabled="busy">Note it</BButton>
      <BButton @click="open = false">Cancel</BButton>
      <p v-if="refusal" class="trouble" role="alert">{{ refusal }}</p>
    </form>
  </section>
</template>

<style>
.unplanned {
  padding: var(--gap-5) 0;
  font-size: var(--t-3);
}
.unplanned form,
.unplanned p {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4) var(--gap-5);
  align-items: end;
  padding: var(--gap-2) 0;
}
.unplanned label {
  display: grid;
  gap: var(--gap-1);
}
.unplanned input {
  max-width: 180px;
}
@media print {
  .unplanned {
    display: none;
  }
}
</style>
