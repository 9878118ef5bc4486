<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, ref, shallowRef, watch } from 'vue'
import { pictureAt, putUnit, removeUnit, type Place } from '../../api'
import type { Problem } from '../../api/client'
import type { Unit } from '../../api/schema.gen'
import { fixed, grams } from '../../lib/format'
import type { Document } from '../../lib/gear'
import { useJob } from '../../stores/job'
import { useShelf } from '../../stores/shelf'
import ElevationPanel from '../bench/ElevationPanel.vue'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import PictureField from '../fields/PictureField.vue'
import TextField from '../fields/TextField.vue'
import FieldsEditor from '../gear/FieldsEditor.vue'
import MeasurePanel from './MeasurePanel.vue'

defineProps<{ place: Place }>()
const emit = defineEmits<{ 'edit-model': []; saved: []; more: [model: string]; removed: [] }>()
const shelf = useShelf()
const job = useJob()
const draft = ref<Unit | null>(null)
const problem = shallowRef<Problem | null>(null)
const measuring = ref(false)
const view = computed(() => shelf.unit)
const port = ref('')

watch(
  view,
  (now) => {
    draft.value = now ? { ...now.unit } : null
    problem.value = null
  },
  { immediate: true },
)

async function save(change: Partial<Unit> = {}): Promise<void> {
  if (!draft.value) return
  try {
    shelf.unit = await putUnit({ ...draft.value, ...change }, view.value?.seen ?? 0)
    problem.value = null
    emit('saved')
  } catch (error) {
    problem.value = error as Problem
  }
}

async function remove(): Promise<void> {
  if (!view.value) return
  try {
    await removeUnit(view.value.unit.id, view.value.seen)
    shelf.leave()
    emit('removed')
  } catch (error) {
    problem.value = error as Problem
  }
}

void shelf.learnFields()
const MORE = [
  'serial',
  'price',
  'bought',
  'hired_from',
  'hired_until',
  'measured_g',
  'measured_cg_mm',
  'measured_w',
  'measured_h',
]
const OWNERS = [
  { value: 'owned', text: 'own' },
  { value: 'hired', text: 'hired' },
] as const
const changed = computed(() => JSON.stringify(draft.value) !== JSON.stringify(view.value?.unit))
const rigs = computed(() => job.job?.rigs ?? [])
</script>

<template>
  <div v-if="view && draft" class="unit-panel">
    <header>
      <h2 class="unit">{{ view.unit.id }}</h2>
      <p>
        {{ view.title }} <small>{{ view.kind }}</small>
      </p>
    </header>
    <div v-if="shelf.model" class="lone">
      <ElevationPanel
        v-for="e in shelf.model.preview.elevations"
        :key="e.view"
        :drawing="e"
        :selected="view.unit.model"
        :slides="{}"
        :flagged="{}"
        @port="
          (_, p) => {
            port = p
          }
        "
      />
    </div>
    <div class="unit-photo">
      <img v-if="view.unit.photo" :src="pictureAt(view.unit.photo)" :alt="`Photo of ${view.unit.id}`" />
      <PictureField
        :label="view.unit.photo ? 'Another photo' : 'Photo'"
        :has="!!view.unit.photo"
        @kept="save({ photo: $event })"
        @removed="save({ photo: '' })"
      />
    </div>
    <dl class="big">
      <div>
        <dt>Mass</dt>
        <dd>
          <b>{{ view.mass_g === null ? '?' : grams(view.mass_g) }}</b> g
          <small :class="view.mass_source">{{ view.mass_source }}</small>
        </dd>
      </div>
      <div>
        <dt>CG</dt>
        <dd>
          <b>{{ view.cg_mm.map((v) => fixed(v, 0)).join(', ') }}</b> mm
          <small :class="view.cg_source">{{ view.cg_source }}</small>
        </dd>
      </div>
      <div v-if="shelf.model?.model.pack">
        <dt>Health</dt>
        <dd>
          <b>{{ Math.round(view.health_left * 100) }}</b> %<template v-if="view.unit.cycles">
            after {{ view.unit.cycles }} cycles</template
          >{{ ' ' }}
          <small v-if="view.health_left !== view.unit.health" class="assumed">assumed from them</small>
        </dd>
      </div>
    </dl>
    <MeasurePanel
      v-if="measuring"
      :mass="view.mass_g"
      :cg="view.cg_mm"
      @mass="save({ measured_g: $event })"
      @cg="save({ measured_cg_mm: $event })"
      @close="measuring = false"
    />
    <p class="put-on">
      Where can it go?
      <BLink
        v-for="r in rigs"
        :key="r.id"
        class="btn btn-secondary"
        :to="{ name: 'bench', params: { job: place.job, part: place.part, rig: r.id }, query: { place: shelf.chosen } }"
        >{{ r.number }} {{ r.label }}</BLink
      >
    </p>
    <div class="unit-acts">
      <BButton v-if="!measuring" @click="measuring = true">Measure mass and CG</BButton>
      <BButton @click="emit('edit-model')">Model and ports</BButton>
      <BButton @click="emit('more', view.unit.model)">Add units of this model</BButton>
      <BButton @click="remove">Remove from stock</BButton>
    </div>
    <form class="unit-form" @submit.prevent="save()">
      <label>Owner <ChoiceField v-model="draft.owner" :choices="OWNERS" /></label>
      <label>Condition <ChoiceField v-model="draft.condition" :choices="['good', 'doubtful', 'out of use']" /></label>
      <label v-if="shelf.model?.model.pack"
        >Health <NumberField v-model="draft.health" min="0.05" max="1" step="0.01"
      /></label>
      <label v-if="shelf.model?.model.pack"
        >Cycles <NumberField v-model="draft.cycles" optional min="0" step="1"
      /></label>
      <label class="wide">Note <TextField v-model="draft.note" /></label>
      <FieldsEditor
        v-if="shelf.types.Unit"
        class="wide"
        type="Unit"
        :types="shelf.types"
        path="$"
        :problems="problem?.places ?? []"
        :only="MORE"
        :model-value="draft as unknown as Document"
        @update:model-value="draft = $event as unknown as Unit"
      />
      <BButton type="submit" :disabled="!changed">Save</BButton>
      <BButton v-if="view.unit.measured_g != null" @click="save({ measured_g: null, measured_cg_mm: null })">
        Delete measured values
      </BButton>
    </form>
    <p v-if="problem" class="trouble" role="alert">
      {{ problem.message }}
      <BButton v-if="problem.code === 'shelf.stale'" @click="shelf.openUnit(view.unit.id)">
        Show the current version
      </BButton>
    </p>
    <template v-if="shelf.model">
      <h3>Ports</h3>
      <ul class="port-list">
        <li v-for="p in shelf.model.model.ports ?? []" :key="p.id" :class="{ chosen: p.id === port }">
          <span>{{ p.label }}</span><span>{{
            shelf.interfaces?.interfaces.find((i) => i.id === p.interface)?.label ?? p.interface
          }}</span
          ><small>{{ p.gender }}</small>
        </li>
      </ul>
    </template>
    <h3>In builds</h3>
    <p v-if="!view.uses.length" class="quiet">none</p>
    <p v-for="u in view.uses" :key="u.rig + u.build" class="use-line">
      {{ u.rig }}, {{ u.build }} <small>{{ u.parts ? `${u.parts} parts of the day` : 'not planned' }}</small>
    </p>
    <template v-if="view.history.length">
      <h3>History</h3>
      <p v-for="h in view.history" :key="h.at" class="use-line">
        {{ h.title }} <small>{{ h.actor }}, {{ h.at.slice(0, 16).replace('T', ' ') }}</small>
      </p>
    </template>
  </div>
  <p v-else class="quiet">Choose a unit.</p>
</template>

<style>
.mass.assumed {
  font-style: italic;
}
.mass.assumed::before {
  content: '≈ ';
}
.working .assumed {
  font-style: italic;
}
.big {
  display: flex;
  gap: var(--gap-9);
  padding: var(--gap-5) var(--gap-7);
}
.big dt {
  font-size: var(--t-2);
  font-weight: 400;
  color: var(--ink-2);
}
.big b {
  font: 600 var(--t-6) var(--figures);
  letter-spacing: -0.05em;
}
.big small.measured {
  color: var(--mark);
}
.big small.assumed {
  font-style: italic;
}
.unit-photo {
  padding: var(--gap-4) var(--gap-7);
}
.unit-photo img {
  display: block;
  max-width: 100%;
  max-height: 260px;
  margin-bottom: var(--gap-4);
}
.put-on,
.unit-acts {
  padding: var(--gap-3) var(--gap-7);
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
  font-size: var(--t-3);
}
</style>
