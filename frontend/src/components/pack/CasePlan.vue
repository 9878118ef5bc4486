<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { PackingView } from '../../api/schema.gen'
import { clock, fixed, weekday } from '../../lib/format'

/** A case from above, layer by layer, and cut from the front, both to one scale. */
type Case = PackingView['cases'][number]
type Thing = PackingView['things'][number]
const props = defineProps<{
  of: Case
  things: readonly Thing[]
  soonest: string | null
  thing: string
  layer: number
}>()
const emit = defineEmits<{ choose: [thing: string]; layer: [layer: number] }>()
const by = computed(() => new Map(props.things.map((t) => [t.id, t])))
const layers = computed(() => Math.max(1, ...props.of.laid.map((e) => e.layer)))
const shown = computed(() => Math.min(props.layer || layers.value, layers.value))
watch(
  () => props.of.along.unit,
  () => {
    emit('layer', 0)
  },
)
const room = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(room)
const GAP = 26
const scale = computed(() => {
  const [long, deep] = props.of.inside_mm
  const high = props.of.outside_mm[2]
  return Math.max(0.1, Math.min((width.value - 40) / long, (height.value - GAP - 24) / (deep + high)))
})
const wall = computed(
  () => props.of.outside_mm.map((x, i) => (x - (props.of.inside_mm[i] ?? x)) / 2) as [number, number, number],
)
/** From above y points away from whoever stands before the case: drawn upwards. */
const looked = computed(() => props.of.laid.filter((e) => e.layer <= shown.value))
const plan = computed(() =>
  looked.value.map((e) => ({
    ...e,
    x: e.at_mm[0] * scale.value,
    y: (props.of.inside_mm[1] - e.at_mm[1] - e.size_mm[1]) * scale.value,
    w: e.size_mm[0] * scale.value,
    h: e.size_mm[1] * scale.value,
    below: e.covered_from !== null && e.covered_from <= shown.value,
  })),
)
/** Seen from the front: what stands nearer hides what is behind it. */
const cut = computed(() =>
  [...props.of.laid]
    .sort((a, b) => b.at_mm[1] - a.at_mm[1])
    .map((e) => ({
      thing: e.thing,
      x: e.at_mm[0] * scale.value,
      y: (props.of.outside_mm[2] - wall.value[2] - e.at_mm[2] - e.size_mm[2]) * scale.value,
      w: e.size_mm[0] * scale.value,
      h: e.size_mm[2] * scale.value,
      on: e.layer <= shown.value,
    })),
)
const kind = (id: string): string => {
  const t = by.value.get(id)
  if (!t) return ''
  if (t.wh !== null) return 'pack'
  return { lens: 'glass', monitor: 'screen', body: 'body', cable: 'soft', card: 'accent' }[t.kind] ?? 'metal'
}
/** What is wanted in the first part of the day is outlined. */
const first = (id: string): boolean => !!props.soonest && by.value.get(id)?.first === props.soonest
const label = (id: string): string => (id.startsWith('+') ? (by.value.get(id)?.title ?? id) : id)
const fits = (text: string, w: number, h: number): boolean => h > 13 && w > text.length * 6.4 + 4
const cg = computed(() => {
  const at = props.of.cg_mm
  if (!at) return null
  return {
    x: (at[0] + props.of.inside_mm[0] / 2) * scale.value,
    y: (props.of.inside_mm[1] / 2 - at[1]) * scale.value,
    z: (props.of.outside_mm[2] - at[2]) * scale.value,
  }
})
</script>

<template>
  <div class="case-plan">
    <div class="layers" role="group" aria-label="Layer">
      <button
        v-for="n in layers"
        :key="n"
        type="button"
        class="chip"
        :aria-pressed="shown === layers - n + 1"
        @click="emit('layer', layers - n + 1)"
      >
        {{ layers === 1 ? 'one layer' : n === 1 ? 'top' : n === layers ? 'floor' : `${n}` }}
      </button>
      <span class="legend"><i></i> wanted first{{ soonest ? `: ${weekday(soonest)} ${clock(soonest)}` : '' }}</span>
    </div>
    <div ref="room" class="room">
      <svg
        v-if="width"
        :width="width"
        :height="Math.max(60, (of.inside_mm[1] + of.outside_mm[2]) * scale + GAP + 20)"
        :aria-label="`${of.along.unit} from above and from the front`"
        role="group"
      >
        <g :transform="`translate(${(width - of.inside_mm[0] * scale) / 2}, 12)`">
          <rect
            class="shell"
            :x="-wall[0] * scale"
            :y="-Math.min(wall[1] * scale, 10)"
            :width="of.outside_mm[0] * scale"
            :height="of.inside_mm[1] * scale + 2 * Math.min(wall[1] * scale, 10)"
            rx="4"
          />
          <rect class="inside" :width="of.inside_mm[0] * scale" :height="of.inside_mm[1] * scale" />
          <g
            v-for="e in plan"
            :key="e.thing"
            class="laid"
            :class="[kind(e.thing), { below: e.below, first: first(e.thing), chosen: e.thing === thing }]"
            role="button"
            :tabindex="e.below ? -1 : 0"
            :aria-label="`${label(e.thing)}, ${by.get(e.thing)?.title ?? ''}`"
            @click="emit('choose', e.thing)"
            @keydown.enter="emit('choose', e.thing)"
          >
            <rect :x="e.x" :y="e.y" :width="e.w" :height="e.h" />
            <text v-if="!e.below && fits(label(e.thing), e.w, e.h)" :x="e.x + e.w / 2" :y="e.y + e.h / 2 + 4">
              {{ label(e.thing) }}
            </text>
            <text
              v-else-if="!e.below && fits(label(e.thing), e.h, e.w)"
              :transform="`translate(${e.x + e.w / 2 + 4}, ${e.y + e.h / 2}) rotate(-90)`"
            >
              {{ label(e.thing) }}
            </text>
          </g>
          <g v-if="cg" class="cg" :transform="`translate(${cg.x}, ${cg.y})`"><path d="M -7 0 H 7 M 0 -7 V 7" /></g>
        </g>
        <g
          :transform="`translate(${(width - of.inside_mm[0] * scale) / 2}, ${of.inside_mm[1] * scale + GAP + 8})`"
          aria-hidden="true"
        >
          <rect
            class="shell"
            :x="-wall[0] * scale"
            :width="of.outside_mm[0] * scale"
            :height="of.outside_mm[2] * scale"
            rx="4"
          />
          <rect
            class="inside"
            :y="wall[2] * scale"
            :width="of.inside_mm[0] * scale"
            :height="of.inside_mm[2] * scale"
          />
          <rect
            v-for="e in cut"
            :key="e.thing"
            class="side"
            :class="[kind(e.thing), { on: e.on, chosen: e.thing === thing }]"
            :x="e.x"
            :y="e.y"
            :width="e.w"
            :height="e.h"
          />
          <g v-if="cg" class="cg" :transform="`translate(${cg.x}, ${cg.z})`"><path d="M -7 0 H 7 M 0 -7 V 7" /></g>
        </g>
      </svg>
    </div>
    <p class="case-figures">
      inside {{ of.inside_mm.map((x) => fixed(x, 0)).join(' × ') }} mm · {{ fixed(of.filled * 100, 0) }} % full · empty
      {{ fixed(of.empty_g / 1000, 1) }} kg{{
        of.packs_g ? ` · packs ${fixed((100 * of.packs_g) / of.mass_g, 0)} % of its mass, ${fixed(of.wh, 0)} Wh` : ''
      }}{{ of.waterproof ? ' · waterproof' : '' }}{{ of.seen ? ` · ${of.seen}` : '' }} · + balance point{{
        of.without_mass.length ? ', without what has no mass' : ''
      }}
    </p>
  </div>
</template>

<style>
.case-plan {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-height: 0;
}
.case-plan .layers {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--gap-4);
  padding: var(--gap-5) var(--gap-7) 0;
}
.case-plan .chip {
  min-height: 30px;
  padding: 0 var(--gap-6);
  border: 1px solid var(--rule);
}
.case-plan .chip[aria-pressed='true'] {
  background: var(--mark-wash);
  border-color: var(--mark);
}
.case-plan .legend {
  margin-left: auto;
  font-size: var(--t-2);
  color: var(--ink-2);
}
.case-plan .legend i {
  display: inline-block;
  width: 14px;
  height: 10px;
  border: 2.5px solid var(--mark);
}
.case-plan .room {
  min-height: 0;
  overflow: hidden;
}
.case-plan .shell {
  fill: var(--p-soft);
  opacity: 0.35;
}
.case-plan .inside {
  fill: var(--lift);
  stroke: var(--p-line);
  stroke-width: 1;
}
.case-plan .laid rect,
.case-plan .side {
  fill: var(--p-metal);
  stroke: var(--p-line);
  stroke-width: 0.8;
}
.case-plan .laid.below {
  opacity: 0.32;
}
.case-plan .glass rect,
.case-plan .side.glass {
  fill: var(--p-glass);
}
.case-plan .screen rect,
.case-plan .side.screen {
  fill: var(--p-screen);
}
.case-plan .screen text {
  fill: var(--lift);
}
.case-plan .body rect,
.case-plan .side.body {
  fill: var(--p-body);
}
.case-plan .pack rect,
.case-plan .side.pack,
.case-plan .accent rect,
.case-plan .side.accent {
  fill: var(--p-accent);
}
.case-plan .soft rect,
.case-plan .side.soft {
  fill: var(--sheet);
}
.case-plan .first rect {
  stroke: var(--mark);
  stroke-width: 2.4;
}
.case-plan .laid {
  cursor: pointer;
}
.case-plan .laid.chosen rect,
.case-plan .side.chosen {
  stroke: var(--ink);
  stroke-width: 3.2;
}
.case-plan .side {
  opacity: 0.5;
}
.case-plan .side.on,
.case-plan .side.chosen {
  opacity: 1;
}
.case-plan text {
  font: 600 var(--t-1) var(--figures);
  text-anchor: middle;
  fill: var(--ink);
  pointer-events: none;
}
.case-plan .cg path {
  stroke: var(--stop);
  stroke-width: 2;
  fill: none;
}
.case-figures {
  padding: var(--gap-4) var(--gap-7) var(--gap-6);
  font-size: var(--t-3);
  color: var(--ink-2);
}
</style>
