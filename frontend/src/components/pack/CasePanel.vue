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
const props = defineProps<{ of: Case; view: PackingView; cameras: readonly { id: string; label: string }[] }>()
const frame = useFrame()
const TRAVELS = ['van', 'cabin', 'hold', 'on the back', 'sent ahead'] as const
const put = (change: Partial<Case['along']>): Promise<boolean> =>
  frame.pack({ op: 'put case', case: { ...props.of.along, ...change } })
const who = computed({
  get: () => props.of.along.carried_by ?? '',
  set: (value: string) => {
    void put({ carried_by: value.trim() })
  },
})
const cameras = computed(() => [
  { value: '', text: 'no camera' },
  ...props.cameras.map((c) => ({ value: c.id, text: c.label })),
])
</script>

<template>
  <section class="case-panel" :aria-label="`${of.along.unit} as it travels`">
    <label
      >Travels
      <ChoiceField :model-value="of.travels" :choices="TRAVELS" :commit="(v: Case['travels']) => put({ travels: v })"
    /></label>
    <label>Carried by <TextField v-model.lazy="who" list="pack-names" /></label>
    <datalist id="pack-names"><option v-for="name in view.names" :key="name" :value="name" /></datalist>
    <label
      >Stays by
      <ChoiceField
        :model-value="of.along.stays_with ?? ''"
        :choices="cameras"
        :commit="(v: string) => put({ stays_with: v })"
    /></label>
    <BFormCheckbox :model-value="of.along.seat ?? false" @update:model-value="put({ seat: $event === true })"
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
