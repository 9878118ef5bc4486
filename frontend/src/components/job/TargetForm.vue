<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { computed } from 'vue'
import type { Target } from '../../api/schema.gen'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import type { Choice } from '../../lib/fields'
import NumberField from '../fields/NumberField.vue'

/** What a camera must see from its position, and what that position asks of the rig. */
const props = defineProps<{ rig: string; label: string; target: Target | null }>()
const frame = useFrame()
const moves = computed(() => Object.keys(frame.view?.job.settings?.moves ?? {}))

const LENGTHS = [
  ['distance_mm', 'Distance to subject', 'lens, depth of field'],
  ['width_mm', 'Width there', 'focal length'],
  ['nearest_mm', 'Nearest face', 'close focus'],
] as const

type WorkedBy = NonNullable<Target['worked_by']>
type Look = NonNullable<Target['look']>
const WORKED_BY: Choice<WorkedBy>[] = [
  { value: 'two hands', text: 'an operator, both hands free' },
  { value: 'one hand', text: 'an operator with one hand' },
  { value: 'nobody', text: 'nobody, it runs alone' },
]
const LOOKS: Choice<Look>[] = [
  { value: '', text: 'any size' },
  { value: 'discreet', text: 'discreet: up to 4 l, 1.5 kg' },
  { value: 'ordinary', text: 'ordinary: up to 15 l' },
  { value: 'impressive', text: 'impressive' },
]

function set(change: Partial<Target>): Promise<boolean> {
  return frame.editFrom((job) => {
    const now = job.rigs?.find((r) => r.id === props.rig)?.target
    return { op: 'set target', rig: props.rig, target: { ...now, ...change } as Target }
  })
}
const metres = (mm: number | null | undefined): number | null => (mm == null ? null : mm / 1000)
</script>

<template>
  <form class="target-form" :aria-label="`What ${label} must see`" @submit.prevent>
    <template v-if="!target">
      <p class="quiet">Nothing entered: lens, width, focus and light are not judged for this position.</p>
      <label>
        Distance to subject, m
        <NumberField
          :model-value="null"
          optional
          min="0"
          step="any"
          :commit="(m: number) => set({ distance_mm: m * 1000 })"
        />
        <small>the rest can be entered after it</small>
      </label>
    </template>
    <template v-else>
      <label v-for="[field, name, bears] in LENGTHS" :key="field">
        {{ name }}, m
        <NumberField
          :model-value="metres(target[field])"
          optional
          min="0"
          step="any"
          :commit="(m: number) => set({ [field]: m * 1000 })"
          :clear="() => field !== 'distance_mm' && set({ [field]: null })"
        />
        <small>affects {{ bears }}</small>
      </label>
      <label>
        Light there, EV
        <NumberField
          :model-value="target.light_ev"
          optional
          step="any"
          placeholder="as in the part"
          :commit="(ev: number) => set({ light_ev: ev })"
          :clear="() => set({ light_ev: null })"
        />
        <small>where it differs from the part of the day</small>
      </label>
      <label>
        Lamps add there, EV
        <NumberField
          :model-value="target.lamps_ev"
          optional
          step="any"
          placeholder="as on the plan"
          :commit="(ev: number) => set({ lamps_ev: ev })"
          :clear="() => set({ lamps_ev: null })"
        />
        <small>to the light of the part of the day</small>
      </label>
      <label>
        Speed of what carries it, m/s
        <NumberField
          :model-value="target.speed_m_s ?? 0"
          min="0"
          step="any"
          :commit="(v: number) => set({ speed_m_s: v })"
        />
        <small>affects mounts</small>
      </label>
      <label>
        Nearest mains, m
        <NumberField
          :model-value="target.mains_m"
          optional
          min="0"
          step="any"
          placeholder="no mains"
          :commit="(m: number) => set({ mains_m: m })"
          :clear="() => set({ mains_m: null })"
        />
        <small>affects mains adapters</small>
      </label>
      <label>
        Who works it
        <ChoiceField
          :model-value="target.worked_by ?? 'two hands'"
          :choices="WORKED_BY"
          :commit="(worked_by: WorkedBy) => set({ worked_by })"
        />
        <small>affects autofocus</small>
      </label>
      <label>
        How large it may look
        <ChoiceField :model-value="target.look ?? ''" :choices="LOOKS" :commit="(look: Look) => set({ look })" />
        <small>affects the size of the build</small>
      </label>
      <div class="kinds-of-work">
        <BFormCheckbox :model-value="target.follows ?? false" @update:model-value="set({ follows: $event === true })"
          >follows what moves</BFormCheckbox
        >
        <BFormCheckbox
          v-for="m in moves"
          :key="m"
          :model-value="target.moves?.includes(m) ?? false"
          @update:model-value="
            set({ moves: $event ? [...(target.moves ?? []), m] : (target.moves ?? []).filter((x) => x !== m) })
          "
          >{{ m }}</BFormCheckbox
        >
        <small>kinds of work on a gimbal; none ticked: everything it can do</small>
      </div>
      <BButton @click="frame.edit({ op: 'set target', rig, target: null })">Clear these figures</BButton>
    </template>
  </form>
</template>

<style>
.target-form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: var(--gap-6) var(--gap-7);
  padding: var(--gap-5) 0 var(--gap-5) 64px;
  align-items: start;
}
.target-form label {
  display: grid;
  gap: var(--gap-2);
  font-size: var(--t-3);
}
.target-form small {
  color: var(--ink-2);
  font-size: var(--t-2);
}
.target-form > .quiet,
.kinds-of-work {
  grid-column: 1 / -1;
  padding: 0;
}
.kinds-of-work {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-8);
  align-items: center;
}
.target-form > .btn {
  justify-self: start;
}
@media (max-width: 900px) {
  .target-form {
    padding-left: 0;
  }
}
</style>
