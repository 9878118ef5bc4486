<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { computed } from 'vue'
import type { ModelChoice, Question } from '../../api/schema.gen'
import { NEW, hint, interfacesFor, problemAt, rowsOf, type Answer, type Answers } from '../../lib/patterns'
import { useShelf } from '../../stores/shelf'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** One question of a pattern, with its unit and what it feeds; lists ask each of their rows. */
const props = defineProps<{
  question: Question
  path: string
  models: readonly ModelChoice[]
  problems: readonly { path: string; message: string }[]
}>()
const answer = defineModel<Answer>({ required: true })
const shelf = useShelf()
const rows = computed(() => rowsOf(props.question, answer.value))
const problem = computed(() => problemAt(props.problems, props.path))
const choices = computed(() => interfacesFor(props.question, shelf.interfaces))
const fresh = computed(() =>
  answer.value !== null && typeof answer.value === 'object' && !Array.isArray(answer.value)
    ? (answer.value as Answers)
    : null,
)
const figures = computed(() => shelf.interfaces?.figures[props.question.families?.[0] ?? ''] ?? [])
const usual = computed(() => (typeof props.question.typical === 'string' ? props.question.typical : ''))
const chosen = computed(() => (fresh.value ? NEW : String(answer.value ?? (usual.value || ''))))
const number = computed({
  get: () => (typeof answer.value === 'number' ? answer.value : null),
  set: (value) => (answer.value = value),
})
const text = computed({
  get: () => (typeof answer.value === 'string' ? answer.value : ''),
  set: (value) => (answer.value = value),
})
const CONTACTS = ['electronic iris', 'autofocus', 'stabiliser power', 'lens data']

function setRow(i: number, key: string, value: Answer): void {
  answer.value = rows.value.map((row, k) => (k === i ? { ...row, [key]: value } : { ...row }))
}
const addRow = (): void => {
  answer.value = [...rows.value.map((row) => ({ ...row })), {}]
}
const dropRow = (i: number): void => {
  answer.value = rows.value.filter((_, k) => k !== i)
}
function pick(value: string): void {
  answer.value = value === NEW ? { label: '' } : value
}
function describe(key: string, value: Answer): void {
  answer.value = { ...fresh.value, [key]: value }
}
function toggle(list: Answer, word: string): string[] {
  const now = Array.isArray(list) ? (list as string[]) : []
  return now.includes(word) ? now.filter((w) => w !== word) : [...now, word]
}
const has = (list: Answer, word: string): boolean => Array.isArray(list) && list.includes(word)
</script>

<template>
  <fieldset v-if="question.kind === 'rows'" class="question rows" :aria-label="question.label">
    <legend>
      {{ question.label }} <small v-if="question.feeds">{{ ` ${question.feeds}` }}</small>
    </legend>
    <div v-for="(row, i) in rows" :key="i" class="question-row" :class="{ usual: !Array.isArray(answer) }">
      <QuestionField
        v-for="q in question.columns ?? []"
        :key="q.key"
        :question="q"
        :path="`${path}.${i}.${q.key}`"
        :models="models"
        :problems="problems"
        :model-value="row[q.key]"
        @update:model-value="setRow(i, q.key, $event)"
      />
      <BButton :aria-label="`Remove row ${i + 1} of ${question.label}`" @click="dropRow(i)">×</BButton>
    </div>
    <BButton class="add-row" :aria-label="`Add to ${question.label}`" @click="addRow">+ Add</BButton>
    <p v-if="problem" class="stop">{{ problem }}</p>
  </fieldset>
  <fieldset v-else-if="question.kind === 'many'" class="question rows" :aria-label="question.label">
    <legend>
      {{ question.label }} <small v-if="question.feeds">{{ ` ${question.feeds}` }}</small>
    </legend>
    <div class="many">
      <BFormCheckbox
        v-for="word in question.choices ?? []"
        :key="word"
        :model-value="has(answer, word)"
        @update:model-value="answer = toggle(answer, word)"
        >{{ word }}</BFormCheckbox
      >
    </div>
  </fieldset>
  <div v-else-if="question.kind === 'yes'" class="question">
    <BFormCheckbox
      :model-value="typeof answer === 'boolean' ? answer : question.typical === true"
      @update:model-value="answer = $event === true"
      >{{ question.label }}</BFormCheckbox
    >
  </div>
  <div v-else class="question" :class="{ wrong: problem }">
    <label>
      <span>
        {{ question.label }}<i v-if="question.unit">{{ ` ${question.unit}` }}</i
        ><small v-if="question.more && question.feeds">{{ ` ${question.feeds}` }}</small>
      </span>
      <NumberField
        v-if="question.kind === 'number'"
        v-model="number"
        optional
        step="any"
        :placeholder="hint(question)"
      />
      <ChoiceField
        v-else-if="question.kind === 'choice'"
        :model-value="typeof answer === 'string' ? answer : usual || (question.choices?.[0] ?? '')"
        :choices="(question.choices ?? []).map((c) => ({ value: c, text: c || 'not known' }))"
        :commit="(value: string) => (answer = value)"
      />
      <ChoiceField
        v-else-if="question.kind === 'interface'"
        :model-value="chosen"
        :choices="[{ value: '', text: 'choose' }, ...choices]"
        :commit="pick"
      />
      <ChoiceField
        v-else-if="question.kind === 'model'"
        :model-value="text"
        :choices="[{ value: '', text: 'choose' }, ...models.map((m) => ({ value: m.id, text: m.title }))]"
        :commit="(value: string) => (answer = value)"
      />
      <TextField v-else v-model="text" :placeholder="hint(question)" />
    </label>
    <div v-if="fresh" class="fresh">
      <label
        >Name
        <TextField
          :model-value="String(fresh.label ?? '')"
          @update:model-value="describe('label', $event ?? '')" /></label
      ><label v-for="f in figures" :key="f"
        >{{ f.replace('_mm', '').replace('_', ' ') }} mm
        <NumberField
          :model-value="typeof fresh[f] === 'number' ? (fresh[f] as number) : null"
          optional
          step="any"
          @update:model-value="describe(f, $event)" /></label
      ><span v-if="question.families?.[0] === 'lens'" class="many">
        <BFormCheckbox
          v-for="c in CONTACTS"
          :key="c"
          :model-value="has(fresh.contacts, c)"
          @update:model-value="describe('contacts', toggle(fresh.contacts, c))"
          >{{ c }}</BFormCheckbox
        >
      </span>
    </div>
    <p v-if="problem" class="stop">{{ problem }}</p>
  </div>
</template>

<style>
.question {
  min-width: 0;
  margin: 0;
}
.question label {
  display: grid;
  gap: var(--gap-1);
  font-size: var(--t-2);
  color: var(--ink-2);
}
.question i,
.question label small {
  font-style: normal;
  margin-left: var(--gap-3);
}
.question .form-control,
.question .form-select {
  width: 100%;
}
.question .form-control::placeholder {
  color: var(--ink-2);
  opacity: 1;
  font-style: italic;
}
.question.rows {
  grid-column: 1 / -1;
  border: 1px solid var(--rule-2);
  padding: var(--gap-3) var(--gap-5) var(--gap-5);
}
.question legend {
  float: none;
  width: auto;
  font: 600 var(--t-2) var(--text);
  margin: 0;
  padding: 0 var(--gap-3);
}
.question legend small {
  font-weight: 400;
  color: var(--ink-2);
}
.question-row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-4);
  align-items: end;
  padding: var(--gap-3) 0;
  border-bottom: 1px dotted var(--rule-2);
}
.question-row .question {
  flex: 1 1 84px;
  max-width: 170px;
}
.question-row .btn {
  margin-left: auto;
}
.question-row.usual .form-control,
.question-row.usual .form-select {
  color: var(--ink-2);
}
.question .add-row {
  margin-top: var(--gap-4);
}
.question .many,
.question .fresh {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-6);
}
.question .fresh {
  padding: var(--gap-4);
  margin-top: var(--gap-2);
  background: var(--mark-wash);
}
.question .fresh label {
  flex: 1 1 70px;
}
.question p.stop {
  margin: var(--gap-1) 0 0;
  font-size: var(--t-2);
  color: var(--stop);
}
.question.wrong .form-control,
.question.wrong .form-select {
  border-color: var(--stop);
}
</style>
