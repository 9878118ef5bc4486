<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, ref, watch } from 'vue'
import { readVenue, type JobOperation } from '../api'
import type { Picture, Spot, Thing, VenueView } from '../api/schema.gen'
import ChoiceField from '../components/fields/ChoiceField.vue'
import NumberField from '../components/fields/NumberField.vue'
import PictureField from '../components/fields/PictureField.vue'
import type { Findable } from '../components/frame/FinderDialog.vue'
import FrameShell from '../components/frame/FrameShell.vue'
import FieldsEditor from '../components/gear/FieldsEditor.vue'
import PlanDrawing from '../components/job/PlanDrawing.vue'
import type { KeyLine } from '../composables/useKeys'
import { useLoad } from '../composables/useLoad'
import { fixed } from '../lib/format'
import { changedIn, type Document } from '../lib/gear'
import { scaledPicture, snapped } from '../lib/venue'
import { useFrame } from '../stores/frame'
import FrameTrouble from '../components/frame/FrameTrouble.vue'

const props = defineProps<{ job: string; part: string; rig: string }>()
const frame = useFrame()
const { found: plan, problem, load } = useLoad<VenueView>(['job', 'jobs'])
const selected = ref('')
watch(() => props.job, frame.open, { immediate: true })
watch(
  () => [props.job, props.part, frame.view?.version],
  () => {
    void load(() => readVenue(props.job, props.part))
  },
  { immediate: true },
)

const things = computed(() => plan.value?.things ?? [])
const cameras = computed(() => plan.value?.cameras ?? [])
const thing = computed(() => things.value.find((t) => `thing:${t.id}` === selected.value) ?? null)
const camera = computed(() => cameras.value.find((c) => `camera:${c.rig}` === selected.value) ?? null)
/** What is typed, until the field is left; what arrives meanwhile does not take it away. */
const draft = ref<Document | null>(null)
let typing = 0
/** What the draft was made from. */
let base: Document = {}
let shown = ''
watch([thing, camera], () => {
  const same = selected.value === shown
  if (same && typing > 0) return
  const now = (thing.value ?? camera.value?.place ?? null) as Document | null
  // What is being typed stays; the rest is as it came.
  const mine = same && draft.value ? changedIn(base, draft.value) : {}
  shown = selected.value
  typing = 0
  draft.value = now && { ...now, ...mine }
  base = { ...now }
})

const KINDS: Thing['kind'][] = ['to see', 'obstacle', 'lane', 'lamp', 'mains', 'charger', 'person']
const SIZES: Partial<Record<Thing['kind'], Partial<Thing>>> = {
  'to see': { height_m: 1.7 },
  obstacle: { width_m: 4, depth_m: 1, height_m: 2 },
  lane: { width_m: 8, depth_m: 2 },
  lamp: { height_m: 2.5, lux_1m: 3000, beam_deg: 60 },
}

function put(kind: Thing['kind']): Promise<boolean> {
  const count = things.value.filter((t) => t.kind === kind).length + 1
  const ids = new Set(things.value.map((t) => t.id))
  let n = count
  while (ids.has(`${kind.replace(' ', '-')}-${String(n)}`)) n++
  const id = `${kind.replace(' ', '-')}-${String(n)}`
  const at = { x_m: 2 * (count % 5), y_m: kind === 'to see' ? 10 : 2 * count }
  selected.value = `thing:${id}`
  return frame.edit({
    op: 'put thing',
    thing: { id, label: `${kind} ${String(n)}`, kind, ...at, ...SIZES[kind] } as Thing,
  })
}
function stand(rig: string, change: Partial<Spot>): Promise<boolean> {
  return frame.editFrom((job) => {
    const now = job.rigs?.find((r) => r.id === rig)?.place
    return { op: 'set place', rig, place: { ...now, ...change } } as JobOperation
  })
}
/** Put, or moved by so much: from where it is when its turn comes, so that fast presses add up. */
function placeAt(key: string, to: (x: number, y: number) => { x_m: number; y_m: number }): void {
  const [kind, id = ''] = key.split(/:(.*)/s)
  void frame.editFrom((job) => {
    if (kind === 'camera') {
      const now = job.rigs?.find((r) => r.id === id)?.place
      return { op: 'set place', rig: id, place: { ...now, ...to(now?.x_m ?? 0, now?.y_m ?? 0) } } as JobOperation
    }
    const now = job.venue?.things?.find((t) => t.id === id)
    return { op: 'put thing', thing: { ...now, ...to(now?.x_m ?? 0, now?.y_m ?? 0) } } as JobOperation
  })
}
function move(key: string, x: number, y: number): void {
  placeAt(key, () => ({ x_m: x, y_m: y }))
}
function nudge(key: string, east: number, north: number): void {
  placeAt(key, (x, y) => ({ x_m: snapped(x + east), y_m: snapped(y + north) }))
}
async function commit(): Promise<void> {
  if (!draft.value) return
  const key = selected.value
  const value = { ...draft.value }
  const typed = changedIn(base, value)
  base = value
  typing++
  const rig = camera.value?.rig ?? ''
  const id = thing.value?.id
  // What else was changed since the fields were shown stays as it is.
  await frame.editFrom((job) =>
    id === undefined
      ? ({ op: 'set place', rig, place: { ...job.rigs?.find((r) => r.id === rig)?.place, ...typed } } as JobOperation)
      : ({
          op: 'put thing',
          thing: { ...(job.venue?.things?.find((t) => t.id === id) ?? value), ...typed },
        } as JobOperation),
  )
  if (selected.value === key) typing = Math.max(0, typing - 1)
}
function aim(aims_at: string): Promise<boolean> {
  return frame.edit({ op: 'put thing', thing: { ...thing.value, aims_at } as Thing })
}
function sees(id: string, on: boolean): void {
  const now = camera.value?.place?.sees ?? []
  if (camera.value) void stand(camera.value.rig, { sees: on ? [...now, id] : now.filter((s) => s !== id) })
}
/** Leads of cameras and chargers, as they are drawn and told. */
const leads = computed(() => [
  ...cameras.value.flatMap((c) => (c.lead ? [c.lead] : [])),
  ...(plan.value?.leads ?? []).map((l) => l.lead),
])
const leadHere = computed(() =>
  camera.value ? camera.value.lead : plan.value?.leads.find((l) => l.thing === thing.value?.id)?.lead,
)
const lampHere = computed(() => plan.value?.lamps.find((l) => l.thing === thing.value?.id) ?? null)
const watchedHere = computed(() => plan.value?.watched.find((w) => w.thing === thing.value?.id) ?? null)
const rigName = (id: string): string => {
  const c = cameras.value.find((x) => x.rig === id)
  return c ? `${String(c.number)} ${c.label}` : id
}
const lampUnits = computed(() => [
  { value: '', text: 'no unit of the shelf' },
  ...(frame.choices?.lamps ?? []).map((l) => ({ value: l.id, text: `${l.id} ${l.title}` })),
])
/** A lamp that is a unit takes the figures of its model. */
function lampIs(unit: string): Promise<boolean> {
  const model = frame.choices?.lamps.find((l) => l.id === unit)
  const figures = {
    ...(model?.lux_1m ? { lux_1m: model.lux_1m } : {}),
    ...(model?.beam_deg ? { beam_deg: model.beam_deg } : {}),
  }
  return frame.edit({ op: 'put thing', thing: { ...thing.value, ...figures, unit } as Thing })
}

const pointing = ref(false)
const points = ref<{ x: number; y: number }[]>([])
const apart = ref<number | null>(null)
const picture = computed(() => plan.value?.picture ?? null)
const setPicture = (to: Picture | null): Promise<boolean> => frame.edit({ op: 'set picture', picture: to })
function newPicture(id: string): void {
  const old = picture.value
  void setPicture(old ? { ...old, id } : { id, width_m: 40, x_m: 0, y_m: 0, turn_deg: 0 })
  startPointing()
}
function startPointing(): void {
  points.value = []
  apart.value = null
  pointing.value = true
}
async function scale(): Promise<void> {
  const [a, b] = points.value
  if (!picture.value || !a || !b || !apart.value) return
  if (await setPicture(scaledPicture(picture.value, a, b, apart.value))) pointing.value = false
}
watch(
  () => points.value.length,
  (count) => {
    if (count > 2) points.value = points.value.slice(-1)
  },
)
const named = (id: string | null | undefined): string => things.value.find((t) => t.id === id)?.label ?? id ?? ''
const ONLY = computed(() =>
  thing.value
    ? ['label', 'kind', 'x_m', 'y_m', 'ground_m', 'width_m', 'depth_m', 'height_m', 'turn_deg'].concat(
        thing.value.kind === 'lamp' ? ['lux_1m', 'beam_deg', 'dim'] : [],
      )
    : ['x_m', 'y_m', 'ground_m', 'camera_m'],
)

const PICTURE = [
  ['width_m', 'Width, m'],
  ['x_m', 'Middle east, m'],
  ['y_m', 'Middle north, m'],
  ['turn_deg', 'Turned, °'],
] as const
/** How an exposure is off, in words. */
function stops(over: number, wide: number, room: number): string {
  const by = fixed(Math.abs(over), 1)
  if (Math.abs(over) <= room) return `T${fixed(wide, 1)}, as the lens is set, is right.`
  return over < 0
    ? `${by} stops too dark at T${fixed(wide, 1)}, as the lens is set.`
    : `${by} stops too bright at T${fixed(wide, 1)}, as the lens is set: close down or add ND.`
}

const keys: KeyLine[] = [
  { keys: 'u', does: 'undo the last change of the job', run: () => frame.undo() },
  { keys: 'U', does: 'redo', run: () => frame.redo() },
  { keys: 'o', does: 'put an obstacle on the plan', run: () => put('obstacle') },
  { keys: 's', does: 'put something to see on the plan', run: () => put('to see') },
]
function findables(): Findable[] {
  return [
    ...things.value.map((t) => ({
      kind: t.kind,
      name: t.label,
      more: 'on the plan',
      go: () => (selected.value = `thing:${t.id}`),
    })),
    ...cameras.value.map((c) => ({
      kind: 'camera',
      name: c.label,
      more: 'on the plan',
      go: () => (selected.value = `camera:${c.rig}`),
    })),
  ]
}
</script>

<template>
  <FrameShell :job="job" :part="part" :rig="rig" place="venue" :keys="keys" :findables="findables">
    <main class="venue">
      <header class="venue-bar">
        <h1>Plan</h1>
        <span class="put-on-plan" role="group" aria-label="Put on the plan">
          <BButton v-for="k in KINDS" :key="k" @click="put(k)">+ {{ k }}</BButton>
        </span>
        <BButton aria-label="Undo" :disabled="!frame.view?.can_undo" @click="frame.undo()">↶</BButton>
        <BButton aria-label="Redo" :disabled="!frame.view?.can_redo" @click="frame.redo()">↷</BButton>
        <BLink class="btn btn-secondary" :to="{ name: 'job', params: { job, part, rig } }">Days and cameras</BLink>
      </header>
      <FrameTrouble />
      <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
      <PlanDrawing
        v-if="plan"
        :things="things"
        :cameras="cameras"
        :leads="leads"
        :picture="plan.picture ?? null"
        :points="points"
        :pointing="pointing"
        :selected="selected"
        @select="selected = $event"
        @point="(x, y) => points.push({ x, y })"
        @move="move"
        @nudge="nudge"
      />
      <aside class="venue-side" aria-label="What is chosen">
        <section v-if="camera" class="on-plan">
          <h2>
            <b>{{ camera.number }}</b> {{ camera.label }}
          </h2>
          <BButton v-if="!camera.place" variant="primary" @click="stand(camera.rig, { x_m: 0, y_m: 0 })"
            >Place it on the plan</BButton
          >
          <template v-else>
            <dl v-if="camera.sight" class="sight-figures">
              <div>
                <dt>Distance to subject</dt>
                <dd>
                  <b>{{ fixed(camera.sight.distance_m, 1) }}</b> m
                </dd>
              </div>
              <div>
                <dt>Needs</dt>
                <dd>
                  <b>{{ fixed(camera.sight.across_deg, 1) }}</b>°
                </dd>
              </div>
              <div v-if="camera.wedge">
                <dt>{{ camera.wedge.lens }} shows</dt>
                <dd :class="{ stop: camera.fits === false }">
                  <b>{{ fixed(camera.wedge.widest_deg, 1) }}</b>°
                </dd>
              </div>
              <div v-if="camera.walk_min != null">
                <dt>Walk</dt>
                <dd>
                  <b>{{ fixed(camera.walk_min, 1) }}</b> min
                </dd>
              </div>
              <div v-if="camera.sight.light">
                <dt>Light there</dt>
                <dd>
                  <b>EV {{ fixed(camera.sight.light.ev, 1) }}</b> {{ fixed(camera.sight.light.lux, 0) }} lx
                </dd>
              </div>
            </dl>
            <p v-if="camera.fits === false" class="stop">
              {{ camera.wedge?.lens }} shows {{ fixed(camera.wedge?.widest_deg ?? 0, 1) }}° at its widest;
              {{ fixed(camera.sight?.across_deg ?? 0, 1) }}° must fit. Step back, or take a wider lens.
            </p>
            <template v-for="s in camera.sight?.seen ?? []" :key="s.thing">
              <p v-if="s.hidden_by" class="stop">
                {{ named(s.thing) }} is hidden by {{ named(s.hidden_by) }}: the line of sight passes at
                {{ fixed(s.sight_m ?? 0, 2) }} m, it stands {{ fixed(s.obstacle_m ?? 0, 2) }} m high.
              </p>
              <p v-else class="quiet">
                {{ named(s.thing) }}: {{ fixed(s.distance_m, 1) }} m<template v-if="s.sight_m != null"
                  >, {{ fixed((s.sight_m ?? 0) - (s.obstacle_m ?? 0), 2) }} m over what stands between</template
                >
              </p>
            </template>
            <p v-if="camera.wedge?.near_m != null" class="quiet">
              Sharp from {{ fixed(camera.wedge.near_m, 1) }} m to
              {{ camera.wedge.far_m == null ? 'the horizon' : `${fixed(camera.wedge.far_m, 1)} m` }}
            </p>
            <template v-if="camera.exposure">
              <p>
                Right exposure: T{{ fixed(camera.exposure.t_stop, 1) }} at ISO {{ fixed(camera.exposure.iso, 0) }},
                {{ fixed(camera.exposure.shutter_deg, 0) }}°, {{ fixed(camera.exposure.fps, 0) }} fps.
              </p>
              <p :class="{ watch: camera.exposure.over_stops < -camera.exposure.room_stops }">
                {{ stops(camera.exposure.over_stops, camera.exposure.wide_open, camera.exposure.room_stops) }}
              </p>
              <p
                v-if="camera.exposure.ambient_over_stops != null && camera.sight?.light?.lamps.length"
                :class="{ watch: camera.exposure.ambient_over_stops < -camera.exposure.room_stops }"
              >
                With every lamp off:
                {{ stops(camera.exposure.ambient_over_stops, camera.exposure.wide_open, camera.exposure.room_stops) }}
              </p>
            </template>
            <p v-if="camera.in_frame.length" class="watch">
              In its frame: {{ camera.in_frame.map((f) => f.label).join(', ')
              }}<template v-if="camera.in_frame.some((f) => f.what === 'lamp')">. Flag, dim or move the lamp</template>
            </p>
            <p v-if="camera.typed" class="quiet">
              What was typed on the Job screen wins over the plan; the plan tells the rest.
              <BButton @click="frame.edit({ op: 'set target', rig: camera.rig, target: null })">Use the plan</BButton>
            </p>
            <fieldset class="must-see">
              <legend>Must see</legend>
              <BFormCheckbox
                v-for="t in things.filter((x) => x.kind === 'to see')"
                :key="t.id"
                :model-value="camera.place.sees?.includes(t.id) ?? false"
                @update:model-value="sees(t.id, $event === true)"
                >{{ t.label }}</BFormCheckbox
              >
              <p v-if="!things.some((x) => x.kind === 'to see')" class="quiet">
                Put something to see on the plan first.
              </p>
            </fieldset>
          </template>
        </section>
        <section v-else-if="thing" class="on-plan">
          <h2>{{ thing.label }}</h2>
          <template v-if="watchedHere">
            <p v-if="watchedHere.seen_by.length">Seen by {{ watchedHere.seen_by.map(rigName).join(', ') }}.</p>
            <p v-else class="watch">No camera sees it. Choose a camera and tick it under “Must see”.</p>
            <p v-if="watchedHere.seen_by.length === 1" class="watch">
              Only one camera sees it: when that fails, it is lost.
            </p>
            <p v-if="watchedHere.locked.length" class="quiet">
              Not followed by {{ watchedHere.locked.map(rigName).join(', ') }}: a locked frame.
            </p>
          </template>
          <p v-if="lampHere">
            {{ lampHere.pack }} runs it {{ lampHere.hours == null ? 'for ever' : `${fixed(lampHere.hours, 2)} h` }} at
            full power ({{ fixed(lampHere.watts, 0) }} W).
          </p>
          <p v-else-if="thing.kind === 'lamp' && thing.unit" class="quiet">
            No pack of the shelf runs {{ thing.unit }}: hours unknown.
          </p>
          <p v-if="thing.kind === 'lamp'" class="quiet">
            Lamps and stands: weigh the stand down, tie the lead to it, keep hot lamps away from cloth and people.
          </p>
        </section>
        <section v-else class="on-plan">
          <h2>Cameras</h2>
          <p class="quiet">Choose a camera to place it. Drag things on the plan, or move them with the arrow keys.</p>
          <p v-for="w in plan?.watched.filter((x) => x.seen_by.length < 2) ?? []" :key="w.thing" class="watch">
            {{ named(w.thing) }}:
            {{ w.seen_by.length ? `only ${w.seen_by.map(rigName).join()} sees it` : 'no camera sees it' }}
          </p>
          <BButton v-for="c in cameras" :key="c.rig" class="camera-line" @click="selected = `camera:${c.rig}`">
            <b>{{ c.number }}</b> {{ c.label }} <small>{{ c.place ? '' : 'not on the plan yet' }}</small>
          </BButton>
          <label class="aims"
            >Walking speed, m/s
            <NumberField
              :model-value="plan?.walk_m_s ?? 1.2"
              min="0.1"
              max="5"
              step="any"
              :commit="(walk_m_s: number) => frame.edit({ op: 'set walk', walk_m_s })"
            />
          </label>
          <h2>Picture under the plan</h2>
          <PictureField
            :label="picture ? 'Another picture' : 'A plan or a photo from above'"
            :has="!!picture"
            @kept="newPicture"
            @removed="setPicture(null)"
          />
          <template v-if="picture">
            <div class="picture-figures">
              <label v-for="[field, label] in PICTURE" :key="field"
                >{{ label }}
                <NumberField
                  :model-value="picture[field] ?? 0"
                  step="any"
                  :commit="(value: number) => setPicture({ ...picture!, [field]: value })"
              /></label>
            </div>
            <BButton v-if="!pointing" @click="startPointing">Set its scale by two points</BButton>
            <form v-else class="two-points" @submit.prevent="scale">
              <p>
                {{
                  points.length < 2
                    ? `Press point ${points.length + 1} of 2 on the picture, a known distance apart.`
                    : 'How far apart are they?'
                }}
              </p>
              <label v-if="points.length === 2"
                >Metres apart <NumberField v-model="apart" step="any" min="0.1"
              /></label>
              <BButton v-if="points.length === 2" type="submit" variant="primary">Scale it</BButton>
              <BButton @click="pointing = false">Cancel</BButton>
            </form>
          </template>
        </section>
        <p v-if="leadHere" :class="leadHere.crosses.length ? 'watch' : 'quiet'">
          Mains lead from {{ named(leadHere.outlet) }}: {{ fixed(leadHere.length_m, 1) }} m on the ground<template
            v-if="leadHere.crosses.length"
            >, across {{ leadHere.crosses.map(named).join(', ') }}. Ramp or tape it, or go another way</template
          >.
        </p>
        <form
          v-if="draft && plan && (thing || camera?.place)"
          class="plan-fields"
          @change="commit"
          @submit.prevent="commit"
        >
          <FieldsEditor
            v-model="draft"
            :type="thing ? 'Thing' : 'Spot'"
            :types="plan.fields ?? {}"
            path="$"
            :problems="frame.problem?.places ?? []"
            :only="ONLY"
          />
          <label v-if="thing?.kind === 'lamp'" class="aims"
            >Points at
            <ChoiceField
              :model-value="thing.aims_at ?? ''"
              :choices="[
                { value: '', text: 'everywhere' },
                ...things.filter((x) => x.kind === 'to see').map((x) => ({ value: x.id, text: x.label })),
              ]"
              :commit="aim"
            />
          </label>
          <label v-if="thing?.kind === 'lamp'" class="aims"
            >It is
            <ChoiceField
              :model-value="thing.unit ?? ''"
              aria-label="Which light of the shelf it is"
              :choices="lampUnits"
              :commit="lampIs"
            />
          </label>
          <BButton v-if="thing" @click="frame.edit({ op: 'remove thing', thing: thing.id })"
            >Take it off the plan</BButton
          >
          <BButton v-else-if="camera" @click="frame.edit({ op: 'set place', rig: camera.rig, place: null })"
            >Take it off the plan</BButton
          >
          <BButton @click="selected = ''">Cameras</BButton>
        </form>
      </aside>
    </main>
  </FrameShell>
</template>

<style>
.venue {
  grid-area: bench / bench / foot / foot;
  min-height: 0;
  display: grid;
  grid-template: auto minmax(0, 1fr) / minmax(0, 1fr) 340px;
  background: var(--sheet);
  border-top: 1px solid var(--rule);
}
.venue-bar {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
  align-items: center;
  padding: var(--gap-5) var(--gap-7);
  border-bottom: 1px solid var(--rule-2);
}
.venue-bar h1 {
  font: 700 var(--t-6) var(--text);
}
.put-on-plan {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  flex: 1;
}
.venue > .trouble {
  grid-column: 1 / -1;
}
.venue-side {
  border-left: 1px solid var(--rule);
  overflow-y: auto;
  scrollbar-width: thin;
  padding: var(--gap-6) var(--gap-7);
}
.on-plan h2 {
  font: 600 var(--t-6) var(--text);
  padding-bottom: var(--gap-4);
}
.on-plan p {
  padding: var(--gap-2) 0;
}
.on-plan p.stop,
.sight-figures .stop {
  color: var(--stop);
}
.on-plan p.watch {
  color: var(--watch);
}
.sight-figures {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--gap-4) var(--gap-6);
}
.sight-figures dt {
  font-size: var(--t-2);
  font-weight: 400;
  color: var(--ink-2);
}
.sight-figures b {
  font: 600 var(--t-7) var(--figures);
}
.venue-side > p.watch {
  color: var(--watch);
}
.picture-figures label {
  display: grid;
  min-width: 0;
}
.picture-figures {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: var(--gap-3) var(--gap-5);
  padding: var(--gap-4) 0;
  font-size: var(--t-3);
}
.two-points {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
  align-items: end;
  font-size: var(--t-3);
}
.two-points p {
  width: 100%;
}
.must-see legend {
  font: 600 var(--t-3) var(--text);
}
.camera-line {
  display: block;
  width: 100%;
  text-align: left;
  margin-bottom: var(--gap-3);
}
.plan-fields {
  padding-top: var(--gap-6);
}
.plan-fields .fields {
  grid-template-columns: repeat(auto-fill, minmax(92px, 1fr));
}
.plan-fields > .btn {
  margin: var(--gap-6) var(--gap-4) 0 0;
}
.on-plan .aims,
.plan-fields .aims {
  display: grid;
  font-size: var(--t-2);
  color: var(--ink-2);
  margin-top: var(--gap-4);
}
@media (max-width: 760px) {
  .venue {
    grid-area: bench;
    display: block;
  }
  .plan-drawing {
    height: 56vh;
  }
  .put-on-plan {
    flex: 1 1 100%;
    order: 3;
    flex-wrap: nowrap;
    overflow-x: auto;
  }
  .put-on-plan .btn {
    flex: none;
  }
  .venue-bar h1 {
    flex: 1;
  }
  .venue-side {
    border: 0;
  }
  .venue .btn {
    min-height: 42px;
  }
}
</style>
