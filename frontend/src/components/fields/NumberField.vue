<script setup lang="ts">
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { nextTick, ref, watch } from 'vue'
import { asNumber } from '../../lib/fields'

/** A number. With `commit` it is told when it is left, and what is refused goes back to what holds;
 * a picture that arrives while it is typed does not take the typing away. */
const props = defineProps<{
  optional?: boolean
  commit?: (value: number) => unknown
  /** What an emptied field means, where it may be empty. */
  clear?: () => unknown
}>()
const model = defineModel<number | null | undefined>({ required: true })
const shown = ref(text())
let typing = false
watch(model, () => {
  if (typing && props.commit) return
  if (asNumber(shown.value) !== (model.value ?? null)) shown.value = text()
})

function text(): string {
  return model.value == null ? '' : String(model.value)
}

function type(typed: string): void {
  shown.value = typed
  typing = true
  if (props.commit) return
  const number = asNumber(typed)
  if (number !== null || props.optional) model.value = number
}

async function left(): Promise<void> {
  typing = false
  if (!props.commit) return
  const number = asNumber(shown.value)
  if (number === null && shown.value.trim() === '' && props.clear && (await props.clear()) !== false) return
  if (number !== null && (await props.commit(number)) !== false) return
  shown.value = ''
  await nextTick()
  shown.value = text()
}
</script>

<template>
  <BFormInput
    type="number"
    :required="!optional && !commit"
    :model-value="shown"
    @update:model-value="type(String($event ?? ''))"
    @change="left"
    @blur="typing = false"
  />
</template>
