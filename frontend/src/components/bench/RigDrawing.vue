<script setup lang="ts">
import { useThrottleFn } from '@vueuse/core'
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, defineAsyncComponent, ref, useTemplateRef, watch } from 'vue'
import { drawingAddress, type Operation, type Place } from '../../api'
import { vTip } from '../../lib/tip'
import { useBench } from '../../stores/bench'
import ElevationPanel from './ElevationPanel.vue'

const SpacePanel = defineAsyncComponent(() => import('./SpacePanel.vue'))

defineProps<{ place: Place }>()
const bench = useBench()
const emit = defineEmits<{ port: [unit: string, port: string] }>()
const shown = ref<'side' | 'front' | 'top'>('side')
const LOOK = 'lift-crate-bench-look'
/** Elevations, or the rig in space; this browser keeps which. */
const inSpace = ref(localStorage.getItem(LOOK) === 'space')
watch(inSpace, (now) => {
  localStorage.setItem(LOOK, now ? 'space' : 'elevations')
})
const solid = useTemplateRef<{ nearer: (factor: number) => void; fit: () => void }>('solid')

const slides = computed(() =>
  Object.fromEntries((bench.view?.rows ?? []).filter((r) => r.slides).map((r) => [r.unit, r.slide_mm])),
)
const flagged = computed(() =>
  Object.fromEntries(
    (bench.view?.rows ?? []).filter((r) => r.level === 'stop' || r.level === 'watch').map((r) => [r.unit, r.level]),
  ),
)
const drawings = computed(() => bench.view?.elevations ?? [])
const held = ref(false)
/** The throttle's last call may come after the part was let go. */
const tryAt = useThrottleFn((operation: Operation) => (held.value ? bench.tryOut([operation]) : undefined), 60, true)

function move(operation: Operation): void {
  held.value = true
  void tryAt(operation)
}

function settle(operation: Operation): void {
  held.value = false
  void bench.edit(operation)
}

const drag = (unit: string, to_mm: number): void => {
  move({ op: 'slide', unit, to_mm })
}
const drop = (unit: string, to_mm: number): void => {
  settle({ op: 'slide', unit, to_mm })
}

const panels = useTemplateRef<InstanceType<typeof ElevationPanel>[]>('panels')
const dimensions = ref(false)
defineExpose({
  look: () => {
    inSpace.value = !inSpace.value
  },
  nearer: (factor: number) => {
    solid.value?.nearer(factor)
    panels.value?.forEach((panel) => {
      panel.nearer(factor)
    })
  },
  fit: () => {
    solid.value?.fit()
    panels.value?.forEach((panel) => {
      panel.fit()
    })
  },
  toggleDimensions: () => {
    dimensions.value = !dimensions.value
  },
})
</script>

<template>
  <section class="drawing" :class="{ 'in-space': inSpace }" aria-label="The rig, drawn">
    <div class="views" role="tablist" aria-label="View">
      <BButton
        v-for="d in drawings"
        :key="d.view"
        role="tab"
        :aria-selected="!inSpace && d.view === shown"
        @click="((shown = d.view), (inSpace = false))"
      >
        {{ d.view }}
      </BButton>
      <BButton role="tab" :aria-selected="inSpace" @click="inSpace = true">Space</BButton>
    </div>
    <SpacePanel
      v-if="inSpace && bench.view"
      ref="solid"
      :place="place"
      :version="bench.view.version"
      :selected="bench.selected"
      :slides="slides"
      :flagged="flagged"
      @select="bench.selected = $event"
      @port="(u, p) => emit('port', u, p)"
      @move="move"
      @settle="settle"
    />
    <ElevationPanel
      v-for="d in inSpace ? [] : drawings"
      ref="panels"
      :key="d.view"
      :drawing="d"
      :dimensions="dimensions"
      :selected="bench.selected"
      :slides="slides"
      :flagged="flagged"
      :class="{ shown: d.view === shown }"
      @select="bench.selected = $event"
      @port="(u, p) => emit('port', u, p)"
      @drag="drag"
      @drop="drop"
    />
    <div class="draw-acts">
      <BButton v-tip="'The same rig in space, to be turned (s)'" :aria-pressed="inSpace" @click="inSpace = !inSpace">
        In space
      </BButton>
      <BButton
        v-if="!inSpace"
        v-tip="'Joints and dimension lines (d)'"
        :aria-pressed="dimensions"
        @click="dimensions = !dimensions"
      >
        Dimensions
      </BButton>
      <BButton
        v-tip="'Fit (z); the wheel zooms, drag the sheet to move it'"
        @click="
          panels?.forEach((p) => {
            p.fit()
          })
        "
      >
        Fit
      </BButton>
      <BLink
        v-tip="`The ${shown} elevation at 1:4`"
        class="btn btn-secondary"
        :href="drawingAddress(place, 'svg', shown, 4)"
        target="_blank"
        >SVG</BLink
      >
      <BLink
        v-tip="'All elevations on A3 at 1:4'"
        class="btn btn-secondary"
        :href="drawingAddress(place, 'pdf', 'side', 4)"
        target="_blank"
        >PDF</BLink
      >
    </div>
    <p v-if="bench.view && !bench.view.saved" class="trying">
      {{ bench.lookingBack ? 'as it was then: only looked at' : 'not saved: trying it out' }}
    </p>
  </section>
</template>

<style>
.views {
  display: none;
}
.trying {
  position: absolute;
  left: 28px;
  top: 6px;
  background: var(--mark);
  color: var(--lift);
  font-size: var(--t-2);
  padding: 1px var(--gap-5);
}
@media (max-width: 760px) {
  .views {
    display: flex;
    height: 44px;
    background: var(--sheet);
  }
  .views button {
    flex: 1;
    text-align: center;
    text-transform: capitalize;
    border-bottom: 3px solid transparent;
  }
  .views button[aria-selected='true'] {
    border-color: var(--mark);
    font-weight: 600;
  }
  .trying {
    top: 50px;
  }
}
.draw-acts {
  position: absolute;
  right: 6px;
  top: 5px;
  display: flex;
  gap: var(--gap-2);
  opacity: 0.9;
}
.draw-acts .btn {
  min-height: 22px;
  padding: 1px var(--gap-5);
  font-size: var(--t-2);
  text-decoration: none;
  color: var(--ink-2);
}
.draw-acts [aria-pressed='true'] {
  background: var(--ink);
  color: var(--ground);
}
@media (max-width: 760px) {
  .draw-acts {
    display: none;
  }
}
</style>
