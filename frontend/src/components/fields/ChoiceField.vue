<script setup lang="ts" generic="T extends string">
import { BFormSelect, BFormSelectOption, BFormSelectOptionGroup } from 'bootstrap-vue-next/components/BFormSelect'
import { nextTick, ref, watch } from 'vue'
import { groupsOf, type Choice } from '../../lib/fields'

/** One of several, in groups where they are many. With `commit` a choice that is refused goes back to what holds. */
const props = defineProps<{
  choices: readonly (Choice<T> | T)[]
  commit?: (value: T) => unknown
}>()
const model = defineModel<T | null | undefined>({ required: true })
const shown = ref(model.value ?? '')
watch(model, (now) => {
  shown.value = now ?? ''
})

async function choose(value: T): Promise<void> {
  shown.value = value
  if (!props.commit) {
    model.value = value
    return
  }
  if ((await props.commit(value)) !== false) return
  await nextTick()
  shown.value = model.value ?? ''
}
</script>

<template>
  <BFormSelect :model-value="shown" @update:model-value="choose($event as T)">
    <template v-for="g in groupsOf(choices)" :key="g.name">
      <BFormSelectOptionGroup v-if="g.name" :label="g.name">
        <BFormSelectOption v-for="c in g.choices" :key="c.value" :value="c.value">{{ c.text }}</BFormSelectOption>
      </BFormSelectOptionGroup>
      <template v-else>
        <BFormSelectOption v-for="c in g.choices" :key="c.value" :value="c.value">{{ c.text }}</BFormSelectOption>
      </template>
    </template>
  </BFormSelect>
</template>
