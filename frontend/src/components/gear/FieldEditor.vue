<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { computed, ref, watch } from 'vue'
import type { FieldInfo } from '../../api/schema.gen'
import { interfaceChoices } from '../../lib/fields'
import {
  blank,
  numbersText,
  numbersTyped,
  problemsUnder,
  typeOf,
  type Document,
  type Types,
  type Value,
} from '../../lib/gear'
import { useShelf } from '../../stores/shelf'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'
import FieldsEditor from './FieldsEditor.vue'

/** One field: a figure, a choice, a group that may be there, or rows of groups. */
const props = defineProps<{
  field: FieldInfo
  types: Types
  path: string
  problems: readonly { path: string; message: string }[]
  disabled: boolean
}>()
const value = defineModel<Value>({ required: true })
const shelf = useShelf()
const wrong = computed(() => problemsUnder(props.problems, props.path))
const rows = computed(() => (Array.isArray(value.value) ? (value.value as Document[]) : []))
const group = computed(() =>
  value.value !== null && typeof value.value === 'object' && !Array.isArray(value.value) ? value.value : null,
)
const shown = computed(() => value.value ?? props.field.default ?? null)
const typed = ref(numbersText(value.value, props.field))
const unread = ref(false)
watch(value, (now) => {
  if (JSON.stringify(numbersTyped(typed.value, props.field) ?? null) !== JSON.stringify(now ?? null))
    typed.value = numbersText(now, props.field)
})
const typeName = (row: Document): string => typeOf(props.types, props.field.of ?? [], row)
const titled = (row: Document, i: number): string => {
  const name = [row.label, row.id, row.control, row.by, row.focal_mm].find(
    (t) => typeof t === 'string' || typeof t === 'number',
  )
  return String(
    name || (props.field.of ?? []).length > 1
      ? (name ?? `${typeName(row) === 'Round' ? 'barrel' : 'box'} ${String(i + 1)}`)
      : i + 1,
  )
}

function type(text: string): void {
  typed.value = text
  const read = numbersTyped(text, props.field)
  unread.value = read === undefined
  if (read !== undefined) value.value = read
}
function setRow(i: number, row: Document): void {
  value.value = rows.value.map((old, k) => (k === i ? row : old))
}
function add(name: string): void {
  value.value = [...rows.value, blank(props.types, name)]
}
function copy(i: number): void {
  const row = structuredClone(JSON.parse(JSON.stringify(rows.value[i])) as Document)
  if (typeof row.id === 'string') row.id = `${row.id}-2`
  value.value = [...rows.value.slice(0, i + 1), row, ...rows.value.slice(i + 1)]
}
function drop(i: number): void {
  value.value = rows.value.filter((_, k) => k !== i)
}
const texts = computed(() => (Array.isArray(value.value) ? (value.value as string[]).join(', ') : ''))
function list(text: string | null | undefined): void {
  value.value = (text ?? '')
    .split(',')
    .map((t) => t.trim())
    .filter(Boolean)
}
const choose = (chosen: string): void => {
  value.value = chosen === '' && props.field.optional ? null : props.field.numeric ? Number(chosen) : chosen
}
const choices = computed(() => [
  ...(props.field.optional && !props.field.choices?.includes('') ? [{ value: '', text: '–' }] : []),
  ...(props.field.choices ?? []).map((c) => ({ value: c, text: c || '–' })),
])
const number = computed({
  get: () => (typeof shown.value === 'number' ? shown.value : null),
  set: (now) => (value.value = now),
})
const text = computed({
  get: () => (typeof shown.value === 'string' ? shown.value : ''),
  set: (now) => (value.value = now),
})
</script>

<template>
  <fieldset v-if="field.kind === 'group'" class="field-group" :aria-label="field.label">
    <legend>{{ field.label }}</legend>
    <template v-if="group">
      <FieldsEditor
        :type="field.of?.[0] ?? ''"
        :types="types"
        :path="path"
        :problems="problems"
        :model-value="group"
        @update:model-value="value = $event"
      />
      <BButton v-if="field.optional" :aria-label="`Remove ${field.label}`" @click="value = null">Remove</BButton>
    </template>
    <BButton v-else :aria-label="`Add ${field.label}`" @click="value = blank(types, field.of?.[0] ?? '')"
      >+ Add</BButton
    >
    <p v-for="m in wrong" :key="m" class="stop">{{ m }}</p>
  </fieldset>
  <fieldset v-else-if="field.kind === 'rows'" class="field-group" :aria-label="field.label">
    <legend>{{ field.label }}</legend>
    <details v-for="(row, i) in rows" :key="i" class="field-row">
      <summary>{{ titled(row, i) }}</summary>
      <FieldsEditor
        :type="typeName(row)"
        :types="types"
        :path="`${path}[${i}]`"
        :problems="problems"
        :model-value="row"
        @update:model-value="setRow(i, $event)"
      />
      <BButton :aria-label="`Copy ${titled(row, i)} of ${field.label}`" @click="copy(i)">Copy</BButton>
      <BButton :aria-label="`Remove ${titled(row, i)} of ${field.label}`" @click="drop(i)">Remove</BButton>
    </details>
    <span class="add-rows">
      <BButton v-for="name in field.of ?? []" :key="name" :aria-label="`Add to ${field.label}`" @click="add(name)">
        + {{ (field.of ?? []).length > 1 ? (name === 'Round' ? 'Barrel' : 'Box') : 'Add' }}
      </BButton>
    </span>
    <p v-for="m in wrong" :key="m" class="stop">{{ m }}</p>
  </fieldset>
  <div
    v-else
    class="field"
    :data-field="path"
    :class="{ wrong: wrong.length || unread, wide: field.kind === 'numbers' && field.count?.length !== 2 }"
  >
    <BFormCheckbox
      v-if="field.kind === 'yes'"
      :model-value="shown === true"
      :disabled="disabled"
      @update:model-value="value = $event === true"
      >{{ field.label }}</BFormCheckbox
    >
    <label v-else>
      <span
        >{{ field.label }}<i v-if="field.unit">{{ ` ${field.unit}` }}</i></span
      >
      <NumberField
        v-if="field.kind === 'number' || field.kind === 'whole'"
        v-model="number"
        :optional="true"
        :step="field.kind === 'whole' ? 1 : 'any'"
        :disabled="disabled"
      />
      <ChoiceField
        v-else-if="field.kind === 'choice'"
        :model-value="shown === null ? '' : String(shown)"
        :choices="choices"
        :commit="choose"
      />
      <ChoiceField
        v-else-if="field.name === 'interface'"
        :model-value="text"
        :choices="interfaceChoices(shelf.interfaces)"
        :commit="(chosen: string) => (value = chosen)"
      />
      <BFormInput
        v-else-if="field.kind === 'numbers'"
        :model-value="typed"
        :placeholder="field.count?.length === 1 ? '30 1.5; 60 2.6' : ''"
        @update:model-value="type(String($event ?? ''))"
      />
      <TextField v-else-if="field.kind === 'texts'" :model-value="texts" @update:model-value="list" />
      <BFormInput
        v-else-if="field.kind === 'date'"
        type="date"
        :model-value="text"
        @update:model-value="value = String($event ?? '') || null"
      />
      <TextField v-else v-model="text" :disabled="disabled" />
    </label>
    <p v-for="m in wrong" :key="m" class="stop">{{ m }}</p>
    <p v-if="unread" class="stop">Numbers with spaces or commas between; rows with a semicolon between.</p>
  </div>
</template>

<style>
.field label {
  display: grid;
  gap: var(--gap-1);
  font-size: var(--t-2);
  color: var(--ink-2);
}
.field i {
  font-style: normal;
  margin-left: var(--gap-3);
}
.field .form-control,
.field .form-select {
  width: 100%;
}
.field p.stop,
.field-group > p.stop {
  margin: var(--gap-1) 0 0;
  font-size: var(--t-2);
  color: var(--stop);
}
.field.wrong .form-control {
  border-color: var(--stop);
}
.field-group {
  grid-column: 1 / -1;
  border: 1px solid var(--rule-2);
  padding: var(--gap-3) var(--gap-5) var(--gap-5);
  min-width: 0;
  margin: 0;
}
.field-group > legend {
  float: none;
  width: auto;
  font: 600 var(--t-2) var(--text);
  margin: 0;
  padding: 0 var(--gap-3);
}
.field-group > .btn {
  margin-top: var(--gap-4);
}
.field-row {
  border-bottom: 1px solid var(--rule-2);
  padding: var(--gap-2) 0;
}
.field-row summary {
  font-size: var(--t-3);
  cursor: pointer;
  min-height: 26px;
}
.field-row > .btn {
  margin: var(--gap-4) var(--gap-4) var(--gap-4) 0;
}
.add-rows {
  display: flex;
  gap: var(--gap-4);
  margin-top: var(--gap-4);
}
@media (max-width: 760px) {
  .field .form-control,
  .field .form-select,
  .field-group .btn,
  .field-row summary {
    min-height: 42px;
  }
}
</style>
