<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { DAY_MIN, daysOf, minutes, onClock, placed, STEP_MIN, type Stretch } from '../../lib/days'
import { clock, weekday } from '../../lib/format'

export interface ScalePart {
  id: string
  label: string
  starts: string
  ends: string
  moments: readonly { at: string; label?: string }[]
}

/** Days as time scales; parts are moved and stretched on them by pointer or by arrow keys, in steps of 5 minutes. */
const props = defineProps<{
  parts: readonly ScalePart[]
  chosen: string
  move: (part: string, starts: string, ends: string) => Promise<unknown>
}>()
const emit = defineEmits<{ choose: [part: string] }>()

type Grip = 'whole' | 'start' | 'end'
const dragged = ref<{ stretch: Stretch; grip: Grip; at: number; was: Stretch } | null>(null)
const strips = ref<HTMLElement[]>([])

/** Where the keys and the pointer have put things that are still on their way to the server: fast presses add up. */
const aimed = ref<Record<string, Stretch>>({})
let underWay = 0
const saved = computed<Stretch[]>(() =>
  props.parts.map((p) => aimed.value[p.id] ?? { id: p.id, from: minutes(p.starts), to: minutes(p.ends) }),
)
const shown = computed(() => saved.value.map((s) => (dragged.value?.stretch.id === s.id ? dragged.value.stretch : s)))
const days = computed(() => daysOf(shown.value))
const part = (id: string): ScalePart | undefined => props.parts.find((p) => p.id === id)

/** The hours that are drawn: those in use with one to spare on each side; they stay while something is dragged. */
const hours = ref({ from: 0, to: 24 })
watch(
  [saved, dragged],
  () => {
    if (dragged.value) return
    const used = daysOf(saved.value).flatMap((d) => d.pieces.map((p) => ({ from: p.from - d.day, to: p.to - d.day })))
    if (!used.length) return
    const first = Math.floor(Math.min(...used.map((p) => p.from)) / 60) - 1
    const last = Math.ceil(Math.max(...used.map((p) => p.to)) / 60) + 1
    hours.value = { from: Math.max(0, first), to: Math.min(24, Math.max(last, first + 6)) }
  },
  { immediate: true },
)
const width = computed(() => (hours.value.to - hours.value.from) * 60)
const share = (min: number): number => ((min - hours.value.from * 60) / width.value) * 100
const ticks = computed(() => {
  const every = width.value > 14 * 60 ? 3 : width.value > 8 * 60 ? 2 : 1
  return Array.from({ length: 25 }, (_, h) => h).filter(
    (h) => h >= hours.value.from && h <= hours.value.to && h % every === 0,
  )
})
const moments = computed(() =>
  props.parts.flatMap((p) => p.moments.map((m) => ({ at: minutes(m.at), label: m.label ?? '' }))),
)
function changed(was: Stretch, grip: Grip, by: number): Stretch | null {
  return placed(saved.value, was.id, grip === 'end' ? was.from : was.from + by, grip === 'start' ? was.to : was.to + by)
}

function grab(event: PointerEvent, id: string, grip: Grip): void {
  const was = saved.value.find((s) => s.id === id)
  if (!was || event.button !== 0) return
  emit('choose', id)
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  dragged.value = { stretch: was, grip, at: event.clientX, was }
}

function drag(event: PointerEvent): void {
  const now = dragged.value
  const pixels = strips.value[0]?.clientWidth
  if (!now || !pixels) return
  const next = changed(now.was, now.grip, ((event.clientX - now.at) / pixels) * width.value)
  if (next) dragged.value = { ...now, stretch: next }
}

function drop(): void {
  const now = dragged.value
  dragged.value = null
  if (now && (now.stretch.from !== now.was.from || now.stretch.to !== now.was.to)) void told(now.stretch)
}

async function told(s: Stretch): Promise<void> {
  aimed.value = { ...aimed.value, [s.id]: s }
  underWay++
  try {
    await props.move(s.id, onClock(s.from), onClock(s.to))
  } finally {
    underWay--
    if (!underWay) aimed.value = {}
  }
}

/** Arrows move a part, with Shift its end, with Ctrl its start. */
function key(event: KeyboardEvent, id: string): void {
  const step = { ArrowLeft: -STEP_MIN, ArrowRight: STEP_MIN }[event.key]
  const was = saved.value.find((s) => s.id === id)
  if (!step || !was) return
  event.preventDefault()
  event.stopPropagation()
  const next = changed(was, event.shiftKey ? 'end' : event.ctrlKey ? 'start' : 'whole', step)
  if (next) void told(next)
}
</script>

<template>
  <div class="day-scale">
    <div v-for="d in days" :key="d.day" class="day-row">
      <span class="of-day">{{ weekday(onClock(d.day)) }}</span>
      <div ref="strips" class="strip-of-day">
        <span v-for="h in ticks" :key="h" class="hour" :style="{ left: `${share(h * 60)}%` }">{{
          String(h).padStart(2, '0')
        }}</span>
        <div
          v-for="p in d.pieces"
          :key="p.id"
          class="stretch"
          :class="{ chosen: p.id === chosen }"
          :style="{ left: `${share(p.from - d.day)}%`, width: `${((p.to - p.from) / width) * 100}%` }"
        >
          <button
            type="button"
            class="body"
            :aria-pressed="p.id === chosen"
            :aria-label="`${part(p.id)?.label ?? ''}, ${clock(onClock(p.from))} to ${clock(onClock(p.to))}. Arrow keys move it, with Shift its end, with Ctrl its start.`"
            @click="emit('choose', p.id)"
            @keydown="key($event, p.id)"
            @pointerdown="grab($event, p.id, 'whole')"
            @pointermove="drag"
            @pointerup="drop"
            @pointercancel="dragged = null"
          >
            <span
              >{{ clock(onClock(p.from)) }}<i class="until">–{{ clock(onClock(p.to)) }}</i></span
            >
            <b>{{ part(p.id)?.label }}</b>
          </button>
          <span
            v-for="grip in ['start', 'end'] as const"
            :key="grip"
            class="grip"
            :class="`at-${grip}`"
            aria-hidden="true"
            @pointerdown="grab($event, p.id, grip)"
            @pointermove="drag"
            @pointerup="drop"
            @pointercancel="dragged = null"
          ></span>
        </div>
        <span
          v-for="m in moments.filter((m) => m.at >= d.day && m.at < d.day + DAY_MIN)"
          :key="`${m.at} ${m.label}`"
          class="once-only"
          :style="{ left: `${share(m.at - d.day)}%` }"
          :title="`${clock(onClock(m.at))} ${m.label}`"
        ></span>
      </div>
    </div>
  </div>
</template>

<style>
.day-row {
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr);
  align-items: end;
  padding-bottom: var(--gap-4);
}
.of-day {
  font: 600 var(--t-3) var(--text);
  padding-bottom: var(--gap-7);
}
.strip-of-day {
  position: relative;
  overflow: hidden;
  height: 68px;
  margin-right: var(--gap-7);
  border-bottom: 1px solid var(--rule);
  background: var(--ground);
}
.hour {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--rule-2);
  padding-left: var(--gap-1);
  font: 400 var(--t-1) var(--figures);
  color: var(--ink-2);
}
.stretch {
  position: absolute;
  top: 16px;
  bottom: 0;
  background: var(--sheet);
  border-top: 4px solid var(--rule);
  border-left: 1px solid var(--rule);
  container-type: inline-size;
}
.stretch.chosen {
  background: var(--ink);
  color: var(--ground);
  border-top-color: var(--mark);
}
html[data-appearance='night'] .stretch.chosen {
  background: #26302c;
  color: #d3dbd1;
}
.stretch .body {
  width: 100%;
  height: 100%;
  padding: var(--gap-2) var(--gap-6);
  overflow: hidden;
  white-space: nowrap;
  cursor: grab;
  touch-action: none;
}
.stretch .body > * {
  overflow: hidden;
  text-overflow: ellipsis;
}
.stretch .body b {
  display: block;
}
.stretch .until {
  font-style: normal;
}
.stretch .body span {
  display: block;
  font: 400 var(--t-2) var(--figures);
}
@container (max-width: 104px) {
  .stretch .until {
    display: none;
  }
}
@container (max-width: 64px) {
  .stretch .body {
    white-space: normal;
    padding: var(--gap-1) var(--gap-3);
    line-height: 1.1;
  }
  .stretch .body span {
    display: none;
  }
}
.grip {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 9px;
  cursor: ew-resize;
  touch-action: none;
}
.grip.at-start {
  left: 0;
}
.grip.at-end {
  right: 0;
}
.stretch:hover .grip {
  background: var(--mark);
  opacity: 0.5;
}
.once-only {
  position: absolute;
  top: 12px;
  width: 4px;
  height: 12px;
  background: var(--watch);
}
@media (max-width: 760px) {
  .day-row {
    grid-template-columns: minmax(0, 1fr);
  }
  .of-day {
    padding-bottom: var(--gap-2);
  }
  .strip-of-day {
    margin-right: 0;
  }
}
</style>
