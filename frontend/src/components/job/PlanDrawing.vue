<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { pictureAt } from '../../api'
import type { CameraOnPlan, Lead, Picture, Thing } from '../../api/schema.gen'
import { fixed } from '../../lib/format'
import { gridOf, labelsAt, snapped, spanOf, wedgePath } from '../../lib/venue'

/** The venue from above, to scale: things and cameras are dragged to a tenth of a metre, or moved by the arrow keys. */
const props = defineProps<{
  things: Thing[]
  cameras: CameraOnPlan[]
  leads: Lead[]
  picture: Picture | null
  selected: string
  /** Points of the picture that are being told apart. */
  points: { x: number; y: number }[]
  pointing: boolean
}>()
const emit = defineEmits<{
  select: [key: string]
  move: [key: string, x: number, y: number]
  nudge: [key: string, east: number, north: number]
  point: [x: number, y: number]
}>()
const box = ref<HTMLElement | null>(null)
const svg = ref<SVGSVGElement | null>(null)
const { width, height } = useElementSize(box)
const dragged = ref<{ key: string; x: number; y: number } | null>(null)
let frozen: ReturnType<typeof spanOf> | null = null

const span = computed(() => {
  const whole = frozen ?? spanOf(props.things, props.cameras)
  const wide = width.value && height.value ? width.value / height.value : 1.4
  const [w, h] =
    whole.width / whole.height < wide ? [whole.height * wide, whole.height] : [whole.width, whole.width / wide]
  return { x: whole.x + (whole.width - w) / 2, y: whole.y + (whole.height - h) / 2, width: w, height: h }
})
const view = computed(
  () =>
    `${String(span.value.x)} ${String(-(span.value.y + span.value.height))} ${String(span.value.width)} ${String(span.value.height)}`,
)
const unit = computed(() => span.value.width / Math.max(width.value, 300))
const across = computed(() => gridOf(span.value.x, span.value.width))
const upright = computed(() => gridOf(span.value.y, span.value.height))
const reach = computed(() => Math.hypot(span.value.width, span.value.height))

const ratio = ref(0)
watch(
  () => props.picture?.id,
  (id) => {
    ratio.value = 0
    if (!id) return
    const image = new Image()
    image.onload = () => {
      if (props.picture?.id === id) ratio.value = image.naturalHeight / image.naturalWidth
    }
    image.src = pictureAt(id)
  },
  { immediate: true },
)
const placed = computed(() =>
  props.cameras
    .filter((c) => c.place)
    .map((c) => {
      const held = dragged.value?.key === `camera:${c.rig}` ? dragged.value : null
      return { ...c, x: held?.x ?? c.place?.x_m ?? 0, y: held?.y ?? c.place?.y_m ?? 0 }
    }),
)
const shown = computed(() =>
  props.things.map((t) => {
    const held = dragged.value?.key === `thing:${t.id}` ? dragged.value : null
    return { ...t, x: held?.x ?? t.x_m ?? 0, y: held?.y ?? t.y_m ?? 0 }
  }),
)
const labels = computed(() =>
  labelsAt(
    shown.value.map((t) => ({
      key: `thing:${t.id}`,
      x: t.x,
      y: -t.y,
      text: `${t.label}${t.height_m ? ` ${fixed(t.height_m, 1)} m` : ''}`,
    })),
    unit.value,
    placed.value.map((c) => ({ key: `camera:${c.rig}`, x: c.x, y: -c.y, text: c.label })),
  ),
)
const labelOf = (t: { id: string; x: number; y: number }) => {
  const l = labels.value.get(`thing:${t.id}`)
  return l ? { x: l.x - t.x, y: l.y + t.y, 'text-anchor': l.anchor } : {}
}
const thing = (id: string) => shown.value.find((t) => t.id === id)

function metres(event: PointerEvent): { x: number; y: number } {
  const at = svg.value?.getBoundingClientRect()
  if (!at) return { x: 0, y: 0 }
  return {
    x: span.value.x + ((event.clientX - at.left) / at.width) * span.value.width,
    y: span.value.y + span.value.height - ((event.clientY - at.top) / at.height) * span.value.height,
  }
}
let grip = { x: 0, y: 0 }
function grab(event: PointerEvent, key: string, x: number, y: number): void {
  emit('select', key)
  const at = metres(event)
  grip = { x: at.x - x, y: at.y - y }
  frozen = spanOf(props.things, props.cameras)
  dragged.value = { key, x, y }
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent): void {
  if (!dragged.value) return
  const at = metres(event)
  dragged.value = { ...dragged.value, x: snapped(at.x - grip.x), y: snapped(at.y - grip.y) }
}
function drop(): void {
  const held = dragged.value
  if (held) emit('move', held.key, held.x, held.y)
  frozen = null
  dragged.value = null
}
function press(event: KeyboardEvent, key: string): void {
  const step = event.shiftKey ? 1 : 0.1
  const ways: Record<string, [number, number]> = {
    ArrowLeft: [-step, 0],
    ArrowRight: [step, 0],
    ArrowUp: [0, step],
    ArrowDown: [0, -step],
  }
  const way = ways[event.key]
  if (!way) return
  event.preventDefault()
  event.stopPropagation()
  emit('select', key)
  emit('nudge', key, way[0], way[1])
}
const at = (t: { x: number; y: number; label: string }): string =>
  `${t.label}, ${fixed(t.x, 1)} east, ${fixed(t.y, 1)} north`
const corner = (t: { kind: string }): number => (t.kind === 'lane' ? 0 : 0.1)
const small = (t: Thing): boolean => !t.width_m && !t.depth_m
</script>

<template>
  <div ref="box" class="plan-drawing">
    <svg
      ref="svg"
      :viewBox="view"
      role="group"
      aria-label="The venue from above, north up"
      @pointermove="drag"
      @pointerup="drop"
      @pointercancel="drop"
    >
      <image
        v-if="picture && ratio"
        class="under"
        :href="pictureAt(picture.id)"
        :x="-picture.width_m / 2"
        :y="(-picture.width_m * ratio) / 2"
        :width="picture.width_m"
        :height="picture.width_m * ratio"
        :transform="`translate(${picture.x_m ?? 0} ${-(picture.y_m ?? 0)}) rotate(${-(picture.turn_deg ?? 0)})`"
        preserveAspectRatio="none"
      />
      <g class="grid" :stroke-width="unit">
        <line v-for="x in across.at" :key="`x${x}`" :x1="x" :x2="x" :y1="-(span.y + span.height)" :y2="-span.y" />
        <line v-for="y in upright.at" :key="`y${y}`" :y1="-y" :y2="-y" :x1="span.x" :x2="span.x + span.width" />
      </g>
      <g class="scale" :font-size="11 * unit">
        <text v-for="x in across.at" :key="x" :x="x + 3 * unit" :y="-span.y - 4 * unit">{{ x }}</text>
        <text v-for="y in upright.at" :key="y" :x="span.x + 4 * unit" :y="-y - 3 * unit">{{ y }} m</text>
      </g>
      <template v-for="c in placed" :key="`w${c.rig}`">
        <template v-if="c.sight">
          <path
            v-if="c.wedge"
            class="lens-wedge"
            :class="{ chosen: selected === `camera:${c.rig}`, short: c.fits === false }"
            :d="
              wedgePath(c.x, c.y, c.sight.bearing_deg, c.wedge.widest_deg, Math.min(reach, c.sight.distance_m * 1.25))
            "
          />
          <path
            class="needed"
            :class="{ chosen: selected === `camera:${c.rig}` }"
            :stroke-width="1.5 * unit"
            :stroke-dasharray="`${6 * unit} ${4 * unit}`"
            :d="wedgePath(c.x, c.y, c.sight.bearing_deg, Math.max(c.sight.across_deg, 0.2), c.sight.distance_m)"
          />
          <template v-for="s in c.sight.seen" :key="s.thing">
            <line
              v-if="selected === `camera:${c.rig}` && thing(s.thing)"
              class="sight"
              :class="{ hidden: s.hidden_by }"
              :stroke-width="1.5 * unit"
              :x1="c.x"
              :y1="-c.y"
              :x2="thing(s.thing)!.x"
              :y2="-thing(s.thing)!.y"
            />
          </template>
        </template>
      </template>
      <polyline
        v-for="(l, i) in leads"
        :key="`lead${i}`"
        class="lead"
        :class="{ crosses: l.crosses.length }"
        :points="l.way.map((p) => `${p[0]} ${-p[1]}`).join(', ')"
        :stroke-width="2 * unit"
      />
      <g
        v-for="t in shown"
        :key="t.id"
        class="thing"
        :class="[t.kind.replace(' ', '-'), { chosen: selected === `thing:${t.id}` }]"
        tabindex="0"
        role="button"
        :aria-label="at(t)"
        :transform="`translate(${t.x} ${-t.y})`"
        @pointerdown="grab($event, `thing:${t.id}`, t.x, t.y)"
        @keydown="press($event, `thing:${t.id}`)"
        @focus="emit('select', `thing:${t.id}`)"
      >
        <circle class="hand" :r="14 * unit" />
        <circle v-if="small(t)" :r="6 * unit" :stroke-width="1.5 * unit" />
        <rect
          v-else
          :transform="`rotate(${-(t.turn_deg ?? 0)})`"
          :x="-(t.width_m ?? 0) / 2"
          :y="-(t.depth_m ?? 0) / 2"
          :width="Math.max(t.width_m ?? 0, 2 * unit)"
          :height="Math.max(t.depth_m ?? 0, 2 * unit)"
          :rx="corner(t)"
          :stroke-width="1.5 * unit"
        />
        <text v-bind="labelOf(t)" :font-size="13 * unit">
          {{ t.label }}
          <tspan v-if="t.height_m">{{ fixed(t.height_m, 1) }} m</tspan>
        </text>
      </g>
      <g
        v-for="c in placed"
        :key="c.rig"
        class="plan-camera"
        :class="{ chosen: selected === `camera:${c.rig}` }"
        tabindex="0"
        role="button"
        :aria-label="at({ ...c, label: `Camera ${c.number} ${c.label}` })"
        :transform="`translate(${c.x} ${-c.y})`"
        @pointerdown="grab($event, `camera:${c.rig}`, c.x, c.y)"
        @keydown="press($event, `camera:${c.rig}`)"
        @focus="emit('select', `camera:${c.rig}`)"
      >
        <circle :r="13 * unit" />
        <text :font-size="16 * unit" text-anchor="middle" dominant-baseline="central">{{ c.number }}</text>
        <text class="name" :y="27 * unit" :font-size="13 * unit" text-anchor="middle">{{ c.label }}</text>
      </g>
      <g v-if="pointing" class="pointing">
        <rect
          :x="span.x"
          :y="-(span.y + span.height)"
          :width="span.width"
          :height="span.height"
          fill="transparent"
          @pointerdown.stop="emit('point', metres($event).x, metres($event).y)"
        />
        <path
          v-for="(p, i) in points"
          :key="i"
          :d="`M${p.x - 9 * unit} ${-p.y}h${18 * unit}M${p.x} ${-p.y - 9 * unit}v${18 * unit}`"
          :stroke-width="2 * unit"
        />
      </g>
    </svg>
  </div>
</template>

<style>
.plan-drawing {
  min-height: 0;
  height: 100%;
  background: var(--sheet);
  overflow: hidden;
}
.plan-drawing svg {
  width: 100%;
  height: 100%;
  display: block;
  touch-action: none;
}
.plan-drawing .under {
  opacity: 0.55;
}
[data-appearance='night'] .plan-drawing .under {
  opacity: 0.35;
  filter: invert(1) hue-rotate(180deg) brightness(0.6);
}
.plan-drawing .lead {
  fill: none;
  stroke: var(--ink-2);
  stroke-dasharray: 0.2 0.2;
}
.plan-drawing .lead.crosses {
  stroke: var(--watch);
}
.plan-drawing .pointing rect {
  cursor: crosshair;
}
.plan-drawing .pointing path {
  stroke: var(--stop);
}
.plan-drawing .grid line {
  stroke: var(--rule-2);
}
.plan-drawing .scale text {
  fill: var(--ink-2);
  font-family: var(--figures);
}
.plan-drawing .lens-wedge {
  fill: var(--mark);
  opacity: 0.07;
}
.plan-drawing .lens-wedge.chosen {
  opacity: 0.2;
}
.plan-drawing .lens-wedge.short {
  fill: var(--stop);
}
.plan-drawing .needed {
  fill: none;
  stroke: var(--ink-2);
  opacity: 0.5;
}
.plan-drawing .needed.chosen {
  stroke: var(--ink);
  opacity: 1;
}
.plan-drawing .sight {
  stroke: var(--mark);
}
.plan-drawing .sight.hidden {
  stroke: var(--stop);
}
.plan-drawing .thing,
.plan-drawing .plan-camera {
  cursor: grab;
  outline: none;
}
.plan-drawing .hand {
  fill: transparent;
}
.plan-drawing .thing rect,
.plan-drawing .thing circle:not(.hand) {
  fill: var(--lift);
  stroke: var(--ink-2);
}
.plan-drawing .thing.obstacle rect,
.plan-drawing .thing.obstacle circle:not(.hand) {
  fill: var(--rule);
  stroke: var(--ink);
}
.plan-drawing .thing.lane rect {
  fill: var(--watch);
  fill-opacity: 0.12;
  stroke: var(--watch);
  stroke-dasharray: 0.4 0.3;
}
.plan-drawing .thing.to-see rect,
.plan-drawing .thing.to-see circle:not(.hand) {
  fill: var(--mark-wash);
  stroke: var(--mark);
}
.plan-drawing .thing.lamp circle:not(.hand) {
  fill: #e9c46a;
}
.plan-drawing .chosen rect,
.plan-drawing .chosen circle:not(.hand),
.plan-drawing .thing:focus-visible rect,
.plan-drawing .thing:focus-visible circle:not(.hand) {
  stroke: var(--mark);
  stroke-width: 0.25;
}
.plan-drawing text {
  fill: var(--ink);
  font-family: var(--text);
  pointer-events: none;
}
.plan-drawing .plan-camera circle {
  fill: var(--ink);
}
.plan-drawing .plan-camera.chosen circle {
  fill: var(--mark);
}
.plan-drawing .plan-camera text:not(.name) {
  fill: var(--sheet);
  font-weight: 700;
}
</style>
