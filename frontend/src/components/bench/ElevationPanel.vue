<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Elevation, Mark } from '../../api/schema.gen'
import { fixed } from '../../lib/format'
import { extent, FIT, fitSheet, outlinePath, ticks, zoomAt, zoomed, type Zoom } from '../../lib/sheet'

const props = defineProps<{
  drawing: Elevation
  selected: string
  slides: Record<string, number>
  flagged: Record<string, string>
  dimensions?: boolean
}>()
const emit = defineEmits<{
  select: [unit: string]
  port: [unit: string, port: string]
  drag: [unit: string, toMm: number]
  drop: [unit: string, toMm: number]
}>()

const WORDS: Record<string, string> = { side: 'Side, operator’s left', front: 'Front', top: 'Top' }
const RULER = 20

const frame = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(frame)
const zoom = ref<Zoom>({ ...FIT })
/** A low panel has room for one line under the drawing. */
const isLow = computed(() => height.value < 220)
const base = computed(() =>
  fitSheet(
    props.drawing.bounds,
    Math.max(width.value - RULER, 40),
    Math.max(height.value - RULER, 40),
    props.dimensions ? (isLow.value ? 32 : 46) : 16,
  ),
)
const sheet = computed(() => zoomed(base.value, zoom.value))
const joints = computed(() => (props.dimensions ? props.drawing.marks.filter((m) => !m.free && !m.socket) : []))
/** Over all, and over the chosen part; lengths from the computed outlines. */
const lines = computed(() => {
  if (!props.dimensions) return []
  const chosen = extent(props.drawing.outlines.filter((o) => o.unit === props.selected))
  const b = props.drawing.bounds
  const s = sheet.value
  const cg = `CG ${Math.abs(props.drawing.cg[0]).toFixed(1)}`
  const low = isLow.value
  const found = [
    {
      key: 'w',
      path: `M${s.x(b[0])} ${s.y(b[1]) + 14}H${s.x(b[2])}`,
      x: s.x((b[0] + b[2]) / 2),
      y: s.y(b[1]) + 24,
      text: `${(b[2] - b[0]).toFixed(0)}${low ? ` · ${cg}` : ''}`,
    },
    {
      key: 'h',
      path: `M${s.x(b[2]) + 14} ${s.y(b[1])}V${s.y(b[3])}`,
      x: s.x(b[2]) + 18,
      y: s.y((b[1] + b[3]) / 2),
      text: (b[3] - b[1]).toFixed(0),
    },
  ]
  if (!low)
    found.push({
      key: 'cg',
      path: `M${s.x(0)} ${s.y(b[1]) + 30}H${s.x(props.drawing.cg[0])}`,
      x: (s.x(0) + s.x(props.drawing.cg[0])) / 2,
      y: s.y(b[1]) + 41,
      text: cg,
    })
  const whole = chosen?.every((v, i) => Math.abs(v - (b[i] ?? 0)) < 0.5)
  if (chosen && !whole)
    found.push({
      key: 'part',
      path: `M${s.x(chosen[0])} ${s.y(chosen[3]) - 6}H${s.x(chosen[2])}`,
      x: s.x((chosen[0] + chosen[2]) / 2),
      y: s.y(chosen[3]) - 9,
      text: `${(chosen[2] - chosen[0]).toFixed(0)} × ${(chosen[3] - chosen[1]).toFixed(0)}`,
    })
  return found
})

function nearer(factor: number, px = base.value.width / 2, py = base.value.height / 2): void {
  zoom.value = zoomAt(base.value, zoom.value, factor, px, py)
}
function wheel(event: WheelEvent): void {
  const box = frame.value?.getBoundingClientRect()
  if (!box) return
  nearer(event.deltaY < 0 ? 1.15 : 1 / 1.15, event.clientX - box.left - RULER, event.clientY - box.top)
}
let pan: { x: number; y: number; from: Zoom } | null = null
function grab(event: PointerEvent): void {
  if ((event.target as Element).closest('.shape, .port-mark')) return
  pan = { x: event.clientX, y: event.clientY, from: zoom.value }
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
}
function haul(event: PointerEvent): void {
  if (pan)
    zoom.value = { ...pan.from, dx: pan.from.dx + event.clientX - pan.x, dy: pan.from.dy + event.clientY - pan.y }
}
function fit(): void {
  zoom.value = { ...FIT }
}
defineExpose({ nearer, fit })
const xTicks = computed(() => {
  const s = sheet.value
  return ticks(-s.x(0) / s.scale, (s.width - s.x(0)) / s.scale, s.scale)
})
const yTicks = computed(() => {
  const s = sheet.value
  return ticks((s.y(0) - s.height) / s.scale, s.y(0) / s.scale, s.scale)
})
/** Side and top count forward to the left; the ruler is labelled with the rig's own x. */
const mirrored = computed(() => props.drawing.view !== 'front')
const ratio = computed(() => Math.max(1, Math.round(1 / (sheet.value.scale * 0.2646))))
const ports = computed(() => props.drawing.marks.filter((m) => m.unit === props.selected && !m.socket))
const cg = computed(() => ({ x: sheet.value.x(props.drawing.cg[0]), y: sheet.value.y(props.drawing.cg[1]) }))
const spread = computed(() => ({
  rx: Math.max(3, props.drawing.cg_sd[0] * 2 * sheet.value.scale),
  ry: Math.max(3, props.drawing.cg_sd[1] * 2 * sheet.value.scale),
}))
const quarter = (dx: number, dy: number): string => {
  const r = 7
  return `M${cg.value.x} ${cg.value.y}h${dx * r}A${r} ${r} 0 0 ${dx * dy > 0 ? 1 : 0} ${cg.value.x} ${cg.value.y + dy * r}Z`
}

let start: { unit: string; x: number; y: number; from: number; run: readonly [number, number] } | null = null
let last: number | null = null

function press(event: PointerEvent, unit: string): void {
  emit('select', unit)
  const run = props.drawing.runs[unit] as [number, number] | undefined
  const from = props.slides[unit]
  if (!run || from === undefined || Math.hypot(...run) < 0.3) return
  start = { unit, x: event.clientX, y: event.clientY, from, run }
  last = null
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
}

function pull(event: PointerEvent): void {
  if (!start) return
  const [h, v] = [(event.clientX - start.x) / sheet.value.scale, -(event.clientY - start.y) / sheet.value.scale]
  if (last === null && Math.hypot(event.clientX - start.x, event.clientY - start.y) < 4) return
  last = Math.round(start.from + h * start.run[0] + v * start.run[1])
  emit('drag', start.unit, last)
}

function release(): void {
  if (start && last !== null) emit('drop', start.unit, last)
  start = null
}

const facing = (m: Mark): string => {
  const [x, y] = [sheet.value.x(m.at[0]), sheet.value.y(m.at[1])]
  return `M${x} ${y}l${m.faces[0] * 10} ${-m.faces[1] * 10}`
}
</script>

<template>
  <figure ref="frame" class="elevation" :class="drawing.view">
    <svg
      v-if="width > 0"
      :width="width"
      :height="height"
      role="img"
      :aria-label="`${WORDS[drawing.view]} elevation to scale`"
      @wheel.prevent="wheel"
      @pointerdown="grab"
      @pointermove="haul"
      @pointerup="pan = null"
      @pointercancel="pan = null"
      @dblclick="fit"
    >
      <g :transform="`translate(${RULER} 0)`">
        <line class="axis" :x1="0" :x2="sheet.width" :y1="sheet.y(0)" :y2="sheet.y(0)" />
        <line class="axis" :x1="sheet.x(0)" :x2="sheet.x(0)" :y1="0" :y2="sheet.height" />
        <path
          v-for="(o, i) in drawing.outlines"
          :key="i"
          class="shape"
          :class="[o.look, { chosen: o.unit === selected, slides: o.unit in drawing.runs }, flagged[o.unit]]"
          :d="outlinePath(o.points, sheet)"
          @pointerdown="press($event, o.unit)"
          @pointermove="pull"
          @pointerup="release"
          @pointercancel="release"
        >
          <title>{{ o.unit }}</title>
        </path>
        <g v-if="drawing.view !== 'front'" class="plane" :transform="`translate(${sheet.x(0)} ${sheet.y(0)})`">
          <circle r="5" />
          <path d="M0 -10V10" />
        </g>
        <path
          v-if="drawing.support"
          class="support"
          :d="`M${sheet.x(drawing.support[0])} ${sheet.y(drawing.support[1])}l-6 11h12z`"
        />
        <g class="cg">
          <ellipse class="spread" :cx="cg.x" :cy="cg.y" :rx="spread.rx" :ry="spread.ry" />
          <circle :cx="cg.x" :cy="cg.y" r="7" />
          <path :d="quarter(1, -1)" />
          <path :d="quarter(-1, 1)" />
        </g>
        <circle
          v-for="m in joints"
          :key="`${m.unit}/${m.port}`"
          class="joint"
          :cx="sheet.x(m.at[0])"
          :cy="sheet.y(m.at[1])"
          r="2.2"
        >
          <title>{{ m.unit }}, {{ m.label }}</title>
        </circle>
        <g v-for="l in lines" :key="l.key" class="dimension" :class="l.key">
          <path :d="l.path" />
          <text :x="l.x" :y="l.y">{{ l.text }}</text>
        </g>
        <g
          v-for="m in ports"
          :key="m.port"
          class="port-mark"
          :class="{ free: m.free }"
          @click="emit('port', m.unit, m.port)"
        >
          <path :d="facing(m)" />
          <circle :cx="sheet.x(m.at[0])" :cy="sheet.y(m.at[1])" r="4.5" />
          <title>{{ m.label }}</title>
        </g>
      </g>
      <g class="ruler" :transform="`translate(${RULER} ${sheet.height})`">
        <line x1="0" :x2="sheet.width" y1="0" y2="0" />
        <template v-for="t in xTicks" :key="t.mm">
          <line :x1="sheet.x(t.mm)" :x2="sheet.x(t.mm)" y1="0" :y2="t.labelled ? 7 : 3" />
          <text v-if="t.labelled" :x="sheet.x(t.mm)" y="17">{{ fixed(mirrored ? -t.mm : t.mm, 0) }}</text>
        </template>
      </g>
      <g class="ruler">
        <line :x1="RULER" :x2="RULER" y1="0" :y2="sheet.height" />
        <template v-for="t in yTicks" :key="t.mm">
          <line :x1="RULER" :x2="t.labelled ? RULER - 7 : RULER - 3" :y1="sheet.y(t.mm)" :y2="sheet.y(t.mm)" />
          <text v-if="t.labelled" class="up" :transform="`translate(${RULER - 9} ${sheet.y(t.mm)}) rotate(-90)`">
            {{ fixed(drawing.view === 'top' ? -t.mm : t.mm, 0) }}
          </text>
        </template>
      </g>
    </svg>
    <figcaption>
      {{ WORDS[drawing.view] }} <span>1:{{ ratio }}</span>
    </figcaption>
  </figure>
</template>

<style>
.elevation {
  position: relative;
  min-height: 0;
  min-width: 0;
  overflow: hidden;
  background: var(--sheet);
  touch-action: none;
}
.elevation.side {
  grid-area: side;
}
.elevation.top {
  grid-area: top;
}
.elevation.front {
  grid-area: front;
}
.elevation svg {
  display: block;
  position: absolute;
  inset: 0;
}
.elevation figcaption {
  position: absolute;
  bottom: 21px;
  right: 0;
  padding: 1px var(--gap-5);
  background: var(--sheet);
  font-size: var(--t-2);
  color: var(--ink-2);
  pointer-events: none;
}
.elevation figcaption span {
  font-family: var(--figures);
  margin-left: var(--gap-4);
}
.shape {
  stroke: var(--p-line);
  stroke-width: 1;
  stroke-linejoin: round;
  fill: var(--p-body);
}
.shape.metal {
  fill: var(--p-metal);
}
.shape.glass {
  fill: var(--p-glass);
  fill-opacity: 0.75;
}
.shape.screen {
  fill: var(--p-screen);
}
.shape.soft {
  fill: var(--p-soft);
}
.shape.accent {
  fill: var(--p-accent);
}
.shape.watch {
  stroke: var(--watch);
  stroke-width: 1.6;
}
.shape.stop {
  stroke: var(--stop);
  stroke-width: 1.8;
}
.shape.chosen {
  stroke: var(--mark);
  stroke-width: 2.6;
}
.shape.slides {
  cursor: grab;
}
.axis {
  stroke: var(--ink-3);
  stroke-width: 0.7;
  stroke-dasharray: 14 3 2 3;
}
.plane circle {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.2;
}
.plane path {
  stroke: var(--ink);
  stroke-width: 1.2;
}
.support {
  fill: var(--ink);
  stroke: var(--sheet);
  stroke-width: 1;
}
.cg circle {
  fill: var(--lift);
  stroke: var(--ink);
  stroke-width: 1.4;
}
.cg path {
  fill: var(--ink);
}
.cg .spread {
  fill: var(--ink);
  fill-opacity: 0.14;
  stroke: var(--ink);
  stroke-width: 0.7;
  stroke-dasharray: 2 2;
}
.cg {
  pointer-events: none;
}
.port-mark path {
  stroke: var(--mark);
  stroke-width: 1.4;
}
.port-mark circle {
  fill: var(--mark);
  stroke: var(--sheet);
  stroke-width: 1;
}
.port-mark.free {
  cursor: pointer;
}
.port-mark.free circle {
  fill: var(--sheet);
  stroke: var(--mark);
  stroke-width: 2;
}
.ruler line {
  stroke: var(--ink-3);
  stroke-width: 0.8;
}
.ruler text {
  font: 400 var(--t-1) var(--figures);
  fill: var(--ink-2);
  text-anchor: middle;
}
@media (max-width: 760px) {
  .elevation {
    display: none;
    height: 286px;
  }
  .elevation.shown {
    display: block;
  }
}
.joint {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.1;
}
.dimension path {
  stroke: var(--ink-2);
  stroke-width: 0.9;
  fill: none;
}
.dimension text {
  font: 500 var(--t-1) var(--figures);
  fill: var(--ink);
  text-anchor: middle;
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 3px;
}
.dimension.h text {
  text-anchor: start;
}
.dimension.part path {
  stroke: var(--mark);
  stroke-width: 1.4;
}
.dimension.part text {
  fill: var(--mark);
}
.lone .elevation.side {
  grid-area: 1 / 1;
}
.lone .elevation.front {
  grid-area: 1 / 2 / 3 / 3;
}
.lone .elevation.top {
  grid-area: 2 / 1;
}
@media (max-width: 760px) {
  .lone .elevation {
    display: block;
    height: auto;
  }
}
</style>
