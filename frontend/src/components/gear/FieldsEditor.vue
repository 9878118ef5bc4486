<script setup lang="ts">
import { computed } from 'vue'
import type { FieldInfo } from '../../api/schema.gen'
import type { Document, Types, Value } from '../../lib/gear'
import FieldEditor from './FieldEditor.vue'

/** Every field of a thing, as its type tells them. */
const props = defineProps<{
  type: string
  types: Types
  path: string
  problems: readonly { path: string; message: string }[]
  /** Only these, in this order; all of them where none are named. */
  only?: readonly string[]
  disabled?: readonly string[]
}>()
const thing = defineModel<Document>({ required: true })
const shown = computed<FieldInfo[]>(() => {
  const all = props.types[props.type] ?? []
  if (!props.only) return all
  return props.only.map((name) => all.find((f) => f.name === name)).filter((f) => f !== undefined)
})
function set(name: string, value: Value): void {
  thing.value = { ...thing.value, [name]: value }
}
</script>

<template>
  <div class="fields">
    <FieldEditor
      v-for="f in shown"
      :key="f.name"
      :field="f"
      :types="types"
      :path="`${path}.${f.name}`"
      :problems="problems"
      :disabled="disabled?.includes(f.name) ?? false"
      :model-value="thing[f.name]"
      @update:model-value="set(f.name, $event)"
    />
  </div>
</template>

<style>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(124px, 1fr));
  gap: var(--gap-4) var(--gap-6);
  align-items: end;
}
</style>
