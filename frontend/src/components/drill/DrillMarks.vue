<script setup lang="ts">
import { computed, ref } from 'vue'
import type { DrillView } from '../../api/schema.gen'
import ElevationPanel from '../bench/ElevationPanel.vue'

/** A rig to look over: what is marked is held to be at fault. */
const props = defineProps<{ view: DrillView; marks: readonly string[] }>()
const emit = defineEmits<{ mark: [unit: string] }>()
const side = ref(0)
const last = ref('')
const drawing = computed(() => props.view.elevations[side.value])
const flagged = computed(() => Object.fromEntries(props.marks.map((u) => [u, 'watch'])))
function mark(unit: string): void {
  last.value = unit
  emit('mark', unit)
}
defineExpose({ turn: () => (side.value = (side.value + 1) % Math.max(1, props.view.elevations.length)) })
</script>

<template>
  <div class="drill-marks">
    <div class="drill-drawing">
      <ElevationPanel
        v-if="drawing"
        :drawing="drawing"
        :selected="last"
        :slides="{}"
        :flagged="flagged"
        @select="mark"
      />
    </div>
    <div class="drill-parts">
      <p>
        <strong>{{ marks.length }}</strong> marked, {{ view.to_find }} to find
      </p>
      <ul aria-label="Parts and cables">
        <li v-for="r in view.rows" :key="r.unit" :style="{ paddingLeft: `${r.depth * 14}px` }">
          <button type="button" :aria-pressed="marks.includes(r.unit)" @click="mark(r.unit)">
            <b>{{ r.unit }}</b> {{ r.title }} <small>{{ r.joint }}</small>
          </button>
        </li>
        <li v-for="c in view.cables" :key="c.cable" class="cable">
          <button type="button" :aria-pressed="marks.includes(c.cable)" @click="mark(c.cable)">
            <b>{{ c.cable }}</b> {{ c.title }} <small>{{ c.runs }}</small>
          </button>
        </li>
      </ul>
    </div>
  </div>
</template>

<style>
.drill-marks {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(320px, 440px);
  gap: var(--gap-8);
}
.drill-drawing {
  height: 460px;
  border: 1px solid var(--rule);
  background: var(--sheet);
  display: grid;
}
.drill-drawing .elevation {
  grid-area: 1 / 1;
}
.drill-parts strong {
  font: 700 var(--t-7) var(--figures);
}
.drill-parts ul {
  list-style: none;
  padding: 0;
  margin: 0;
}
.drill-parts button {
  width: 100%;
  min-height: 32px;
  text-align: left;
  border: 0;
  border-bottom: 1px solid var(--rule-2);
  background: none;
  color: inherit;
}
.drill-parts button[aria-pressed='true'] {
  background: var(--watch-wash);
  box-shadow: inset 4px 0 var(--watch);
  padding-left: var(--gap-5);
}
.drill-parts b {
  font: 600 var(--t-3) var(--figures);
}
.drill-parts small {
  color: var(--ink-3);
}
@media (max-width: 760px) {
  .drill-marks {
    grid-template-columns: minmax(0, 1fr);
  }
  .drill-drawing {
    height: 260px;
  }
  .drill-parts button {
    min-height: 44px;
  }
}
</style>
