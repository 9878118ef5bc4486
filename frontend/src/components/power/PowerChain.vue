<script setup lang="ts">
import { computed } from 'vue'
import type { ChainEdgeView, ChainNodeView, PowerView } from '../../api/schema.gen'
import { fixed } from '../../lib/format'

const props = defineProps<{ power: PowerView; selected: string }>()
const emit = defineEmits<{ select: [unit: string] }>()
const [BOX, TALL, GAP_X, GAP_Y, EDGE] = [164, 74, 160, 18, 14]
/** Wires change height right behind their outlet, so that what is written along them stays free. */
const BEND = 36

interface Placed extends ChainNodeView {
  x: number
  y: number
}

/** Columns from the packs outwards; what a unit feeds stands beside it as far as there is room. */
const placed = computed(() => {
  const columns = new Map<number, ChainNodeView[]>()
  for (const node of props.power.nodes) columns.set(node.column, [...(columns.get(node.column) ?? []), node])
  const found = new Map<string, Placed>()
  for (const [column, nodes] of [...columns.entries()].sort(([a], [b]) => a - b)) {
    const wanted = (n: ChainNodeView): number => {
      const from = props.power.edges.find((e) => e.sink === n.unit)
      return from ? (found.get(from.source)?.y ?? 0) : 1e6
    }
    let y = 0
    for (const node of column ? [...nodes].sort((a, b) => wanted(a) - wanted(b)) : nodes) {
      const at = Math.max(y, column && wanted(node) < 1e6 ? wanted(node) : y)
      found.set(node.unit, { ...node, x: EDGE + column * (BOX + GAP_X), y: at })
      y = at + TALL + GAP_Y
    }
  }
  return found
})
const nodes = computed(() => [...placed.value.values()])
const width = computed(() => Math.max(560, ...nodes.value.map((n) => n.x + BOX + EDGE)))
const height = computed(() => Math.max(120, ...nodes.value.map((n) => n.y + TALL + 10)))

interface Wire {
  edge: ChainEdgeView
  path: string
  x: number
  y: number
}
const wires = computed<Wire[]>(() =>
  props.power.edges.flatMap((edge) => {
    const [a, b] = [placed.value.get(edge.source), placed.value.get(edge.sink)]
    if (!a || !b) return []
    const outs = props.power.edges
      .filter((e) => e.source === edge.source)
      .sort((x, y) => (placed.value.get(x.sink)?.y ?? 0) - (placed.value.get(y.sink)?.y ?? 0))
    const y0 = a.y + (TALL * (outs.indexOf(edge) + 1)) / (outs.length + 1)
    const y1 = b.y + TALL / 2
    const [x0, x1] = [a.x + BOX, b.x]
    const [mid, turned] = [x1 - GAP_X + BEND / 2, x1 - GAP_X + BEND]
    return [
      {
        edge,
        path: `M${String(x0)} ${String(y0)}H${String(x1 - GAP_X)}C${String(mid)} ${String(y0)} ${String(mid)} ${String(y1)} ${String(turned)} ${String(y1)}H${String(x1)}`,
        x: turned + 2,
        y: y1,
      },
    ]
  }),
)
const gauge = (n: ChainNodeView): { low: number; at: number } | null => {
  const [low, high] = n.window
  if (low === null || high === null || n.volts === null) return null
  const span = (high - low) * 1.3
  return { low: ((high - low) / span) * 100, at: Math.min(100, Math.max(0, ((n.volts - low) / span) * 100)) }
}
/** Connectors at both ends of a feed; once where they are alike. */
const plugs = (ends: readonly string[]): string[] => [...new Set(ends)]
</script>

<template>
  <div class="chain" tabindex="-1">
    <svg
      :viewBox="`0 0 ${width} ${height}`"
      :style="{ minWidth: `${width * 0.72}px`, maxWidth: `${width * 1.15}px` }"
      role="group"
      aria-label="The chain from packs to inputs"
    >
      <g
        v-for="w in wires"
        :key="w.edge.source + w.edge.outlet + w.edge.sink"
        class="wire"
        :class="[
          w.edge.level,
          { broken: !w.edge.connects || (w.edge.amps === null && placed.get(w.edge.source)?.volts == null) },
        ]"
      >
        <path :d="w.path" :style="{ strokeWidth: `${1.5 + Math.min(w.edge.amps ?? 0, 6) * 0.9}` }" />
        <text :x="w.x" :y="w.y - 9" class="flow">
          {{
            w.edge.amps === null
              ? !w.edge.connects
                ? 'does not mate'
                : placed.get(w.edge.source)?.volts == null
                  ? 'off'
                  : 'with the other'
              : `${fixed(w.edge.amps, 2)} A  ${fixed(w.edge.watts ?? 0, 1)} W`
          }}
        </text>
        <text :x="w.x" :y="w.y + 16" class="cable">
          {{ w.edge.cable ?? 'plugged on' }}{{ w.edge.converted_v ? ` ${fixed(w.edge.converted_v, 1)} V` : '' }}
          <tspan v-if="(w.edge.drop_v ?? 0) >= 0.005">−{{ fixed(w.edge.drop_v ?? 0, 2) }} V</tspan>
        </text>
        <text v-for="(plug, i) in plugs(w.edge.plugs)" :key="plug" :x="w.x" :y="w.y + 30 + i * 12" class="plugs">
          {{ i ? '→ ' : '' }}{{ plug }}
        </text>
      </g>
      <g
        v-for="n in nodes"
        :key="n.unit"
        class="node"
        :class="[n.level, { chosen: n.unit === selected, dark: n.volts === null, source: !n.column }]"
        :transform="`translate(${n.x} ${n.y})`"
        role="button"
        tabindex="0"
        data-rove
        :aria-label="`${n.unit}, ${n.kind}`"
        @click="emit('select', n.unit)"
        @keydown.enter="emit('select', n.unit)"
      >
        <rect :width="BOX" :height="TALL" />
        <text x="10" y="19" class="unit">{{ n.unit }}</text>
        <text :x="BOX - 10" y="19" class="draw" text-anchor="end">
          {{ n.draw_w ? `${fixed(n.draw_w, 1)} W` : n.kind }}
        </text>
        <text x="10" y="47" class="volts">
          {{ n.volts === null ? 'dark' : fixed(n.volts, 2) }}
          <tspan v-if="n.volts !== null" class="v" dx="-7">V</tspan>
        </text>
        <template v-if="gauge(n)">
          <line class="window" x1="10" :x2="10 + (gauge(n)?.low ?? 0) * 1.28" y1="62" y2="62" />
          <path class="at" :d="`M${10 + (gauge(n)?.at ?? 0) * 1.28} 56v12`" />
        </template>
        <text v-if="n.window[1] !== null" :x="BOX - 10" y="47" class="limits" text-anchor="end">
          {{ n.window[0] ?? '–' }}–{{ n.window[1] }} V
        </text>
      </g>
    </svg>
  </div>
</template>

<style>
.chain {
  overflow-x: auto;
  padding: var(--gap-8) var(--gap-5) var(--gap-6);
  flex: none;
}
.chain svg {
  width: 100%;
  display: block;
}
.chain .node rect {
  fill: var(--lift);
  stroke: var(--rule);
  stroke-width: 1.4;
}
.chain .node.source rect {
  fill: var(--mark-wash);
}
.chain .node.stop rect {
  stroke: var(--stop);
  stroke-width: 3;
}
.chain .node.watch rect {
  stroke: var(--watch);
  stroke-width: 2.4;
}
.chain .node.chosen rect {
  stroke: var(--ink);
  stroke-width: 2.4;
}
.chain .node {
  cursor: pointer;
}
.chain .unit {
  font: 700 var(--t-3) var(--text);
  fill: var(--ink);
}
.chain .draw,
.chain .limits,
.chain .cable {
  font: 400 var(--t-2) var(--text);
  fill: var(--ink-2);
}
.chain .volts {
  font: 700 var(--t-6) var(--figures);
  fill: var(--ink);
}
.chain .v {
  font-size: var(--t-2);
}
.chain .dark .volts {
  fill: var(--stop);
  font-size: var(--t-5);
}
.chain .window {
  stroke: var(--rule);
  stroke-width: 6;
}
.chain .at {
  stroke: var(--ink);
  stroke-width: 2.4;
}
.chain .wire path {
  fill: none;
  stroke: var(--mark);
}
.chain .wire.stop path {
  stroke: var(--stop);
}
.chain .wire.watch path {
  stroke: var(--watch);
}
.chain .wire.broken path {
  stroke-dasharray: 7 6;
}
.chain .flow {
  font: 600 var(--t-2) var(--figures);
  fill: var(--ink);
}
.chain .flow,
.chain .plugs {
  font-size: 10.5px;
  fill: var(--ink-3);
}
.chain .plugs,
.chain .cable {
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 4px;
  stroke-linejoin: round;
}
.chain .wire.broken .flow {
  fill: var(--stop);
}
</style>
