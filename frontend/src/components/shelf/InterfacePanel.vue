<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, shallowRef } from 'vue'
import { putInterface, removeInterface } from '../../api'
import type { Problem } from '../../api/client'
import type { Interface, InterfacesView } from '../../api/schema.gen'
import { blank, tidy, type Document } from '../../lib/gear'
import { useShelf } from '../../stores/shelf'
import FieldsEditor from '../gear/FieldsEditor.vue'

const emit = defineEmits<{ close: [] }>()
const shelf = useShelf()
const problem = shallowRef<Problem | null>(null)
/** The one that is entered or changed; `seen` is nothing for a new one. */
const draft = ref<{ thing: Document; seen: number | null } | null>(null)
void shelf.learnFields()
const byFamily = computed(() =>
  Object.entries(shelf.interfaces?.families ?? {})
    .map(([id, name]) => ({ id, name, items: (shelf.interfaces?.interfaces ?? []).filter((i) => i.kind === id) }))
    .filter((f) => f.items.length),
)
function said(i: Interface): string {
  const figures = [
    i.flange_mm != null && `flange ${String(i.flange_mm)} mm`,
    i.throat_mm != null && `throat ${String(i.throat_mm)} mm`,
    i.diameter_mm != null && `⌀ ${String(i.diameter_mm)} mm`,
    i.spacing_mm != null && `${String(i.spacing_mm)} mm apart`,
    i.pitch_mm != null && `pitch ${String(i.pitch_mm)} mm`,
    i.width_mm != null && `${String(i.width_mm)} mm wide`,
    i.play_deg != null && `rocks ${String(i.play_deg)}°`,
    i.holding_nm != null && `holds ${String(i.holding_nm)} N·m`,
    i.contacts?.length ? i.contacts.join(', ') : false,
    i.needs_clamp && 'no lock',
  ]
  return figures.filter(Boolean).join(' · ')
}

function add(): void {
  draft.value = { thing: { ...blank(shelf.types, 'Interface'), kind: 'lens' }, seen: null }
}
function change(i: Interface): void {
  draft.value = { thing: { ...i } as unknown as Document, seen: shelf.interfaces?.seen[i.id ?? ''] ?? 0 }
}
function copy(i: Interface): void {
  const thing = { ...i, id: `${i.id ?? ''}-copy`, label: `${i.label ?? ''} copy`, standard: false }
  draft.value = { thing: thing as unknown as Document, seen: null }
}
async function told(call: () => Promise<InterfacesView>): Promise<void> {
  try {
    shelf.interfaces = await call()
    problem.value = null
    draft.value = null
  } catch (error) {
    problem.value = error as Problem
  }
}
const save = () => told(() => putInterface(tidy(draft.value?.thing) as unknown as Interface, draft.value?.seen ?? null))
const remove = (i: Interface) => told(() => removeInterface(i.id ?? '', shelf.interfaces?.seen[i.id ?? ''] ?? 0))
const FIELDS: readonly string[] = [
  'id',
  'label',
  'kind',
  'female',
  'male',
  'tool',
  'torque_nm',
  'spins_deg',
  'contacts',
]
const only = computed(() => [
  ...FIELDS,
  ...(shelf.interfaces?.figures[String(draft.value?.thing.kind)] ?? []),
  ...['carries_power', 'needs_clamp'],
])
</script>

<template>
  <section class="interfaces" aria-label="Interfaces">
    <header>
      <h2>Interfaces</h2>
      <BButton @click="add">Add one</BButton><BButton @click="emit('close')">Close</BButton>
    </header>
    <form v-if="draft" class="interface-form" @submit.prevent="save">
      <FieldsEditor
        v-model="draft.thing"
        type="Interface"
        :types="shelf.types"
        path="$"
        :problems="problem?.places ?? []"
        :only="only"
        :disabled="draft.seen === null ? [] : ['id']"
      />
      <BButton type="submit" variant="primary">{{ draft.seen === null ? 'Add' : 'Save' }}</BButton>
      <BButton @click="draft = null">Cancel</BButton>
    </form>
    <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
    <template v-for="f in byFamily" :key="f.id">
      <h3>{{ f.name }}</h3>
      <p v-for="i in f.items" :key="i.id" class="interface-line">
        <b>{{ i.label }}</b> <small v-if="i.standard">standard</small><span>{{ said(i) }}</span>
        <span class="interface-acts">
          <BButton :aria-label="`Change ${i.label}`" @click="change(i)">Change</BButton>
          <BButton :aria-label="`Copy ${i.label}`" @click="copy(i)">Copy</BButton>
          <BButton v-if="!i.standard" :aria-label="`Remove ${i.label}`" @click="remove(i)">Remove</BButton>
        </span>
      </p>
    </template>
  </section>
</template>

<style>
.interface-line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: var(--gap-5);
  align-items: baseline;
}
.interface-form {
  padding: var(--gap-6) var(--gap-7);
}
.interface-form > .btn {
  margin-top: var(--gap-5);
}
.interface-acts {
  display: flex;
  gap: var(--gap-3);
  grid-area: 1 / 3;
}
.interface-line b {
  font-weight: 600;
}
.interface-line span:not(.interface-acts) {
  grid-column: 1 / -1;
  font: 400 var(--t-2) var(--figures);
  color: var(--ink-2);
  letter-spacing: -0.03em;
}
</style>
