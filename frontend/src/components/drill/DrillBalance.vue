<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { computed, ref, watch } from 'vue'
import type { DrillView } from '../../api/schema.gen'
import { fixed } from '../../lib/format'

/** A gimbal hung out of balance: let go of one axis, see what falls, set one slide by its printed scale. */
type Slide = DrillView['slides'][number]
const props = defineProps<{ view: DrillView; moves: number }>()
const emit = defineEmits<{ move: [slide: Slide['name'], reading: number] }>()
const chosen = ref<Slide['name']>('fore_aft')
/** What is let go of now; a hand holds everything else. */
const let_go = ref(false)
const look = computed(() => props.view.looks.find((l) => l.slide === chosen.value))
const typed = ref<Record<string, string>>({})
watch(
  () => props.view.slides,
  (now, before) => {
    // What is being typed at another slide stays while the answer to a move comes in.
    const moved = now.filter((s) => before?.find((b) => b.name === s.name)?.reading !== s.reading)
    for (const s of moved) typed.value[s.name] = String(s.reading)
    if (moved.length) let_go.value = false
  },
  { immediate: true },
)
function release(name: Slide['name']): void {
  const again = chosen.value === name && let_go.value
  chosen.value = name
  let_go.value = !again
}
defineExpose({
  choose: (n: number) => {
    const s = props.view.slides[n]
    if (s) release(s.name)
  },
})
function set(s: Slide, reading: number): void {
  const at = Math.min(s.high, Math.max(s.low, Math.round(reading * 10) / 10))
  if (at !== s.reading) emit('move', s.name, at)
}
const turn = computed(() => (let_go.value ? (look.value?.turns_deg ?? 0) : 0))
/** Lens up for height, from the front for roll, from above for pan. */
const base = computed(() => (chosen.value === 'vertical' ? -90 : 0))
const from = computed(() => ({ lateral: 'from behind', pan: 'from above' })[chosen.value as string] ?? 'from the side')
const PACE: Record<string, string> = { stays: '0s', slowly: '2.4s', briskly: '1.1s', 'at once': '0.35s' }
const shift = (name: Slide['name'], by: number): number =>
  ((props.view.slides.find((s) => s.name === name)?.at ?? 0.5) - 0.5) * by
</script>

<template>
  <div class="drill-balance">
    <figure>
      <svg
        viewBox="-160 -120 320 240"
        role="img"
        :aria-label="`Gimbal ${from}: ${let_go ? (look?.seen ?? '') : 'held'}`"
      >
        <text x="-154" y="-104" class="view-name">{{ from }}</text>
        <template v-if="chosen !== 'pan'">
          <path v-if="chosen === 'lateral'" d="M-70 -60 h140 M0 -60 v-34" class="arm" />
          <path v-else d="M0 0 h-86 v74 h-30" class="arm" />
          <circle cx="0" cy="0" r="5" class="axis" />
          <g
            class="hangs"
            :style="{
              transform: `rotate(${base + (chosen === 'fore_aft' ? 1 : -1) * turn}deg)`,
              transitionDuration: let_go ? PACE[look?.pace ?? 'stays'] : '0.2s',
            }"
          >
            <path d="M-70 34 h140 M-46 34 v-34 h46" class="plate" />
            <g v-if="chosen === 'lateral'" :transform="`translate(${-shift('lateral', 40)} ${-shift('vertical', 40)})`">
              <rect x="-38" y="-34" width="76" height="68" class="body" />
              <circle r="24" class="lens" />
              <rect x="-14" y="-50" width="28" height="16" class="body" />
            </g>
            <g v-else :transform="`translate(${shift('fore_aft', 50)} ${-shift('vertical', 40)})`">
              <rect x="-44" y="-32" width="62" height="62" class="body" />
              <rect x="18" y="-22" width="62" height="42" class="lens" />
              <rect x="-36" y="-50" width="34" height="18" class="body" />
              <rect x="-58" y="-18" width="14" height="36" class="body" />
            </g>
          </g>
        </template>
        <template v-else>
          <circle cx="0" cy="0" r="10" class="axis" />
          <g
            class="hangs"
            :style="{
              transform: `rotate(${turn}deg)`,
              transitionDuration: let_go ? PACE[look?.pace ?? 'stays'] : '0.2s',
            }"
          >
            <path :d="`M${-shift('pan', 60) - 60} 0 h120`" class="arm" />
            <g :transform="`translate(${shift('pan', 60) + 20} 0)`">
              <rect x="-40" y="-28" width="60" height="56" class="body" />
              <rect x="20" y="-20" width="56" height="40" class="lens" />
            </g>
          </g>
        </template>
      </svg>
      <figcaption aria-live="polite">
        <strong>{{ let_go ? (look?.pace === 'stays' ? 'It stays' : look?.seen) : 'Held by hand' }}</strong>
        <span>{{ let_go ? (look?.pace === 'stays' ? 'less than friction holds' : look?.pace) : look?.check }}</span>
      </figcaption>
    </figure>
    <ol class="drill-slides">
      <li v-for="(s, i) in view.slides" :key="s.name" :class="{ on: chosen === s.name }">
        <BButton :aria-pressed="chosen === s.name && let_go" @click="release(s.name)"
          >{{ i + 1 }} {{ view.looks[i]?.check }}</BButton
        >
        <p>
          <b>{{ s.plain }}</b> <small>{{ s.technical }}</small>
        </p>
        <input
          type="range"
          :min="s.low"
          :max="s.high"
          step="0.5"
          :value="s.reading"
          :aria-label="`Scale, ${s.plain}`"
          @change="set(s, Number(($event.target as HTMLInputElement).value))"
        />
        <form @submit.prevent="set(s, Number(typed[s.name]))">
          <BFormInput
            :model-value="typed[s.name] ?? ''"
            inputmode="decimal"
            :aria-label="`Number on the scale, ${s.plain}`"
            @update:model-value="typed[s.name] = String($event ?? '')"
          />
          <BButton type="submit" size="sm">Set</BButton>
          <small>{{ fixed(s.low, 0) }} to {{ fixed(s.high, 0) }}</small>
        </form>
      </li>
    </ol>
    <p class="moves">
      <strong>{{ moves }}</strong> {{ moves === 1 ? 'move' : 'moves' }}
    </p>
  </div>
</template>

<style>
.drill-balance {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(320px, 440px);
  gap: var(--gap-8);
}
.drill-balance figure {
  margin: 0;
  align-self: start;
  background: var(--sheet);
  border: 1px solid var(--rule);
}
.drill-balance svg {
  width: 100%;
  max-height: 420px;
}
.drill-balance .hangs {
  transform-box: view-box;
  transform-origin: 0 0;
  transition: transform ease-in;
}
.drill-balance .arm {
  fill: none;
  stroke: var(--p-soft);
  stroke-width: 9;
  stroke-linejoin: round;
}
.drill-balance .axis {
  fill: var(--lift);
  stroke: var(--mark);
  stroke-width: 3;
}
.drill-balance .body {
  fill: var(--p-body);
  stroke: var(--p-line);
}
.drill-balance .lens {
  fill: var(--p-glass);
  stroke: var(--p-line);
}
.drill-balance .plate {
  fill: none;
  stroke: var(--p-metal);
  stroke-width: 5;
}
.drill-balance .view-name {
  font: 600 11px var(--figures);
  fill: var(--ink-3);
}
.drill-balance figcaption {
  padding: var(--gap-5) var(--gap-7);
  border-top: 1px solid var(--rule);
}
.drill-balance figcaption strong {
  display: block;
  font: 700 var(--t-6) var(--text);
}
.drill-slides {
  list-style: none;
  margin: 0;
  padding: 0;
}
.drill-slides li {
  padding: var(--gap-5) 0 var(--gap-6);
  border-bottom: 1px solid var(--rule);
}
.drill-slides li > .btn {
  width: 100%;
  min-height: 44px;
  text-align: left;
}
.drill-slides p {
  margin: var(--gap-3) 0 0;
}
.drill-slides small {
  color: var(--ink-3);
}
.drill-slides input[type='range'] {
  width: 100%;
  accent-color: var(--mark);
}
.drill-slides form {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
}
.drill-slides form input {
  width: 96px;
  font: 600 var(--t-4) var(--figures);
}
.drill-balance .moves strong {
  font: 700 var(--t-7) var(--figures);
}
@media (max-width: 760px) {
  .drill-balance {
    grid-template-columns: minmax(0, 1fr);
  }
  .drill-balance svg {
    max-height: 240px;
  }
}
@media (prefers-reduced-motion: reduce) {
  .drill-balance .hangs {
    transition: none;
  }
}
</style>
