<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import type { BudgetView } from '../../api/schema.gen'
import type { Choice } from '../../lib/fields'
import { grams } from '../../lib/format'
import { freshId } from '../../lib/ids'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** Running costs and obligations of a job, each with what of it this job pays. */
const props = defineProps<{ view: BudgetView }>()
const frame = useFrame()
type Cost = BudgetView['costs'][number]['cost']
const KINDS: Choice<NonNullable<Cost['kind']>>[] = [
  { value: 'licence', text: 'licence' },
  { value: 'cards', text: 'cards' },
  { value: 'insurance', text: 'insurance' },
  { value: 'people', text: 'people' },
  { value: 'travel', text: 'travel' },
  { value: 'other', text: 'other' },
]
const PER: Choice<NonNullable<Cost['per']>>[] = [
  { value: 'job', text: 'for the job' },
  { value: 'day', text: 'a day' },
  { value: 'camera', text: 'a camera' },
]
const put = (cost: Cost, change: Partial<Cost>): Promise<boolean> =>
  frame.edit({ op: 'put cost', cost: { ...cost, ...change } })
function add(): Promise<boolean> {
  const { id, number } = freshId(
    'cost',
    props.view.costs.map((c) => c.cost.id ?? ''),
  )
  return frame.edit({ op: 'put cost', cost: { id, label: `Cost ${String(number)}`, amount: 0 } })
}
</script>

<template>
  <section class="money-costs" aria-label="Running costs">
    <h2>Running costs and obligations</h2>
    <div v-for="{ cost, total } in view.costs" :key="cost.id" class="cost-line" role="group" :aria-label="cost.label">
      <TextField
        :model-value="cost.label"
        :aria-label="`Name of ${cost.label}`"
        @change="put(cost, { label: ($event.target as HTMLInputElement).value })"
      />
      <ChoiceField
        :model-value="cost.kind ?? 'other'"
        :choices="KINDS"
        :aria-label="`Kind of ${cost.label}`"
        :commit="(kind: NonNullable<Cost['kind']>) => put(cost, { kind })"
      />
      <NumberField
        :model-value="cost.amount"
        min="0"
        step="any"
        :aria-label="`Amount of ${cost.label}`"
        :commit="(amount: number) => put(cost, { amount })"
      />
      <ChoiceField
        :model-value="cost.per ?? 'job'"
        :choices="PER"
        :aria-label="`What ${cost.label} is paid for`"
        :commit="(per: NonNullable<Cost['per']>) => put(cost, { per })"
      />
      <label class="shared"
        >shared by
        <NumberField
          :model-value="cost.jobs ?? 1"
          min="1"
          max="999"
          step="1"
          :aria-label="`Jobs that share ${cost.label}`"
          :commit="(jobs: number) => put(cost, { jobs })"
        />
        {{ cost.jobs === 1 ? 'job' : 'jobs' }}</label
      >
      <BFormCheckbox :model-value="cost.with_tax ?? false" @update:model-value="put(cost, { with_tax: !cost.with_tax })"
        >tax is in it</BFormCheckbox
      >
      <span class="sum">{{ grams(total) }}</span>
      <label class="covers"
        >covers
        <TextField
          :model-value="cost.covers"
          :aria-label="`What ${cost.label} covers`"
          @change="put(cost, { covers: ($event.target as HTMLInputElement).value })"
      /></label>
      <label class="until"
        >until
        <input
          class="form-control"
          type="date"
          :aria-label="`Last day of ${cost.label}`"
          :value="cost.until ?? ''"
          @change="put(cost, { until: ($event.target as HTMLInputElement).value || null })"
      /></label>
      <BButton @click="frame.edit({ op: 'remove cost', cost: cost.id })">Remove</BButton>
    </div>
    <p class="money-foot">
      <BButton @click="add">Add a cost</BButton>
      <span v-if="view.costs.length"
        >in all <b>{{ grams(view.running) }}</b></span
      >
    </p>
  </section>
</template>

<style>
.cost-line {
  display: grid;
  grid-template-columns: minmax(140px, 1.4fr) 110px 88px 118px auto auto 70px;
  gap: var(--gap-3) var(--gap-5);
  align-items: center;
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-4) 0;
  font-size: var(--t-3);
}
.cost-line .sum {
  font: 600 var(--t-4) var(--figures);
  text-align: right;
}
.cost-line label {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
}
.cost-line .shared input {
  width: 58px;
}
.cost-line .covers {
  grid-column: 1 / 5;
}
.cost-line .covers input {
  flex: 1;
}
.cost-line .until {
  grid-column: 5 / 7;
}
.money-foot {
  display: flex;
  justify-content: space-between;
  align-items: center;
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-4) 0;
}
@media (max-width: 760px) {
  .cost-line {
    grid-template-columns: 1fr 1fr;
  }
  .cost-line > :is(:first-child, .covers, .until) {
    grid-column: 1 / -1;
  }
}
</style>
