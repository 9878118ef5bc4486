<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BDropdown, BDropdownItem } from 'bootstrap-vue-next/components/BDropdown'
import { computed, ref } from 'vue'
import type { JobOperation } from '../../api'
import type { FrameView } from '../../api/schema.gen'
import type { Choice } from '../../lib/fields'
import { vTip } from '../../lib/tip'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'
import NewBuild from './NewBuild.vue'
import TargetForm from './TargetForm.vue'

/** Cameras against parts of the day: which build each is in, and the builds there are. */
const props = defineProps<{ view: FrameView; part: string }>()
const emit = defineEmits<{ bench: [part: string, rig: string]; recipe: [build: string, label: string] }>()
const frame = useFrame()
const parts = computed(() => props.view.job.parts ?? [])
const rigs = computed(() => props.view.job.rigs ?? [])
type Rig = NonNullable<FrameView['job']['rigs']>[number]

const planned = (rig: string, part: string): string =>
  props.view.job.plan?.find((a) => a.rig === rig && a.part === part)?.build ?? ''
const choices = (rig: Rig): Choice[] => [
  { value: '', text: 'not there' },
  ...(rig.builds ?? []).map((b) => ({ value: b.id, text: b.label })),
]

const bodies = computed<Choice[]>(() =>
  (frame.choices?.bodies ?? []).map((b) => ({ value: b.id, text: `${b.id} ${b.title}` })),
)
const fresh = ref({ label: '', body: '' })
async function addCamera(): Promise<void> {
  const made = fresh.value
  const body = made.body || bodies.value[0]?.value
  if (!body) return
  // Emptied at once: the next one may be typed while this one is on its way.
  fresh.value = { label: '', body: '' }
  if (!(await frame.edit({ op: 'add camera', label: made.label, body, position: '' })) && !fresh.value.label)
    fresh.value = made
}

/** The camera whose wants are open. */
const seeing = ref('')

/** The camera that gets a new build, and what that starts from. */
const making = ref<{ rig: string; from: string } | null>(null)

const plan = (rig: string, at: string, build: string | null): JobOperation => ({
  op: 'plan build',
  rig,
  part: at,
  build: build || null,
})
/** All cameras out of these parts first: what moves never meets itself. */
const cleared = (...of: string[]): JobOperation[] => of.flatMap((p) => rigs.value.map((r) => plan(r.id, p, null)))
/** Builds come from the other part; who works the camera stays as it was said of this one. */
const filled = (to: string, from: string): JobOperation[] =>
  rigs.value.flatMap((r) => {
    const build = planned(r.id, from)
    const said = props.view.job.plan?.find((a) => a.rig === r.id && a.part === to)
    const who: JobOperation[] =
      build && (said?.operator || said?.unattended || said?.spotter)
        ? [
            {
              op: 'set cell',
              rig: r.id,
              part: to,
              operator: said.operator ?? '',
              unattended: said.unattended ?? false,
              ...(said.spotter ? { spotter: said.spotter } : {}),
            },
          ]
        : []
    return [plan(r.id, to, build || null), ...who]
  })
const copyFrom = (to: string, from: string): Promise<boolean> => frame.edit(...cleared(to), ...filled(to, from))
const exchange = (a: string, b: string): Promise<boolean> =>
  frame.edit(...cleared(a, b), ...filled(a, b), ...filled(b, a))
const allDay = (rig: string, at: string): Promise<boolean> =>
  frame.edit(...parts.value.map((p) => plan(rig, p.id, planned(rig, at) || null)))
const named = (event: Event): string => (event.target as HTMLInputElement).value
</script>

<template>
  <div class="cameras">
    <div v-if="rigs.length" class="rows" role="table" aria-label="Cameras and the build each is in">
      <div role="row" class="row-head">
        <span role="columnheader">No.</span>
        <span role="columnheader">Camera and where it stands</span>
        <span v-for="p in parts" :key="p.id" role="columnheader" :class="{ here: p.id === part }">
          {{ p.label }}
          <BDropdown
            v-if="parts.length > 1"
            size="sm"
            variant="secondary"
            no-caret
            :toggle-text="`Builds of ${p.label}`"
          >
            <template #button-content
              >⋯<span class="visually-hidden">Change all builds of {{ p.label }}</span></template
            >
            <template v-for="other in parts" :key="other.id">
              <template v-if="other.id !== p.id">
                <BDropdownItem @click="copyFrom(p.id, other.id)">Copy all builds from {{ other.label }}</BDropdownItem>
                <BDropdownItem @click="exchange(p.id, other.id)">Exchange with {{ other.label }}</BDropdownItem>
              </template>
            </template>
            <BDropdownItem @click="frame.edit(...cleared(p.id))">Clear {{ p.label }}</BDropdownItem>
          </BDropdown>
        </span>
        <span role="columnheader"><span class="visually-hidden">Actions</span></span>
      </div>
      <div v-for="r in rigs" :key="r.id" role="rowgroup" class="camera">
        <div role="row">
          <span role="cell">
            <NumberField
              :model-value="r.number"
              min="1"
              max="99"
              :aria-label="`Number of ${r.label}`"
              :commit="(number: number) => frame.edit({ op: 'change camera', rig: r.id, number })"
            />
          </span>
          <span role="cell" class="who">
            <TextField
              :model-value="r.label"
              :aria-label="`Name of camera ${r.number}`"
              @change="frame.edit({ op: 'change camera', rig: r.id, label: named($event) })"
            />
            <TextField
              :model-value="r.position"
              placeholder="Where it stands"
              :aria-label="`Position of ${r.label}`"
              @change="frame.edit({ op: 'change camera', rig: r.id, position: named($event) })"
            />
          </span>
          <span
            v-for="p in parts"
            :key="p.id"
            role="cell"
            class="cell"
            :class="{ here: p.id === part, out: !planned(r.id, p.id) }"
          >
            <span class="narrow">{{ p.label }}</span>
            <ChoiceField
              :model-value="planned(r.id, p.id)"
              :choices="choices(r)"
              :aria-label="`${r.label} in ${p.label}`"
              :commit="(b: string) => frame.edit({ op: 'plan build', rig: r.id, part: p.id, build: b || null })"
            />
          </span>
          <span role="cell" class="acts">
            <BButton :aria-expanded="seeing === r.id" @click="seeing = seeing === r.id ? '' : r.id">Sees</BButton>
            <BButton
              v-if="parts.length > 1"
              v-tip="`Same build in every part as in the chosen one`"
              @click="allDay(r.id, part)"
              >All day</BButton
            >
            <BButton @click="emit('bench', part, r.id)">Bench</BButton>
            <BButton @click="frame.edit({ op: 'remove camera', rig: r.id })">Remove</BButton>
          </span>
        </div>
        <div v-if="seeing === r.id" role="row">
          <div role="cell" class="builds-of">
            <TargetForm :rig="r.id" :label="r.label" :target="r.target ?? null" />
          </div>
        </div>
        <div role="row">
          <div role="cell" class="builds">
            <span v-for="b in r.builds ?? []" :key="b.id" class="one-build">
              <TextField
                :model-value="b.label"
                :aria-label="`Name of a build of ${r.label}`"
                @change="frame.edit({ op: 'change build', build: b.id, label: named($event) })"
              />
              <small>{{ view.units[b.id] }} {{ view.units[b.id] === 1 ? 'unit' : 'units' }} on {{ b.body }}</small>
              <BButton :aria-label="`Open ${b.label} of ${r.label}`" @click="emit('bench', part, `${r.id}~${b.id}`)"
                >Open</BButton
              >
              <BButton @click="making = { rig: r.id, from: `copy\t${b.id}` }">Copy</BButton>
              <BButton
                :aria-label="`Keep ${b.label} of ${r.label} as a recipe`"
                @click="emit('recipe', b.id, `${r.label} ${b.label}`)"
                >Keep as recipe</BButton
              >
              <BButton v-if="(r.builds?.length ?? 0) > 1" @click="frame.edit({ op: 'remove build', build: b.id })">
                Remove
              </BButton>
            </span>
            <NewBuild
              v-if="making?.rig === r.id"
              :key="making.from"
              :view="view"
              :rig="r.id"
              :part="part"
              :from="making.from"
              :bodies="bodies"
              @done="making = null"
            />
            <BButton v-else class="more-builds" @click="making = { rig: r.id, from: '' }">New build</BButton>
          </div>
        </div>
      </div>
    </div>
    <form class="new-camera" @submit.prevent="addCamera">
      <h3>{{ rigs.length ? 'Another camera' : 'First camera' }}</h3>
      <p v-if="frame.choices && !bodies.length" class="quiet">
        No camera body in stock yet. Enter one on the Shelf, then come back.
      </p>
      <template v-else-if="bodies.length">
        <label>Position or name <TextField v-model="fresh.label" required placeholder="Quay" /></label>
        <label
          >Body
          <ChoiceField
            :model-value="fresh.body || bodies[0]?.value"
            :choices="bodies"
            @update:model-value="fresh.body = $event ?? ''"
          />
        </label>
        <BButton type="submit" variant="primary">Add the camera</BButton>
      </template>
    </form>
  </div>
</template>

<style>
.rows [role='row']:not(:has(.builds, .builds-of)) {
  display: grid;
  grid-template-columns: 56px minmax(200px, 1.6fr) repeat(v-bind('parts.length'), minmax(90px, 1fr)) auto;
  gap: var(--gap-5);
  align-items: center;
}
.row-head {
  font-size: var(--t-2);
  color: var(--ink-2);
  padding: 0 var(--gap-6) var(--gap-2);
}
.row-head .here {
  color: var(--mark);
  font-weight: 600;
}
.row-head > :last-child {
  width: 262px;
}
.row-head .dropdown {
  display: inline-block;
}
.row-head .dropdown .btn {
  min-height: 24px;
  padding: 0 var(--gap-4);
}
.camera {
  padding: var(--gap-5) var(--gap-6);
  border-top: 4px solid var(--rule);
  background: var(--lift);
  margin-bottom: var(--gap-4);
}
.camera .who {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.3fr);
  gap: var(--gap-4);
}
.camera .who input:first-child {
  font-weight: 600;
}
.camera .acts {
  display: flex;
  gap: var(--gap-4);
  width: 262px;
}
.cell.here select {
  background-color: var(--mark-wash);
}
.cell.out select {
  color: var(--ink-2);
}
.narrow {
  display: none;
}
.builds {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4) var(--gap-9);
  padding: var(--gap-4) 0 0 64px;
}
.one-build {
  display: flex;
  gap: var(--gap-5);
  align-items: center;
  flex-wrap: wrap;
}
.one-build small {
  font-size: var(--t-2);
  color: var(--ink-2);
}
.one-build input {
  max-width: 120px;
}
.new-camera label {
  display: grid;
  gap: var(--gap-2);
  font-size: var(--t-3);
}
.new-camera {
  align-items: end;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-7);
  padding: var(--gap-7);
  border: 1px solid var(--rule);
}
.new-camera h3 {
  padding: 0;
  align-self: center;
}
@media (max-width: 900px) {
  .row-head {
    display: none !important;
  }
  .rows [role='row']:not(:has(.builds, .builds-of)) {
    grid-template-columns: 56px minmax(0, 1fr);
  }
  .cell {
    grid-column: 1 / -1;
    display: grid;
    grid-template-columns: 40% 1fr;
    align-items: center;
  }
  .narrow {
    display: block;
  }
  .builds {
    padding-left: 0;
  }
  .camera .btn,
  .new-camera .btn {
    min-height: 42px;
  }
}
</style>
