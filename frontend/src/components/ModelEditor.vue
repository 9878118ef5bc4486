<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { previewModel, putModel } from '../api'
import type { Problem } from '../api/client'
import type { GearModel, ModelPreview, Port } from '../api/schema.gen'
import { FACES, faceOf, newBox, newModel, newPort, sizeOf, withFace, withSize } from '../lib/models'
import { useShelf } from '../stores/shelf'
import ElevationPanel from './ElevationPanel.vue'
import NumberField from './NumberField.vue'

const props = defineProps<{ blank: boolean }>()
const emit = defineEmits<{ saved: []; close: [] }>()
const shelf = useShelf()
const draft = ref<GearModel>(newModel())
const preview = shallowRef<ModelPreview | null>(null)
const problem = shallowRef<Problem | null>(null)
/** Why it was not saved; a drawing that arrives later does not take it away, the next change does. */
const refused = shallowRef<Problem | null>(null)
const chosen = ref(0)
const saved = ref('')
/** Just written: what is shown again is not another model. */
let kept = ''

watch(
  () => (props.blank ? null : shelf.model?.model.id),
  () => {
    draft.value = props.blank || !shelf.model ? newModel() : structuredClone(shelf.model.model)
    chosen.value = 0
    if (kept !== draft.value.id) saved.value = ''
    kept = ''
  },
  { immediate: true },
)

let turn = 0
const draw = useDebounceFn(async () => {
  const mine = ++turn
  try {
    const next = await previewModel(draft.value)
    if (mine !== turn) return
    preview.value = next
    problem.value = null
  } catch (error) {
    if (mine === turn) problem.value = error as Problem
  }
}, 120)
watch(
  draft,
  () => {
    refused.value = null
    void draw()
  },
  { deep: true, immediate: true },
)

const ports = computed<Port[]>(() => draft.value.ports ?? [])
const port = computed(() => ports.value[chosen.value])
const size = computed(() => sizeOf(draft.value))
const problemsOf = (i: number): string[] =>
  (preview.value?.problems ?? []).filter((p) => p.path.startsWith(`$.ports[${String(i)}]`)).map((p) => p.message)
const families = computed(() =>
  Object.entries(shelf.interfaces?.families ?? {})
    .map(([id, name]) => ({ name, items: (shelf.interfaces?.interfaces ?? []).filter((i) => i.kind === id) }))
    .filter((f) => f.items.length),
)
const half = (p: Port, gender: 'female' | 'male'): string =>
  shelf.interfaces?.interfaces.find((i) => i.id === p.interface)?.[gender] ?? gender

function add(): void {
  draft.value.ports = [...ports.value, newPort(ports.value, draft.value)]
  chosen.value = ports.value.length - 1
}
function drop(i: number): void {
  draft.value.ports = ports.value.filter((_, k) => k !== i)
  chosen.value = Math.max(0, Math.min(chosen.value, ports.value.length - 1))
}
function face(name: string): void {
  const p = port.value
  if (p) draft.value.ports = ports.value.map((x, i) => (i === chosen.value ? withFace(p, name, draft.value) : x))
}
function box(axis: 0 | 1 | 2, value: number): void {
  draft.value = withSize(draft.value, axis, value)
}
function place(axis: 0 | 1 | 2, value: number): void {
  const p = port.value
  if (!p) return
  const at: [number, number, number] = [...(p.at ?? [0, 0, 0])]
  at[axis] = value
  draft.value.ports = ports.value.map((x, i) => (i === chosen.value ? { ...p, at } : x))
}

async function save(): Promise<void> {
  try {
    kept = draft.value.id
    shelf.model = await putModel(draft.value, props.blank ? null : (shelf.model?.seen ?? 0))
    refused.value = null
    saved.value = `${draft.value.maker} ${draft.value.name} is in the catalogue.`
    emit('saved')
  } catch (error) {
    refused.value = error as Problem
  }
}
</script>

<template>
  <section class="model-editor" aria-label="Model and its ports">
    <header>
      <h2>{{ blank ? 'A new model' : draft.name }}</h2>
      <button type="button" class="small-act" @click="save">
        {{ blank ? 'Add to the catalogue' : 'Save' }}</button><button
        type="button"
        class="small-act"
        @click="emit('close')"
      >
        Close
      </button>
    </header>
    <div v-if="preview" class="lone">
      <ElevationPanel
        v-for="e in preview.elevations"
        :key="e.view"
        :drawing="e"
        :selected="draft.id"
        :slides="{}"
        :flagged="{}"
        :dimensions="true"
        @port="
          (_, id) => {
            chosen = ports.findIndex((p) => p.id === id)
          }
        "
      />
    </div>
    <p v-if="refused ?? problem" class="trouble" role="alert">{{ (refused ?? problem)?.message }}</p>
    <p v-if="saved" role="status" class="done">{{ saved }}</p>
    <form class="unit-form" @submit.prevent="save">
      <label>Id <input v-model.trim="draft.id" :disabled="!blank" /></label>
      <label>Kind <input v-model.trim="draft.kind" /></label>
      <label>Maker <input v-model.trim="draft.maker" /></label>
      <label class="wide">Name <input v-model.trim="draft.name" /></label>
      <label>Mass g <input v-model.number="draft.mass_g" type="number" min="0" /></label>
      <label
        >from
        <select v-model="draft.mass_source">
          <option value="measured">measured</option>
          <option value="catalogue">catalogue</option>
          <option value="assumed">assumed</option>
        </select></label
      >
      <template v-if="size">
        <label>Long mm <NumberField :value="size[0]" @change="box(0, $event)" /></label>
        <label>Wide mm <NumberField :value="size[1]" @change="box(1, $event)" /></label>
        <label>High mm <NumberField :value="size[2]" @change="box(2, $event)" /></label>
        <small v-if="(draft.shapes?.length ?? 0) > 1">the first of {{ draft.shapes?.length }} solids</small>
      </template>
      <button v-else type="button" class="small-act" @click="draft.shapes = [newBox()]">Give it a box</button>
    </form>
    <h3>Ports <button type="button" class="small-act" @click="add">Add a port</button></h3>
    <ul class="port-list">
      <li v-for="(p, i) in ports" :key="i" :class="{ chosen: i === chosen }">
        <button type="button" @click="chosen = i">
          <span>{{ p.label }}</span><span>{{
            shelf.interfaces?.interfaces.find((x) => x.id === p.interface)?.label ?? p.interface
          }}</span
          ><small>{{ half(p, p.gender) }}</small>
        </button>
        <span v-for="m in problemsOf(i)" :key="m" class="stop">{{ m }}</span>
      </li>
    </ul>
    <form v-if="port" class="unit-form port-form" @submit.prevent>
      <label>Id <input v-model.trim="port.id" /></label>
      <label>Called <input v-model.trim="port.label" /></label>
      <label class="wide"
        >Interface
        <select v-model="port.interface">
          <optgroup v-for="f in families" :key="f.name" :label="f.name">
            <option v-for="i in f.items" :key="i.id" :value="i.id">{{ i.label }}</option>
          </optgroup>
        </select></label
      >
      <label
        >Half
        <select v-model="port.gender">
          <option value="female">{{ half(port, 'female') }}</option>
          <option value="male">{{ half(port, 'male') }}</option>
        </select></label
      >
      <label
        >Faces
        <select :value="faceOf(port)" @change="face(($event.target as HTMLSelectElement).value)">
          <option v-for="f in FACES" :key="f.name">{{ f.name }}</option>
        </select></label
      >
      <label>x mm <NumberField :value="port.at?.[0] ?? 0" @change="place(0, $event)" /></label>
      <label>y mm <NumberField :value="port.at?.[1] ?? 0" @change="place(1, $event)" /></label>
      <label>z mm <NumberField :value="port.at?.[2] ?? 0" @change="place(2, $event)" /></label>
      <label>Load N <input v-model.number="port.load_n" type="number" min="1" /></label>
      <label>Moment N·m <input v-model.number="port.moment_nm" type="number" min="0.1" step="0.1" /></label>
      <label><input v-model="port.anti_twist" type="checkbox" /> pins</label>
      <button type="button" class="small-act" @click="drop(chosen)">Remove this port</button>
    </form>
    <p class="quiet">x forward, y to the operator's left, z up. A port faces outwards from the surface it sits on.</p>
  </section>
</template>
