<script setup lang="ts">
import { computed, reactive, ref, shallowRef } from 'vue'
import { putInterface } from '../api'
import type { Problem } from '../api/client'
import type { Interface } from '../api/schema.gen'
import { useShelf } from '../stores/shelf'

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
      <button type="button" class="small-act" @click="adding = !adding">Add one</button
      ><button type="button" class="small-act" @click="emit('close')">Close</button>
    </header>
    <form v-if="adding" class="unit-form" @submit.prevent="save">
      <label>Id <input v-model.trim="draft.id" required /></label>
      <label>Name <input v-model.trim="draft.label" required /></label>
      <label
        >Family
        <select v-model="draft.kind">
          <option v-for="(name, id) in shelf.interfaces?.families" :key="id" :value="id">{{ name }}</option>
        </select></label
      >
      <label>Receiving half <input v-model.trim="draft.female" /></label>
      <label>Other half <input v-model.trim="draft.male" /></label>
      <label v-for="f in wanted" :key="f"
        >{{ f.replace('_mm', ' mm') }} <input v-model.number="draft[f]" type="number" step="0.01"
      /></label>
      <button type="submit" class="small-act">Add</button>
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
