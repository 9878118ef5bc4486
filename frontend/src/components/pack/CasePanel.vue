<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { computed } from 'vue'
import type { PackingView } from '../../api/schema.gen'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import TextField from '../fields/TextField.vue'

/** A case that goes along: how it travels, who carries it, where it stands meanwhile. */
type Case = PackingView['cases'][number]
const props = defineProps<{
  of: Case
  along: Case['along']
  view: PackingView
  cameras: readonly { id: string; label: string }[]
}>()
const frame = useFrame()
const TRAVELS = ['van', 'cabin', 'hold', 'on the back', 'sent ahead'] as const
const put = (change: Partial<Case['along']>): Promise<boolean> =>
  frame.packFrom((job) => ({
    op: 'put case',
    case: { ...(job.pack?.cases?.find((c) => c.unit === props.of.along.unit) ?? props.along), ...change },
  }))
const cameras = computed(() => [
  { value: '', text: 'no camera' },
  ...props.cameras.map((c) => ({ value: c.id, text: c.label })),
])
</script>

<template>
  <section class="case-panel" :aria-label="`${of.along.unit} as it travels`">
    <label
      >Travels
      <ChoiceField
        :model-value="along.travels || of.travels"
        :choices="TRAVELS"
        :commit="(v: Case['travels']) => put({ travels: v })"
    /></label>
    <label
      >Carried by
      <TextField
        :model-value="along.carried_by"
        list="pack-names"
        maxlength="200"
        :commit="(v: string) => put({ carried_by: v })"
    /></label>
    <datalist id="pack-names"><option v-for="name in view.names" :key="name" :value="name" /></datalist>
    <label
      >Stays by
      <ChoiceField
        :model-value="along.stays_with ?? ''"
        :choices="cameras"
        :commit="(v: string) => put({ stays_with: v })"
    /></label>
    <BFormCheckbox :model-value="along.seat ?? false" @update:model-value="put({ seat: $event === true })"
      >Somebody sits on it</BFormCheckbox
    >
    <BButton @click="frame.pack({ op: 'remove case', case: of.along.unit })">Leave {{ of.along.unit }} at home</BButton>
  </section>
</template>

<style>
.case-panel {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: var(--gap-5) var(--gap-7);
  padding: var(--gap-5) var(--gap-7);
  border-top: 1px solid var(--rule-2);
}
.case-panel label {
  font-size: var(--t-2);
}
.case-panel .form-control {
  width: 110px;
}
</style>
