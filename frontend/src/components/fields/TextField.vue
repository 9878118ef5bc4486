<script setup lang="ts">
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'

/** A line of text; blanks around it are dropped when it is left. */
const model = defineModel<string | null | undefined>({ required: true })
</script>

<template>
  <BFormInput
    :model-value="model ?? ''"
    @update:model-value="model = String($event ?? '')"
    @change="model = (model ?? '').trim()"
  />
</template>
