<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, ref, watch } from 'vue'
import type { DayView } from '../../api/schema.gen'
import type { Choice } from '../../lib/fields'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import TextField from '../fields/TextField.vue'
import CountMarks from '../frame/CountMarks.vue'
import CureList from './CureList.vue'
import FrameTrouble from '../frame/FrameTrouble.vue'

/** A camera in a part of the day: its build, who works it, and what stands against it first. */
const props = defineProps<{ view: DayView; job: string; part: string; rig: string }>()
const emit = defineEmits<{ change: [] }>()
const frame = useFrame()
const cell = computed(() => props.view.cells.find((c) => c.part === props.part && c.rig === props.rig))
const row = computed(() => props.view.rigs.find((r) => r.id === props.rig))
const column = computed(() => props.view.parts.find((p) => p.id === props.part))
const onTop = computed(() => row.value?.builds.find((b) => b.id === cell.value?.build)?.on_top ?? [])
const before = computed(() => {
  const at = props.view.parts.findIndex((p) => p.id === props.part)
  return props.view.parts[at - 1]
})
const earlier = computed(() => props.view.cells.find((c) => c.part === before.value?.id && c.rig === props.rig))
const change = computed(() => props.view.changes.find((c) => c.after === props.part && c.rig === props.rig))
const choices = computed(() => [
  { value: '', text: 'not there' },
  ...(row.value?.builds ?? []).map((b) => ({ value: b.id, text: b.label })),
])
const at = computed(() => ({ rig: props.rig, part: props.part }))
/** A build that was asked for and is not there whole. */
const wanted = ref('')
watch(at, () => (wanted.value = ''))
async function plan(build: string | null): Promise<boolean> {
  const held = await frame.edit({ op: 'plan build', ...at.value, build })
  wanted.value = held ? '' : (build ?? '')
  return held
}
const short = computed(() =>
  props.view.findings.some((f) => f.code === 'day.short' && f.units[0] === `${props.rig} ${props.part}`),
)
const SCHEMES: Choice<DayView['cells'][number]['scheme']>[] = [
  { value: '', text: 'as is usual' },
  { value: 'mirrored', text: 'the same in both slots' },
  { value: 'relay', text: 'slot after slot' },
  { value: 'single', text: 'one slot only' },
]
const named = (event: Event): string => (event.target as HTMLInputElement).value.trim()

async function asBefore(): Promise<void> {
  const was = earlier.value
  if (!was) return
  await frame.edit(
    { op: 'plan build', ...at.value, build: was.build },
    { op: 'set cell', ...at.value, operator: was.operator, unattended: was.unattended, spotter: was.spotter },
  )
}
</script>

<template>
  <section v-if="row && column" class="cell-panel" :aria-label="`${row.label} in ${column.label}`">
    <h2>
      {{ row.label }} <small>in {{ column.label }}</small>
    </h2>
    <label
      >Build
      <ChoiceField
        :model-value="cell?.build ?? ''"
        :choices="choices"
        :aria-label="`Build of ${row.label} in ${column.label}`"
        :commit="(build: string) => plan(build || null)"
      />
    </label>
    <template v-if="cell">
      <label
        >Who works it
        <TextField
          :model-value="cell.operator"
          list="known-people"
          placeholder="nobody named"
          :disabled="cell.unattended"
          :aria-label="`Who works ${row.label} in ${column.label}`"
          @change="frame.edit({ op: 'set cell', ...at, operator: named($event) })"
        />
        <datalist id="known-people"><option v-for="n in view.known_people" :key="n" :value="n"></option></datalist>
      </label>
      <label v-if="!cell.unattended"
        >Spotter
        <TextField
          :model-value="cell.spotter"
          list="known-people"
          placeholder="nobody"
          :aria-label="`Spotter of ${row.label} in ${column.label}`"
          :commit="(spotter: string) => frame.edit({ op: 'set cell', ...at, spotter })"
        />
      </label>
      <label class="tick">
        <input
          class="form-check-input"
          type="checkbox"
          :checked="cell.unattended"
          @change="frame.edit({ op: 'set cell', ...at, unattended: ($event.target as HTMLInputElement).checked })"
        />
        runs unattended
      </label>
      <label
        >Cards
        <ChoiceField
          :model-value="cell.scheme"
          :choices="SCHEMES"
          :aria-label="`How the slots of ${row.label} share the work in ${column.label}`"
          :commit="(scheme: DayView['cells'][number]['scheme']) => frame.edit({ op: 'set cell', ...at, scheme })"
        />
      </label>
      <p class="cell-against"><CountMarks :counts="cell.counts" /> {{ cell.first }}</p>
    </template>
    <dl v-if="row.core.length > 1" class="core-of">
      <dt>never comes off</dt>
      <dd>{{ row.core.join(', ') }}</dd>
      <template v-if="cell && onTop.length">
        <dt>on top of that here</dt>
        <dd>{{ onTop.join(', ') }}</dd>
      </template>
    </dl>
    <FrameTrouble />
    <CureList
      v-if="wanted || (cell && short)"
      :job="job"
      :part="part"
      :rig="rig"
      :build="wanted || (cell?.build ?? '')"
      :version="frame.view?.version ?? 0"
      @taken="wanted = ''"
    />
    <div class="acts">
      <BButton v-if="earlier && earlier.build !== cell?.build" @click="asBefore">As in {{ before?.label }}</BButton>
      <BButton v-if="change && !change.same" @click="emit('change')">Its change</BButton>
      <BLink v-if="cell" class="btn btn-secondary" :to="{ name: 'bench', params: { job, part, rig } }"
        >On the Bench</BLink
      >
    </div>
  </section>
</template>

<style>
.cell-panel {
  display: grid;
  gap: var(--gap-5);
  align-content: start;
}
.cell-panel h2 {
  font: 700 var(--t-5) var(--text);
}
.cell-panel h2 small {
  font-weight: 400;
  color: var(--ink-2);
}
.cell-panel label {
  display: grid;
  gap: var(--gap-1);
  font-size: var(--t-2);
  color: var(--ink-2);
}
.cell-panel label.tick {
  grid-template-columns: auto 1fr;
  align-items: center;
  gap: var(--gap-5);
  font-size: var(--t-3);
  color: var(--ink);
}
.cell-panel .cell-against {
  display: flex;
  gap: var(--gap-5);
  align-items: center;
  font-size: var(--t-3);
}
.cell-panel .acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
}
.core-of {
  margin: 0;
  font-size: var(--t-3);
}
.core-of dt {
  font-weight: 400;
  font-size: var(--t-2);
  color: var(--ink-2);
}
.core-of dd {
  margin: 0 0 var(--gap-4);
  font-family: var(--figures);
  font-size: var(--t-2);
}
</style>
