<script setup lang="ts">
import type { CountsView } from '../api/schema.gen'
import { onStrap, PLACES, type PlaceName } from '../lib/places'
import { useAppearance } from '../stores/appearance'
import CountMarks from './CountMarks.vue'

defineProps<{ place: PlaceName; counts: Record<string, CountsView> }>()
const emit = defineEmits<{ go: [place: PlaceName]; find: []; keys: [] }>()
const appearance = useAppearance()
</script>

<template>
  <nav class="strap" aria-label="Places">
    <button
      v-for="p in PLACES"
      :key="p.name"
      type="button"
      class="place"
      :class="{ here: p.name === onStrap(place) }"
      :aria-current="p.name === onStrap(place) ? 'page' : undefined"
      :title="`${p.what} (g ${p.number})`"
      @click="emit('go', p.name)"
    >
      <b>{{ p.label }}</b><CountMarks v-if="counts[p.name]" :counts="counts[p.name]!" />
    </button>
    <span class="rest"></span>
    <button type="button" aria-label="Find anything" title="Find (/)" @click="emit('find')">Find</button>
    <button type="button" class="for-keys" aria-label="Keys of this screen" title="Keys (?)" @click="emit('keys')">
      Keys
    </button>
    <button
      type="button"
      :aria-label="appearance.now === 'day' ? 'Night appearance' : 'Day appearance'"
      title="Day or night (n)"
      @click="appearance.toggle()"
    >
      {{ appearance.now === 'day' ? 'Night' : 'Day' }}
    </button>
  </nav>
</template>
