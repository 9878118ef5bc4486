<script setup lang="ts">
import type { CountsView } from '../api/schema.gen'
import LevelMark from './LevelMark.vue'

defineProps<{ counts: CountsView }>()
</script>

<template>
  <span class="counts">
    <span v-if="counts.stops" class="stop"><LevelMark level="stop" :size="13" />{{ counts.stops }}</span>
    <span v-if="counts.watches" class="watch"><LevelMark level="watch" :size="15" />{{ counts.watches }}</span>
    <span v-if="!counts.stops && !counts.watches" class="clear">clear</span>
  </span>
</template>
