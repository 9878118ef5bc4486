<script setup lang="ts">
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { ref, watch } from 'vue'

/** A line of text; blanks around it are dropped when it is left. With `commit` it is told when it is left, what is
 * refused goes back to what holds, and a picture that arrives while it is typed does not take the typing away. */
const props = defineProps<{ commit?: (value: string) => unknown }>()
const model = defineModel<string | null | undefined>({ required: true })
const shown = ref(model.value ?? '')
let typing = false
watch(model, (now) => {
  if (!typing || !props.commit) shown.value = now ?? ''
})
function type(text: string): void {
  shown.value = text
  typing = true
  if (!props.commit) model.value = text
}
async function left(): Promise<void> {
  typing = false
  const text = shown.value.trim()
  shown.value = text
  if (!props.commit) model.value = text
  else if (text !== (model.value ?? '') && (await props.commit(text)) === false) shown.value = model.value ?? ''
}
</script>

<template>
  <BFormInput :model-value="shown" @update:model-value="type(String($event ?? ''))" @change="left" />
</template>
