<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { ref, shallowRef } from 'vue'
import { keepPicture } from '../../api'
import type { Problem } from '../../api/client'

/** A picture from a file or the phone's camera: kept small on the server before anything names it. */
defineProps<{ label: string; has: boolean }>()
const emit = defineEmits<{ kept: [id: string, width: number, height: number]; removed: [] }>()
const problem = shallowRef<Problem | null>(null)
const sending = ref(false)
/** The same file chosen again is sent again. */
const round = ref(0)

async function send(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  sending.value = true
  try {
    const kept = await keepPicture(file)
    problem.value = null
    emit('kept', kept.id, kept.width, kept.height)
  } catch (error) {
    problem.value = error as Problem
  } finally {
    sending.value = false
    round.value += 1
  }
}
</script>

<template>
  <span class="picture-field">
    <label
      >{{ label }}
      <input
        :key="round"
        type="file"
        class="form-control"
        accept="image/jpeg,image/png,image/webp"
        :disabled="sending"
        @change="send"
    /></label>
    <BButton v-if="has" @click="emit('removed')">Remove it</BButton>
    <span v-if="sending" role="status">Sending…</span>
    <span v-if="problem" class="trouble" role="alert">{{ problem.message }}</span>
  </span>
</template>

<style>
.picture-field {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
  align-items: end;
  font-size: var(--t-3);
}
.picture-field label {
  display: grid;
  gap: var(--gap-2);
  min-width: 0;
}
.picture-field input {
  max-width: 260px;
}
</style>
