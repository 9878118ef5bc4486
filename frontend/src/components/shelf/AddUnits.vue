<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { ref, shallowRef, watch } from 'vue'
import { addUnits } from '../../api'
import type { Problem } from '../../api/client'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** How many of a model there are, and what is written on them. */
const props = defineProps<{ model: string; title: string }>()
const emit = defineEmits<{ added: [units: string[]]; close: [] }>()
const label = ref('')
const count = ref(1)
const owner = ref<'owned' | 'hired'>('owned')
const problem = shallowRef<Problem | null>(null)
watch(
  () => props.model,
  () => {
    label.value = ''
    problem.value = null
  },
)

async function add(): Promise<void> {
  try {
    const { units } = await addUnits({ model: props.model, label: label.value, count: count.value, owner: owner.value })
    emit('added', units)
  } catch (error) {
    problem.value = error as Problem
  }
}
</script>

<template>
  <form class="add-units" aria-label="Add units" @submit.prevent="add">
    <h2>Add units of {{ title }}</h2>
    <label>How many <NumberField v-model="count" min="1" max="200" step="1" /></label>
    <label>Label of the first <TextField v-model="label" required maxlength="100" placeholder="PACK-01" /></label>
    <label
      >Owner
      <ChoiceField
        v-model="owner"
        :choices="[
          { value: 'owned', text: 'own' },
          { value: 'hired', text: 'hired' },
        ]"
      />
    </label>
    <p class="quiet">More than one are numbered on from the first: PACK-09, PACK-10, PACK-11.</p>
    <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
    <BButton type="submit" variant="primary">Add to stock</BButton>
    <BButton @click="emit('close')">Cancel</BButton>
  </form>
</template>

<style>
.add-units {
  display: grid;
  gap: var(--gap-6);
  padding: var(--gap-8);
  max-width: 360px;
}
.add-units h2 {
  font: 600 var(--t-5) var(--text);
}
.add-units label {
  display: grid;
  gap: var(--gap-2);
  font-size: var(--t-3);
}
.add-units .quiet,
.add-units .trouble {
  padding: 0;
}
</style>
