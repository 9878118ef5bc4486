<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { ref } from 'vue'

/** A password, hidden unless somebody wants to see what he types. */
const model = defineModel<string>({ required: true })
defineProps<{ label: string; fresh?: boolean }>()
const shown = ref(false)
</script>

<template>
  <div class="secret-field">
    <label
      >{{ label }}
      <BFormInput
        v-model="model"
        :type="shown ? 'text' : 'password'"
        :autocomplete="fresh ? 'new-password' : 'current-password'"
        required
        maxlength="200"
    /></label>
    <BButton :aria-pressed="shown" @click="shown = !shown">{{ shown ? 'Hide' : 'Show' }}</BButton>
  </div>
</template>

<style>
.secret-field {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--gap-4);
  align-items: end;
}
</style>
