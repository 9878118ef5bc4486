<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { computed, ref, watch } from 'vue'
import { readWantable } from '../../api'
import type { BudgetView, WantableView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import type { Choice } from '../../lib/fields'
import { counted, fixed, grams } from '../../lib/format'
import { freshId } from '../../lib/ids'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** What is wanted: musts first; what stands in the place of one thing stands together, the price beside what it brings. */
const props = defineProps<{ job: string; part: string; rig: string; view: BudgetView }>()
const frame = useFrame()
type Row = BudgetView['wanted'][number]
type Want = Row['want']
const TIERS: Choice<NonNullable<Want['tier']>>[] = [
  { value: 'must', text: 'must have' },
  { value: 'next', text: 'next' },
  { value: 'later', text: 'later' },
]
const HOW: Choice<NonNullable<Want['how']>>[] = [
  { value: 'buy new', text: 'buy new' },
  { value: 'buy used', text: 'buy used' },
  { value: 'hire', text: 'hire, a day' },
]
const PER: Choice<NonNullable<Want['per']>>[] = [
  { value: 'each', text: 'each' },
  { value: 'set', text: 'for the set' },
]
const place = (w: Want): string => [w.rig, w.part, w.unit].join(' ')
const ofTier = (tier: string): Row[] =>
  props.view.wanted
    .filter((w) => w.want.tier === tier)
    .sort((a, b) => place(a.want).localeCompare(place(b.want)) || (a.total ?? 0) - (b.total ?? 0))
const rigOf = (id: string): string => frame.view?.job.rigs?.find((r) => r.id === id)?.label ?? id
const partOf = (id: string): string => frame.view?.job.parts?.find((p) => p.id === id)?.label ?? id
const put = (want: Want, change: Partial<Want>): Promise<boolean> =>
  frame.edit({ op: 'put want', want: { ...want, ...change } })
const amount = (what: string, value: number): string =>
  what === 'g lighter'
    ? grams(Math.abs(value))
    : what.endsWith('fewer')
      ? fixed(Math.abs(value), 0)
      : fixed(Math.abs(value), 2)
const WORSE: Record<string, string> = {
  'Stops fewer': 'Stops more',
  'Watches fewer': 'Watches more',
  'stops of light': 'stops of light less',
  'g lighter': 'g heavier',
  'h longer': 'h shorter',
}
const said = (what: string, value: number): string => {
  const words = value > 0 ? what : (WORSE[what] ?? what)
  return Math.abs(value) === 1 ? words.replace('Stops', 'Stop').replace('Watches', 'Watch') : words
}
const one = (what: string): string =>
  ({ 'Stops fewer': 'a Stop', 'Watches fewer': 'a Watch', 'stops of light': 'a stop', 'h longer': 'an hour' })[what] ??
  '100 g'
const each = (what: string, value: number): string => grams(what === 'g lighter' ? value * 100 : value)

const adding = ref(false)
const unit = ref('')
const words = ref('')
const { found, load } = useLoad<WantableView>()
watch(
  () => [adding.value, props.part, props.rig, unit.value, words.value] as const,
  ([open]) => {
    if (open) void load(() => readWantable(props.job, props.part, props.rig, unit.value, words.value))
  },
)
const units = computed<Choice[]>(() => [
  { value: '', text: 'nothing: beside what there is' },
  ...(found.value?.units ?? []).map((u) => ({ value: u.unit, text: `${u.unit}, ${u.title}` })),
])
async function add(model: string): Promise<void> {
  const { id } = freshId(
    'want',
    props.view.wanted.map((w) => w.want.id ?? ''),
  )
  const where = unit.value ? { rig: props.rig, part: props.part, unit: unit.value } : {}
  if (await frame.edit({ op: 'put want', want: { id, model, ...where } })) adding.value = false
}
</script>

<template>
  <section class="money-wants" aria-label="Wanted">
    <h2>Wanted</h2>
    <p v-for="f in view.findings" :key="f.key" class="money-watch">{{ f.text }}</p>
    <template v-for="t in TIERS" :key="t.value">
      <h3 v-if="ofTier(t.value).length">
        {{ t.text }}
        <small
          >{{ grams(view.tiers.find((x) => x.tier === t.value)?.total ?? 0) }},
          {{ grams(view.tiers.find((x) => x.tier === t.value)?.taken ?? 0) }} of it decided</small
        >
      </h3>
      <div
        v-for="w in ofTier(t.value)"
        :key="w.want.id"
        class="want-line"
        :class="{ decided: w.want.taken }"
        role="group"
        :aria-label="`${w.title}, ${w.want.how ?? 'buy new'}`"
      >
        <div class="want-what">
          <b>{{ w.title }}</b>
          <small v-if="w.want.unit"
            >for {{ w.want.unit }} on {{ rigOf(w.want.rig ?? '') }}, {{ partOf(w.want.part ?? '') }}</small
          >
          <p v-if="w.refused" class="want-not">{{ w.refused }}</p>
          <ul v-if="w.gains.length">
            <li v-for="g in w.gains" :key="g.what" :class="{ worse: g.amount < 0 }">
              <b>{{ amount(g.what, g.amount) }}</b> {{ said(g.what, g.amount)
              }}<span v-if="g.each !== null"
                >, <b>{{ each(g.what, g.each) }}</b> for {{ one(g.what) }}</span
              >
            </li>
          </ul>
          <small v-if="w.comes_off.length">{{ w.comes_off.join(', ') }} comes off with it</small>
          <small v-if="w.payback_jobs !== null && w.payback_days !== null"
            >pays after {{ counted(Math.ceil(w.payback_days), 'day') }} of hire,
            {{ counted(w.payback_jobs, 'job') }} like this one</small
          >
        </div>
        <span class="sum">{{ w.total === null ? 'no price' : grams(w.total) }}</span>
        <div class="want-terms">
          <ChoiceField
            :model-value="w.want.tier ?? 'next'"
            :choices="TIERS"
            :aria-label="`How much ${w.title} matters`"
            :commit="(tier: NonNullable<Want['tier']>) => put(w.want, { tier })"
          />
          <ChoiceField
            :model-value="w.want.how ?? 'buy new'"
            :choices="HOW"
            :aria-label="`How ${w.title} is had`"
            :commit="(how: NonNullable<Want['how']>) => put(w.want, { how })"
          />
          <NumberField
            :model-value="w.want.count ?? 1"
            min="1"
            max="999"
            step="1"
            :aria-label="`How many of ${w.title}`"
            :commit="(count: number) => put(w.want, { count })"
          />
          ×
          <NumberField
            :model-value="w.want.price"
            optional
            min="0"
            step="any"
            placeholder="catalogue"
            :aria-label="`Price of ${w.title}`"
            :commit="(price: number) => put(w.want, { price })"
            :clear="() => put(w.want, { price: null })"
          />
          <ChoiceField
            :model-value="w.want.per ?? 'each'"
            :choices="PER"
            :aria-label="`What the price of ${w.title} is for`"
            :commit="(per: NonNullable<Want['per']>) => put(w.want, { per })"
          />
          <BFormCheckbox
            :model-value="w.want.with_tax ?? false"
            @update:model-value="put(w.want, { with_tax: !w.want.with_tax })"
            >tax is in it</BFormCheckbox
          >
          <BFormCheckbox
            :model-value="w.want.taken ?? false"
            @update:model-value="put(w.want, { taken: !w.want.taken })"
            >decided</BFormCheckbox
          >
          <TextField
            :model-value="w.want.note"
            :aria-label="`Note on ${w.title}`"
            placeholder="why"
            @change="put(w.want, { note: ($event.target as HTMLInputElement).value })"
          />
          <BButton @click="frame.edit({ op: 'remove want', want: w.want.id })">Remove</BButton>
        </div>
      </div>
    </template>
    <p v-if="!view.wanted.length" class="quiet">Nothing is wanted.</p>
    <p class="money-foot">
      <BButton :aria-expanded="adding" @click="adding = !adding">Add something wanted</BButton>
    </p>
    <div v-if="adding" class="want-add">
      <label
        >For {{ rigOf(rig) }} in {{ partOf(part) }}, in the place of
        <ChoiceField v-model="unit" :choices="units" aria-label="In the place of"
      /></label>
      <label
        >Words
        <TextField
          v-model="words"
          aria-label="Words of its name"
          :placeholder="unit ? 'all of its kind' : 'name or kind'"
      /></label>
      <ul>
        <li v-for="m in found?.models ?? []" :key="m.id">
          <BButton @click="add(m.id)">{{ m.title }}</BButton>
          <small
            >{{ m.price === null ? 'no price' : grams(m.price)
            }}{{ m.hire_per_day === null ? '' : `, ${grams(m.hire_per_day)} a day` }}</small
          >
        </li>
      </ul>
      <p v-if="found && !found.models.length" class="quiet">
        {{
          unit || words
            ? 'Nothing like that in the catalogue; make a model of it on the Shelf first.'
            : 'Choose a unit, or type a word.'
        }}
      </p>
    </div>
  </section>
</template>

<style>
.money-wants h3 {
  font: 600 var(--t-4) var(--text);
  text-transform: none;
  padding: var(--gap-5) 0 0;
}
.money-wants h3 small {
  font-weight: 400;
  color: var(--ink-2);
}
.money-watch {
  background: var(--watch-wash);
  color: var(--watch);
  padding: var(--gap-4) var(--gap-5);
  font-size: var(--t-3);
}
.want-line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 90px;
  gap: var(--gap-3) var(--gap-5);
  border-top: 1px solid var(--rule-2);
  border-left: 3px solid transparent;
  padding: var(--gap-4) 0 var(--gap-5) var(--gap-5);
  font-size: var(--t-3);
}
.want-line.decided {
  border-left-color: var(--mark);
}
.want-line .sum {
  font: 700 var(--t-5) var(--figures);
  text-align: right;
}
.want-what small {
  color: var(--ink-2);
  margin-left: var(--gap-5);
}
.want-what ul {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-7);
  list-style: none;
  margin: 0;
  padding: var(--gap-2) 0;
}
.want-what li b {
  font-family: var(--figures);
}
.want-what .worse {
  color: var(--ink-3);
}
.want-not {
  color: var(--stop);
}
.want-terms {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-4);
  align-items: center;
}
.want-terms select {
  width: auto;
}
.want-terms input[type='number'] {
  width: 92px;
}
.want-terms input[type='text'] {
  width: 190px;
}
.want-add ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(280px, 1fr));
  gap: var(--gap-3);
}
.want-add label {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
  align-items: center;
  padding: var(--gap-3) 0;
}
.want-add select,
.want-add input {
  width: auto;
}
</style>
