<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, shallowRef } from 'vue'
import type { GearModel, Port } from '../../api/schema.gen'
import {
  boxBetween,
  flatOf,
  inSpace,
  onReference,
  outlineOf,
  pointedAt,
  scaledPhoto,
  viewNamed,
  VIEWS,
  type Flat,
  type Photo,
  type ViewName,
} from '../../lib/pointing'
import { FACES } from '../../lib/models'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'

/** Ports and solids set by pointing, on the outline or on a photo of the thing that lies under it. */
const props = defineProps<{ model: GearModel; chosen: number }>()
const emit = defineEmits<{
  port: [port: Port]
  solids: [shapes: NonNullable<GearModel['shapes']>]
  choose: [index: number]
}>()
type Doing = 'port' | 'solid' | 'scale' | 'reference'

const seen = ref<ViewName>('side')
const doing = ref<Doing>('port')
const points = ref<Flat[]>([])
const apart = ref<number | null>(null)
const photos = shallowRef<Partial<Record<ViewName, { data: string; ratio: number; at: Photo }>>>({})
const svg = ref<SVGSVGElement | null>(null)
const view = computed(() => viewNamed(seen.value))
const shapes = computed(() => props.model.shapes ?? [])
const ports = computed(() => props.model.ports ?? [])
const outlines = computed(() => shapes.value.map((s) => outlineOf(view.value, s)))
const photo = computed(() => photos.value[seen.value] ?? null)

/** All of it with room around; a photo counts. */
const span = computed(() => {
  const p = photo.value
  const all = [
    ...outlines.value,
    ...(p ? [{ left: p.at.u, right: p.at.u + p.at.width, top: p.at.v, bottom: p.at.v + p.at.width * p.ratio }] : []),
  ]
  const left = Math.min(-30, ...all.map((o) => o.left))
  const right = Math.max(30, ...all.map((o) => o.right))
  const top = Math.min(-30, ...all.map((o) => o.top))
  const bottom = Math.max(30, ...all.map((o) => o.bottom))
  const room = 0.08 * Math.max(right - left, bottom - top)
  return { x: left - room, y: top - room, width: right - left + 2 * room, height: bottom - top + 2 * room }
})
const unit = computed(() => Math.max(span.value.width, span.value.height) / 420)

function flatAt(event: PointerEvent): Flat {
  const matrix = svg.value?.getScreenCTM()
  if (!matrix) return { u: 0, v: 0 }
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse())
  return { u: at.x, v: at.y }
}
function point(event: PointerEvent): void {
  const flat = flatAt(event)
  if (doing.value === 'port') return putPort(flat)
  if (doing.value === 'reference') {
    move((at) => onReference(at, flat))
    doing.value = 'port'
    return
  }
  points.value = points.value.length >= 2 ? [flat] : [...points.value, flat]
  const [a, b] = points.value
  if (doing.value === 'solid' && a && b) {
    emit('solids', [...shapes.value, boxBetween(view.value, a, b, shapes.value.at(-1))])
    points.value = []
  }
}
function putPort(flat: Flat): void {
  const old = ports.value[props.chosen]
  if (!old) return
  const { at, face } = pointedAt(view.value, shapes.value, flat, 8 * unit.value)
  const known = FACES.find((f) => f.name === face)
  emit('port', {
    ...old,
    at: inSpace(view.value, at, old.at ?? [0, 0, 0]),
    n: known?.n ?? old.n,
    u: known?.u ?? old.u,
  } as Port)
}

function move(to: (at: Photo) => Photo): void {
  const p = photo.value
  if (p) photos.value = { ...photos.value, [seen.value]: { ...p, at: to(p.at) } }
}
function scale(): void {
  const [a, b] = points.value
  const mm = apart.value
  if (!a || !b || !mm) return
  move((at) => scaledPhoto(at, a, b, mm))
  points.value = []
  doing.value = 'reference'
}
/** The photo stays in this browser: only what is pointed at is kept. */
async function lay(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  const data = await new Promise<string>((resolve) => {
    const reader = new FileReader()
    reader.onload = () => {
      resolve(String(reader.result))
    }
    reader.readAsDataURL(file)
  })
  const image = new Image()
  image.src = data
  await image.decode()
  const ratio = image.naturalHeight / image.naturalWidth
  const width = 200
  photos.value = {
    ...photos.value,
    [seen.value]: { data, ratio, at: { u: -width / 2, v: (-width * ratio) / 2, width } },
  }
  doing.value = 'scale'
  points.value = []
}
const SAYS = computed<Record<Doing, string>>(() => ({
  port: ports.value[props.chosen]
    ? `Press where “${ports.value[props.chosen]?.label ?? ''}” is. Near an edge it sits on that face.`
    : 'Add a port first, then press where it is.',
  solid: `Press ${points.value.length ? 'the other corner' : 'one corner'} of a new solid.`,
  scale:
    points.value.length < 2
      ? `Press point ${String(points.value.length + 1)} of 2 that are a known distance apart.`
      : 'How far apart are they?',
  reference: 'Press the reference on the photo: the film plane on the lens axis, or where the thing is held.',
}))
const DOINGS = computed(() => [
  { value: 'port' as Doing, text: 'place the chosen port' },
  { value: 'solid' as Doing, text: 'add a solid by two corners' },
  ...(photo.value
    ? [
        { value: 'scale' as Doing, text: 'scale the photo by two points' },
        { value: 'reference' as Doing, text: 'put the photo on the reference' },
      ]
    : []),
])
</script>

<template>
  <section class="point-on" aria-label="Point on it">
    <div class="point-bar">
      <label
        >From <ChoiceField v-model="seen" :choices="VIEWS.map((v) => v.name)" aria-label="View to point on"
      /></label>
      <label
        >Pressing will
        <ChoiceField
          v-model="doing"
          :choices="DOINGS"
          aria-label="What pressing does"
          @update:model-value="points = []"
        />
      </label>
      <label>Photo from there <input type="file" class="form-control" accept="image/*" @change="lay" /></label>
    </div>
    <p role="status">{{ SAYS[doing] }}</p>
    <form v-if="doing === 'scale' && points.length === 2" class="point-bar" @submit.prevent="scale">
      <label>mm apart <NumberField v-model="apart" min="1" step="any" /></label>
      <BButton type="submit" variant="primary">Scale the photo</BButton>
    </form>
    <svg
      ref="svg"
      :viewBox="`${span.x} ${span.y} ${span.width} ${span.height}`"
      role="group"
      :aria-label="`The thing from the ${seen}, to point on`"
      @pointerdown="point"
    >
      <image
        v-if="photo"
        :href="photo.data"
        :x="photo.at.u"
        :y="photo.at.v"
        :width="photo.at.width"
        :height="photo.at.width * photo.ratio"
        preserveAspectRatio="none"
      />
      <path class="axes" :stroke-width="unit" :d="`M${span.x} 0h${span.width}M0 ${span.y}v${span.height}`" />
      <rect
        v-for="(o, i) in outlines"
        :key="i"
        class="solid"
        :class="{ through: photo }"
        :x="o.left"
        :y="o.top"
        :width="o.right - o.left"
        :height="o.bottom - o.top"
        :stroke-width="1.5 * unit"
      />
      <circle
        v-for="(p, i) in ports"
        :key="p.id"
        :class="{ chosen: i === chosen }"
        :cx="flatOf(view, p.at ?? [0, 0, 0]).u"
        :cy="flatOf(view, p.at ?? [0, 0, 0]).v"
        :r="(i === chosen ? 6 : 4) * unit"
        :stroke-width="1.5 * unit"
        @pointerdown.stop="emit('choose', i)"
      >
        <title>{{ p.label }}</title>
      </circle>
      <circle v-for="(p, i) in points" :key="`p${i}`" class="point" :cx="p.u" :cy="p.v" :r="4 * unit" />
    </svg>
  </section>
</template>

<style>
.point-on {
  padding: var(--gap-4) var(--gap-7);
  font-size: var(--t-3);
}
.point-bar {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4) var(--gap-6);
  align-items: end;
}
.point-bar label {
  display: grid;
  gap: var(--gap-1);
  min-width: 0;
}
.point-bar input[type='file'] {
  max-width: 220px;
}
.point-on svg {
  display: block;
  width: 100%;
  max-height: 420px;
  background: var(--sheet);
  border: 1px solid var(--rule);
  cursor: crosshair;
  touch-action: none;
}
.point-on .axes {
  fill: none;
  stroke: var(--rule);
}
.point-on .solid {
  fill: var(--p-metal);
  stroke: var(--p-line);
}
.point-on .solid.through {
  fill-opacity: 0.25;
}
.point-on circle {
  fill: var(--lift);
  stroke: var(--mark);
  cursor: pointer;
}
.point-on circle.chosen {
  fill: var(--mark);
}
.point-on circle.point {
  fill: var(--stop);
  stroke: none;
}
</style>
