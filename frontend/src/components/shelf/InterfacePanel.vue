<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, reactive, ref, shallowRef } from 'vue'
import { putInterface } from '../../api'
import type { Problem } from '../../api/client'
import type { Interface } from '../../api/schema.gen'
import { useShelf } from '../../stores/shelf'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

const emit = defineEmits<{ close: [] }>()
const shelf = useShelf()
const problem = shallowRef<Problem | null>(null)
const adding = ref(false)
const draft = reactive({
  id: '',
  label: '',
  kind: 'lens' as Interface['kind'],
  female: 'socket',
  male: 'plug',
  flange_mm: null as number | null,
  throat_mm: null as number | null,
  diameter_mm: null as number | null,
  spacing_mm: null as number | null,
  pitch_mm: null as number | null,
  width_mm: null as number | null,
  below_axis_mm: null as number | null,
  holding_nm: null as number | null,
})
const byFamily = computed(() =>
  Object.entries(shelf.interfaces?.families ?? {})
    .map(([id, name]) => ({ id, name, items: (shelf.interfaces?.interfaces ?? []).filter((i) => i.kind === id) }))
    .filter((f) => f.items.length),
)
const kinds = computed(() =>
  Object.entries(shelf.interfaces?.families ?? {}).map(([id, name]) => ({
    value: id as Interface['kind'],
    text: name,
  })),
)
type Figure =
  'flange_mm' | 'throat_mm' | 'diameter_mm' | 'spacing_mm' | 'below_axis_mm' | 'pitch_mm' | 'width_mm' | 'holding_nm'
const wanted = computed(() => (shelf.interfaces?.figures[draft.kind] ?? []) as Figure[])

function said(i: Interface): string {
  const figures = [
    i.flange_mm != null && `flange ${String(i.flange_mm)} mm`,
    i.throat_mm != null && `throat ${String(i.throat_mm)} mm`,
    i.diameter_mm != null && `⌀ ${String(i.diameter_mm)} mm`,
    i.spacing_mm != null && `${String(i.spacing_mm)} mm apart`,
    i.pitch_mm != null && `pitch ${String(i.pitch_mm)} mm`,
    i.width_mm != null && `${String(i.width_mm)} mm wide`,
    i.holding_nm != null && `holds ${String(i.holding_nm)} N·m`,
    i.contacts?.length ? i.contacts.join(', ') : false,
    i.needs_clamp && 'no lock',
  ]
  return figures.filter(Boolean).join(' · ')
}

async function save(): Promise<void> {
  const figures = Object.fromEntries(wanted.value.map((name) => [name, draft[name]]))
  try {
    shelf.interfaces = await putInterface(
      {
        id: draft.id,
        label: draft.label,
        kind: draft.kind,
        female: draft.female,
        male: draft.male,
        ...figures,
      } as Interface,
      null,
    )
    problem.value = null
    adding.value = false
  } catch (error) {
    problem.value = error as Problem
  }
}
</script>

<template>
  <section class="interfaces" aria-label="Interfaces">
    <header>
      <h2>Interfaces</h2>
      <BButton @click="adding = !adding">Add one</BButton><BButton @click="emit('close')">Close</BButton>
    </header>
    <form v-if="adding" class="unit-form" @submit.prevent="save">
      <label>Id <TextField v-model="draft.id" required /></label>
      <label>Name <TextField v-model="draft.label" required /></label>
      <label>Family <ChoiceField v-model="draft.kind" :choices="kinds" /></label>
      <label>Receiving half <TextField v-model="draft.female" /></label>
      <label>Other half <TextField v-model="draft.male" /></label>
      <label v-for="f in wanted" :key="f"
        >{{ f.replace('_mm', ' mm') }} <NumberField v-model="draft[f]" optional step="0.01"
      /></label>
      <BButton type="submit">Add</BButton>
    </form>
    <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
    <template v-for="f in byFamily" :key="f.id">
      <h3>{{ f.name }}</h3>
      <p v-for="i in f.items" :key="i.id" class="interface-line">
        <b>{{ i.label }}</b> <small v-if="i.standard">standard</small><span>{{ said(i) }}</span>
      </p>
    </template>
  </section>
</template>

<style>
.interface-line {
  display: grid;
  grid-template-columns: auto auto 1fr;
  gap: var(--gap-5);
  align-items: baseline;
}
.interface-line b {
  font-weight: 600;
}
.interface-line span {
  font: 400 var(--t-2) var(--figures);
  color: var(--ink-2);
  letter-spacing: -0.03em;
}
</style>
