<script setup lang="ts">
import { useEventListener, useResizeObserver } from '@vueuse/core'
import { BButton } from 'bootstrap-vue-next/components/BButton'
import {
  AmbientLight,
  DirectionalLight,
  HemisphereLight,
  Matrix4,
  PerspectiveCamera,
  Plane,
  Raycaster,
  Scene,
  Vector2,
  Vector3,
  WebGLRenderer,
} from 'three'
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { readSpace, type Operation, type Place } from '../../api'
import type { SpaceHinge, SpaceView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { fixed, signed } from '../../lib/format'
import {
  bendAt,
  bendShown,
  build,
  hitAt,
  LEVEL,
  subtree,
  turnAbout,
  turned,
  type Angles,
  type Axis,
  type Built,
  type Colours,
  type Moved,
} from '../../lib/space'
import NumberField from '../fields/NumberField.vue'

const props = defineProps<{
  place: Place
  version: number
  selected: string
  slides: Record<string, number>
  flagged: Record<string, string>
}>()
const emit = defineEmits<{
  select: [unit: string]
  port: [unit: string, port: string]
  move: [operation: Operation]
  settle: [operation: Operation]
}>()

const { found, problem, load } = useLoad<SpaceView>()
watch(
  () => [props.place.job, props.place.part, props.place.rig, props.version] as const,
  () => load(() => readSpace(props.place)),
  { immediate: true },
)
const space = computed(() => found.value?.space ?? null)

const frame = ref<HTMLElement | null>(null)
const canvas = ref<HTMLCanvasElement | null>(null)
const unable = ref(false)
const angles = ref<Angles>({ ...LEVEL })
const apart = ref(0)
const step = ref<number | null>(null)
const allPorts = ref(false)
const steps = computed(() => {
  const by = new Map<number, string>()
  for (const piece of space.value?.pieces ?? []) by.set(piece.step, piece.unit)
  return [...by.entries()].sort((a, b) => a[0] - b[0])
})
const last = computed(() => steps.value.at(-1)?.[0] ?? 0)
const upTo = computed(() => step.value ?? last.value)
const onTop = computed(() => steps.value.find(([n]) => n === upTo.value)?.[1] ?? '')
const hit = computed(() => (space.value ? hitAt(space.value, angles.value) : null))
const hits = computed(() => [...(hit.value?.pair ?? []), ...(space.value?.clashes.flat() ?? [])])

const scene = new Scene()
const camera = new PerspectiveCamera(28, 1, 20, 12_000)
camera.up.set(0, 0, 1)
let renderer: WebGLRenderer | null = null
let controls: OrbitControls | null = null
let drawn: Built | null = null
let waiting = 0
let turning = false
/** Less fine while it moves, where a frame takes long. */
let coarse = 1
let painted = 0
const rays = new Raycaster()
const middle = new Vector3()
let reach = 400

const token = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim()
function colours(): Colours {
  const looks = ['body', 'metal', 'glass', 'screen', 'soft', 'accent', 'cable'] as const
  const found = Object.fromEntries(looks.map((look) => [look, token(`--s-${look}`)]))
  const plain = { line: '--p-line', mark: '--mark', stop: '--stop', watch: '--watch' } as const
  return { ...found, ...Object.fromEntries(Object.entries(plain).map(([k, v]) => [k, token(v)])) } as Colours
}

function render(): void {
  waiting = 0
  if (!renderer || !frame.value) return
  const ratio = Math.min(window.devicePixelRatio, 2) * (turning ? coarse : 1)
  if (Math.abs(renderer.getPixelRatio() - ratio) > 0.01) renderer.setPixelRatio(ratio)
  renderer.render(scene, camera)
  const now = performance.now()
  // What is painted is done elsewhere: only the time from frame to frame tells how long one takes.
  const took = now - painted
  painted = now
  if (!turning || took > 400) return
  if (took > 60 && coarse > 0.35) coarse *= 0.75
  else if (took < 25 && coarse < 1) coarse = Math.min(1, coarse * 1.1)
}
function draw(): void {
  if (!waiting) waiting = requestAnimationFrame(render)
}
/** While it turns it may be coarser; a moment later it is fine again. */
let settles: ReturnType<typeof setTimeout> | undefined
function move(): void {
  turning = true
  clearTimeout(settles)
  settles = setTimeout(() => {
    turning = false
    draw()
  }, 180)
  draw()
}

const trying = shallowRef<Operation | null>(null)
const bentTo = (h: SpaceHinge): number => {
  const now = trying.value
  return now?.op === 'bend' && now.unit === h.unit && now.hinge === h.hinge ? now.to_deg : h.deg
}
const slid = shallowRef<Moved | null>(null)
function pose(): void {
  drawn?.pose(angles.value, apart.value, upTo.value, slid.value)
  drawn?.mark(props.selected, props.flagged, hits.value)
  drawn?.showPorts(allPorts.value ? 'all' : props.selected)
  draw()
}

function rebuild(): void {
  if (!renderer || !space.value) return
  if (drawn) {
    scene.remove(drawn.root)
    drawn.free()
  }
  slid.value = trying.value = null
  drawn = build(space.value, colours())
  scene.add(drawn.root)
  const [low, high] = [space.value.low_mm, space.value.high_mm] as unknown as [number[], number[]]
  middle.set(...([0, 1, 2].map((i) => ((low[i] ?? 0) + (high[i] ?? 0)) / 2) as [number, number, number]))
  reach = Math.hypot(...[0, 1, 2].map((i) => (high[i] ?? 0) - (low[i] ?? 0))) / 2
  pose()
}

/** From where it is looked at, in the rig's frame: forward, to the operator's left, up. */
const FROM = { corner: [0.75, 0.85, 0.5], side: [0, 1, 0.02], front: [1, 0, 0.02], top: [-0.02, 0, 1] } as const
function lookFrom(name: keyof typeof FROM): void {
  if (!controls) return
  const far = (reach / Math.sin((camera.fov * Math.PI) / 360)) * (0.8 + 0.5 * apart.value)
  camera.position.copy(middle).addScaledVector(new Vector3(...FROM[name]).normalize(), far / Math.min(1, camera.aspect))
  controls.target.copy(middle)
  controls.update()
  draw()
}

function turnBy(sideways: number, upwards: number): void {
  if (!controls) return
  const at = camera.position.clone().sub(controls.target)
  const far = at.length()
  const around = Math.atan2(at.y, at.x) + (sideways * Math.PI) / 180
  const up = Math.min(1.54, Math.max(-1.54, Math.asin(at.z / far) + (upwards * Math.PI) / 180))
  camera.position
    .copy(controls.target)
    .add(
      new Vector3(Math.cos(up) * Math.cos(around), Math.cos(up) * Math.sin(around), Math.sin(up)).multiplyScalar(far),
    )
  controls.update()
  draw()
}
function nearer(factor: number): void {
  if (!controls) return
  camera.position.sub(controls.target).divideScalar(factor).add(controls.target)
  controls.update()
  draw()
}
defineExpose({
  nearer,
  fit: () => {
    lookFrom('corner')
  },
})

function keyed(event: KeyboardEvent): void {
  const by: Record<string, [number, number]> = {
    ArrowLeft: [-10, 0],
    ArrowRight: [10, 0],
    ArrowUp: [0, 10],
    ArrowDown: [0, -10],
  }
  const turn = by[event.key]
  if (!turn) return
  event.preventDefault()
  event.stopPropagation()
  turnBy(...turn)
}

interface Pointed {
  clientX: number
  clientY: number
}
function aim(event: Pointed): boolean {
  const box = canvas.value?.getBoundingClientRect()
  if (!box) return false
  rays.setFromCamera(
    new Vector2(((event.clientX - box.left) / box.width) * 2 - 1, 1 - ((event.clientY - box.top) / box.height) * 2),
    camera,
  )
  return true
}
/** What is under the pointer: a port that is shown, else a part. */
interface Under {
  unit: string
  port?: string
  at: Vector3
  beyond: readonly number[]
}
function under(event: Pointed): Under | null {
  if (!drawn || !aim(event)) return null
  const ports = drawn.root.children.filter((o) => o.visible && o.userData.port && o.userData.free)
  const port = rays.intersectObjects(ports, false)[0]
  if (port) return { ...(port.object.userData as { unit: string; port: string }), at: port.point, beyond: [] }
  const part = rays.intersectObjects(
    drawn.pick.filter((o) => o.visible && (o.parent?.visible ?? true)),
    false,
  )[0]
  if (!part) return null
  const { unit, beyond } = part.object.userData as { unit: string; beyond?: readonly number[] }
  return { unit, at: part.point, beyond: beyond ?? [] }
}

/** px around a pointer in which a thin part that is chosen is still grasped. */
const NEAR = 9
function grasped(event: PointerEvent): Under | null {
  for (let i = 0; i <= 8; i++) {
    const turn = (i * Math.PI) / 4
    const [x, y] = i ? [NEAR * Math.cos(turn), NEAR * Math.sin(turn)] : [0, 0]
    const found = under({ clientX: event.clientX + x, clientY: event.clientY + y })
    if (found?.port) return null
    if (found?.unit === props.selected) return found
  }
  return null
}
/** What is dragged: how far the pointer has moved it, and what that is as an edit. */
interface Drag {
  to: (event: PointerEvent) => { shown: Moved; operation: Operation }
}
let pressed: { x: number; y: number; drag: Drag | null } | null = null
const onScreen = (point: Vector3): Vector2 => {
  const p = point.clone().project(camera)
  const { width = 1, height = 1 } = canvas.value?.getBoundingClientRect() ?? {}
  return new Vector2(((p.x + 1) / 2) * width, ((1 - p.y) / 2) * height)
}

function alongRail(unit: string, at: Vector3, press: PointerEvent): Drag | null {
  const [run, from] = [space.value?.runs[unit], props.slides[unit]]
  if (!run || from === undefined) return null
  const along = new Vector3(...(run as [number, number, number]))
  const px = onScreen(at.clone().addScaledVector(along, 10)).sub(onScreen(at)).divideScalar(10)
  // A rail that points at the eye cannot be dragged along.
  if (px.length() <= 0.08) return null
  return {
    to: (event) => {
      const by = new Vector2(event.clientX - press.clientX, event.clientY - press.clientY).dot(px) / px.lengthSq()
      return {
        shown: {
          units: subtree(space.value?.pieces ?? [], unit),
          by: new Matrix4().makeTranslation(along.clone().multiplyScalar(by)),
        },
        operation: { op: 'slide', unit, to_mm: from + by },
      }
    },
  }
}

/** An arm bends at the last hinge before where it is grasped; what it carries, at the last of all. */
function aboutHinge({ unit, at, beyond }: Under, press: PointerEvent): Drag | null {
  const parent = space.value?.pieces.find((p) => p.unit === unit)?.parent
  const hinge =
    space.value?.hinges.find((h) => h.unit === unit && h.hinge === beyond.at(-1)) ??
    space.value?.hinges.filter((h) => h.unit === parent && h.moves.includes(unit)).at(-1)
  if (!hinge || !space.value) return null
  const [through, along] = [hinge.through_mm, hinge.along] as unknown as [number[], number[]]
  const [about, axis] = [through, along].map((v) => new Vector3(...(v as [number, number, number]))) as [
    Vector3,
    Vector3,
  ]
  const outer = turned(space.value, hinge.turns_with, angles.value)
  about.applyMatrix4(outer)
  axis.transformDirection(outer)
  const start = bendAt(about, axis, at)
  const deg = (event: PointerEvent): number => {
    // Where the pointer is on the flat in which the grasped point turns; seen from its edge, as far as it has moved.
    const plane = new Plane().setFromNormalAndCoplanarPoint(axis, at)
    aim(event)
    const there = rays.ray.intersectPlane(plane, new Vector3())
    if (!there || Math.abs(axis.dot(rays.ray.direction)) < 0.2) {
      const next = at.clone().applyMatrix4(turnAbout(about.toArray(), axis.toArray(), 5))
      const px = onScreen(next).sub(onScreen(at)).divideScalar(5)
      const by = new Vector2(event.clientX - press.clientX, event.clientY - press.clientY)
      return hinge.deg + (px.lengthSq() > 0.01 ? by.dot(px) / px.lengthSq() : 0)
    }
    const by = bendAt(about, axis, there) - start
    return hinge.deg + ((((by + 180) % 360) + 360) % 360) - 180
  }
  return {
    to: (event) => {
      const to = Math.round(Math.min(hinge.range_deg[1], Math.max(hinge.range_deg[0], deg(event))))
      return {
        shown: bendShown(hinge, to),
        operation: { op: 'bend', unit: hinge.unit, hinge: hinge.hinge, to_deg: to },
      }
    },
  }
}

function press(event: PointerEvent): void {
  frame.value?.focus({ preventScroll: true })
  const own = apart.value === 0 ? grasped(event) : null
  const drag = own && (alongRail(own.unit, own.at, event) ?? aboutHinge(own, event))
  pressed = { x: event.clientX, y: event.clientY, drag }
  if (drag && controls) {
    controls.enabled = false
    canvas.value?.setPointerCapture(event.pointerId)
  }
}
function pull(event: PointerEvent): void {
  if (!pressed?.drag || !space.value) return
  const { shown, operation } = pressed.drag.to(event)
  slid.value = shown
  trying.value = operation
  pose()
  emit('move', operation)
}
function release(event: PointerEvent): void {
  if (!pressed) return
  const { x, y, drag } = pressed
  pressed = null
  if (controls) controls.enabled = true
  const moved = Math.hypot(event.clientX - x, event.clientY - y) > 4
  if (drag && moved) {
    emit('settle', drag.to(event).operation)
    return
  }
  if (moved) return
  const found = under(event)
  if (found?.port) emit('port', found.unit, found.port)
  else if (found) emit('select', found.unit)
}

onMounted(() => {
  if (!canvas.value || !frame.value) return
  try {
    renderer = new WebGLRenderer({ canvas: canvas.value, antialias: true, alpha: true })
  } catch {
    unable.value = true
    return
  }
  controls = new OrbitControls(camera, canvas.value)
  controls.enableDamping = false
  controls.addEventListener('change', move)
  scene.add(new HemisphereLight('#ffffff', '#6a716c', 1.5), new AmbientLight('#ffffff', 0.35))
  const key = new DirectionalLight('#fff6e8', 2.4)
  key.position.set(600, 500, 900)
  const rim = new DirectionalLight('#dfeaff', 1.1)
  rim.position.set(-700, -400, 300)
  scene.add(key, rim)
  rebuild()
  lookFrom('corner')
})
useResizeObserver(frame, ([entry]) => {
  if (!renderer || !entry) return
  const { width, height } = entry.contentRect
  if (!width || !height) return
  const first = camera.aspect === 1
  camera.aspect = width / height
  camera.updateProjectionMatrix()
  renderer.setSize(width, height, false)
  if (first) lookFrom('corner')
  draw()
})
let framed = ''
watch(space, () => {
  rebuild()
  const rig = `${props.place.job} ${props.place.rig}`
  if (space.value && framed !== rig) {
    framed = rig
    angles.value = { ...LEVEL }
    step.value = null
    lookFrom('corner')
  }
})
watch(() => [props.selected, props.flagged, angles.value, apart.value, upTo.value, allPorts.value], pose)
/** Day and night change every colour. */
const looks = new MutationObserver(rebuild)
looks.observe(document.documentElement, { attributes: true, attributeFilter: ['data-appearance'] })
useEventListener(canvas, 'webglcontextlost', (event: Event) => {
  event.preventDefault()
  unable.value = true
})
onBeforeUnmount(() => {
  clearTimeout(settles)
  looks.disconnect()
  if (waiting) cancelAnimationFrame(waiting)
  drawn?.free()
  controls?.dispose()
  renderer?.dispose()
})

function turnTo(axis: Axis, deg: number): void {
  const range = space.value?.axes.find((a) => a.axis === axis)?.range_deg
  if (range) angles.value = { ...angles.value, [axis]: Math.max(range[0], Math.min(range[1], deg)) }
}
/** The joints of the arm that is chosen. */
const bends = computed(() => (space.value?.hinges ?? []).filter((h) => h.unit === props.selected))
function bend(hinge: SpaceHinge, event: Event, done: boolean): void {
  const to_deg = Number((event.target as HTMLInputElement).value)
  const operation: Operation = { op: 'bend', unit: hinge.unit, hinge: hinge.hinge, to_deg }
  if (done) emit('settle', operation)
  else {
    slid.value = bendShown(hinge, to_deg)
    trying.value = operation
    pose()
    emit('move', operation)
  }
}
type Turn = NonNullable<typeof space.value>['axes'][number]
/** Where it meets something, else how far it goes. */
function ends(a: Turn): string {
  if (!a.low_hits && !a.high_hits)
    return a.range_deg[0] === -a.range_deg[1] ? 'free' : `${fixed(a.range_deg[0], 0)}° to +${fixed(a.range_deg[1], 0)}°`
  return [a.low_hits ? `hits at ${fixed(a.low_deg, 0)}°` : 'free', a.high_hits ? `+${fixed(a.high_deg, 0)}°` : '']
    .filter(Boolean)
    .join(', ')
}
</script>

<template>
  <div class="space" :class="{ 'with-axes': space?.axes.length }">
    <div
      ref="frame"
      class="space-sheet"
      tabindex="0"
      role="application"
      aria-label="The rig in space: arrows turn it, plus and minus bring it nearer, a click picks a part"
      @keydown="keyed"
    >
      <canvas
        v-show="!unable"
        ref="canvas"
        @pointerdown="press"
        @pointermove="pull"
        @pointerup="release"
        @pointercancel="release"
      ></canvas>
      <p v-if="unable" class="quiet">
        This browser cannot draw in space. The elevations show the same solids at the same places.
      </p>
      <p v-else-if="problem" class="trouble">{{ problem.message }}</p>
      <p v-else-if="!space" class="quiet">Setting it up in space…</p>
      <p v-if="hit" class="space-hit" role="status">
        {{ hit.pair[0] }} meets {{ hit.pair[1] }} at {{ signed(hit.deg, 0) }}° {{ hit.axis }}
      </p>
    </div>
    <div v-if="space && !unable" class="space-acts">
      <span class="froms"
        ><BButton v-for="name in ['corner', 'side', 'front', 'top'] as const" :key="name" @click="lookFrom(name)">{{
          name
        }}</BButton
        ><BButton :aria-pressed="allPorts" @click="allPorts = !allPorts">Free ports</BButton></span
      >
      <label
        >Apart
        <input v-model.number="apart" type="range" min="0" max="1" step="0.02" aria-label="Drawn apart" />
      </label>
      <label
        >Build order
        <input
          type="range"
          min="0"
          :max="last"
          step="1"
          :value="upTo"
          :aria-valuetext="`${upTo}, ${onTop}`"
          aria-label="Up to this step of the build order"
          @input="step = Number(($event.target as HTMLInputElement).value)"
        />
        <b>{{ upTo === last ? 'whole' : `${upTo}. ${onTop}` }}</b>
      </label>
      <label v-for="a in space.axes" :key="a.axis" class="turn" :class="{ hits: hit?.axis === a.axis }"
        >{{ a.axis }}
        <input
          type="range"
          :min="a.range_deg[0]"
          :max="a.range_deg[1]"
          step="1"
          :value="angles[a.axis]"
          :aria-label="`Turn ${a.axis}, degrees`"
          @input="turnTo(a.axis, Number(($event.target as HTMLInputElement).value))"
        />
        <NumberField
          :model-value="Math.round(angles[a.axis])"
          :aria-label="`${a.axis}, degrees`"
          :min="a.range_deg[0]"
          :max="a.range_deg[1]"
          step="1"
          :commit="(deg: number) => turnTo(a.axis, deg)"
        /><small>{{ ends(a) }}</small>
      </label>
      <BButton v-if="space.axes.length" @click="angles = { ...LEVEL }">Level</BButton>
      <label v-for="h in bends" :key="h.hinge" class="turn"
        >{{ h.label }}
        <input
          type="range"
          :min="h.range_deg[0]"
          :max="h.range_deg[1]"
          step="1"
          :value="bentTo(h)"
          :aria-label="`Bend ${h.unit}, ${h.label}, degrees`"
          @input="bend(h, $event, false)"
          @change="bend(h, $event, true)"
        />
        <b>{{ signed(bentTo(h), 0) }}°</b>
      </label>
    </div>
  </div>
</template>

<style>
.space {
  position: absolute;
  inset: 0;
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  background: var(--sheet);
}
.space-sheet {
  position: relative;
  min-height: 0;
  overflow: hidden;
  outline-offset: -3px;
}
.space-sheet canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  touch-action: none;
  cursor: grab;
}
.space-sheet .quiet,
.space-sheet .trouble {
  position: absolute;
  left: 28px;
  top: 40px;
}
.space-hit {
  position: absolute;
  left: 12px;
  bottom: 10px;
  background: var(--stop-wash);
  color: var(--stop);
  padding: var(--gap-2) var(--gap-5);
  font-weight: 600;
}
.space-acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-8);
  align-items: center;
  padding: var(--gap-3) var(--gap-5);
  border-top: 1px solid var(--rule-2);
  font-size: var(--t-2);
}
.space-acts label {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
}
.space-acts input[type='range'] {
  width: 108px;
  accent-color: var(--mark);
  min-height: 24px;
}
.space-acts .turn .form-control {
  width: 62px;
  min-height: 26px;
}
.space-acts .turn.hits small {
  color: var(--stop);
  font-weight: 600;
}
.space-acts .btn {
  min-height: 26px;
  padding: 1px var(--gap-5);
  font-size: var(--t-2);
}
.space-acts .froms {
  display: flex;
  gap: var(--gap-1);
  text-transform: capitalize;
}
@media (max-width: 760px) {
  .space {
    top: 44px;
  }
  .space-acts input[type='range'] {
    width: 92px;
    min-height: 40px;
  }
  .space-acts .btn {
    min-height: 40px;
  }
}
</style>
