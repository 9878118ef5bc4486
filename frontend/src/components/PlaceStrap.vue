<script setup lang="ts">
import type { CountsView } from '../api/schema.gen'
import { useAppearance } from '../stores/appearance'
import CountMarks from './CountMarks.vue'

defineProps<{ counts: CountsView | null }>()
const emit = defineEmits<{ find: []; keys: [] }>()
const appearance = useAppearance()
</script>

<template>
  <nav class="strap" aria-label="Places">
    <span class="place" aria-current="page"><b>Bench</b><CountMarks v-if="counts" :counts="counts" /></span>
    <span class="rest"></span>
    <button type="button" aria-label="Find anything" title="Find (/)" @click="emit('find')">Find</button>
    <button type="button" aria-label="Keys of this screen" title="Keys (?)" @click="emit('keys')">Keys</button>
    <button type="button" :aria-label="appearance.now === 'day' ? 'Night appearance' : 'Day appearance'" title="Day or night (n)" @click="appearance.toggle()">{{ appearance.now === 'day' ? 'Night' : 'Day' }}</button>
  </nav>
</template>
