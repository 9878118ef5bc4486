<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { computed, ref, shallowRef, watch } from 'vue'
import { previewModel, putModel, removeModel } from '../../api'
import type { Problem } from '../../api/client'
import type { GearModel, ModelPreview, Port } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { interfaceChoices } from '../../lib/fields'
import { tidy, type Document } from '../../lib/gear'
import { FACES, faceOf, newBox, newModel, newPort, sizeOf, withFace, withSize } from '../../lib/models'
import { useShelf } from '../../stores/shelf'
import ElevationPanel from '../bench/ElevationPanel.vue'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'
import FieldsEditor from '../gear/FieldsEditor.vue'
import PointOn from './PointOn.vue'

const props = defineProps<{ blank: boolean }>()
const emit = defineEmits<{ saved: []; close: []; copied: []; removed: [] }>()
const shelf = useShelf()
const draft = ref<GearModel>(newModel())
const { found: preview, problem, load } = useLoad<ModelPreview>()
/** Why it was not saved; a drawing that arrives later does not take it away, the next change does. */
const refused = shallowRef<Problem | null>(null)
const chosen = ref(0)
const saved = ref('')
/** A copy that is to be shown instead of an empty model. */
let copied: GearModel | null = null
const whole = ref(false)
const pointing = ref(false)
void shelf.learnFields()
/** Just written: what is shown again is not another model. */
let kept = ''

watch(
  () => (props.blank ? null : shelf.model?.model.id),
  () => {
    draft.value = copied ?? (props.blank || !shelf.model ? newModel() : structuredClone(shelf.model.model))
    copied = null
    chosen.value = 0
    if (kept !== draft.value.id) saved.value = ''
    kept = ''
  },
  { immediate: true },
)

const draw = useDebounceFn(
  () => load(() => previewModel(tidy(draft.value as unknown as Document) as unknown as GearModel)),
  120,
)
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
const interfaces = computed(() => interfaceChoices(shelf.interfaces))
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

function copy(): void {
  const made = JSON.parse(JSON.stringify(draft.value)) as GearModel
  copied = { ...made, id: `${made.id}-copy`, name: `${made.name} copy` }
  emit('copied')
}
async function remove(): Promise<void> {
  try {
    await removeModel(draft.value.id, shelf.model?.seen ?? 0)
    emit('removed')
  } catch (error) {
    refused.value = error as Problem
  }
}
/** The figures of its kind were read off the thing itself. */
async function confirm(): Promise<void> {
  draft.value = { ...draft.value, unconfirmed: [] }
  await save()
}
const SECTIONS: readonly (readonly [string, readonly string[]])[] = [
  ['Price and note', ['price', 'hire_per_day', 'note']],
  ['Balance and outline', ['cg_mm', 'cg_source', 'shapes', 'keep_clear', 'hinges']],
  ['Ports in full', ['ports']],
  ['Power', ['draw', 'pack', 'charger', 'mains_lead_m', 'twin']],
  ['Camera and lens', ['body', 'lens', 'adapter', 'filter', 'follow_focus', 'recording', 'card']],
  ['What carries a rig', ['support', 'stand', 'gimbal', 'handle']],
  ['Other', ['cable', 'screen', 'lamp', 'radio', 'clock_ppm', 'case', 'packed_mm', 'assumed', 'unconfirmed']],
]
const places = computed(() => (refused.value ?? problem.value)?.places ?? [])

async function save(): Promise<void> {
  try {
    kept = draft.value.id
    shelf.model = await putModel(
      tidy(draft.value as unknown as Document) as unknown as GearModel,
      props.blank ? null : (shelf.model?.seen ?? 0),
    )
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
      <BButton variant="primary" @click="save"> {{ blank ? 'Add to the catalogue' : 'Save' }}</BButton>
      <template v-if="!blank">
        <BButton @click="copy">Copy</BButton>
        <BButton @click="remove">Remove</BButton>
      </template>
      <BButton @click="emit('close')">Close</BButton>
    </header>
    <p v-if="draft.unconfirmed?.length" class="confirm">
      Ratings not confirmed: voltages, currents and loads are usual ones of its kind. Check them below against the plate
      of the thing.
      <BButton @click="confirm">They are right</BButton>
    </p>
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
      <label>Id <TextField v-model="draft.id" :disabled="!blank" /></label>
      <label>Kind <TextField v-model="draft.kind" /></label>
      <label>Maker <TextField v-model="draft.maker" /></label>
      <label class="wide">Name <TextField v-model="draft.name" /></label>
      <label>Mass g <NumberField v-model="draft.mass_g" optional min="0" /></label>
      <label>from <ChoiceField v-model="draft.mass_source" :choices="['measured', 'catalogue', 'assumed']" /></label>
      <template v-if="size">
        <label>Long mm <NumberField :model-value="size[0]" :commit="(mm) => box(0, mm)" /></label>
        <label>Wide mm <NumberField :model-value="size[1]" :commit="(mm) => box(1, mm)" /></label>
        <label>High mm <NumberField :model-value="size[2]" :commit="(mm) => box(2, mm)" /></label>
        <small v-if="(draft.shapes?.length ?? 0) > 1">the first of {{ draft.shapes?.length }} solids</small>
      </template>
      <BButton v-else @click="draft.shapes = [newBox()]">Add a solid</BButton>
    </form>
    <h3>Ports <BButton @click="add">Add a port</BButton></h3>
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
      <label>Id <TextField v-model="port.id" /></label>
      <label>Called <TextField v-model="port.label" /></label>
      <label class="wide">Interface <ChoiceField v-model="port.interface" :choices="interfaces" /></label>
      <label
        >Half
        <ChoiceField
          v-model="port.gender"
          :choices="(['female', 'male'] as const).map((g) => ({ value: g, text: half(port!, g) }))"
      /></label>
      <label
        >Faces <ChoiceField :model-value="faceOf(port)" :choices="FACES.map((x) => x.name)" :commit="face"
      /></label>
      <label>x mm <NumberField :model-value="port.at?.[0] ?? 0" :commit="(mm) => place(0, mm)" /></label>
      <label>y mm <NumberField :model-value="port.at?.[1] ?? 0" :commit="(mm) => place(1, mm)" /></label>
      <label>z mm <NumberField :model-value="port.at?.[2] ?? 0" :commit="(mm) => place(2, mm)" /></label>
      <label>Load N <NumberField v-model="port.load_n" optional min="1" /></label>
      <label>Moment N·m <NumberField v-model="port.moment_nm" optional min="0.1" step="0.1" /></label>
      <BFormCheckbox v-model="port.anti_twist">pins</BFormCheckbox>
      <BButton @click="drop(chosen)">Remove this port</BButton>
    </form>
    <BButton class="every" :aria-expanded="pointing" @click="pointing = !pointing">
      {{ pointing ? 'Stop pointing' : 'Point on it' }}
    </BButton>
    <PointOn
      v-if="pointing"
      :model="draft"
      :chosen="chosen"
      @choose="chosen = $event"
      @port="(p) => (draft.ports = ports.map((x, i) => (i === chosen ? p : x)))"
      @solids="draft.shapes = $event"
    />
    <BButton class="every" :aria-expanded="whole" @click="whole = !whole">
      {{ whole ? 'Fewer fields' : 'Every field' }}
    </BButton>
    <template v-if="whole">
      <details v-for="[title, only] in SECTIONS" :key="title" class="section" open>
        <summary>{{ title }}</summary>
        <FieldsEditor
          type="GearModel"
          :types="shelf.types"
          path="$"
          :problems="places"
          :only="only"
          :model-value="draft as unknown as Document"
          @update:model-value="draft = $event as unknown as GearModel"
        />
      </details>
    </template>
    <p class="quiet">x forward, y to the operator's left, z up. A port faces outwards from the surface it sits on.</p>
  </section>
</template>

<style>
.model-editor .confirm {
  padding: var(--gap-5) var(--gap-7);
  color: var(--watch);
}
.model-editor .every {
  margin: var(--gap-6) var(--gap-7);
}
.model-editor .section {
  padding: 0 var(--gap-7) var(--gap-6);
}
.model-editor .section > summary {
  font: 600 var(--t-4) var(--text);
  padding: var(--gap-4) 0;
  cursor: pointer;
}
</style>
