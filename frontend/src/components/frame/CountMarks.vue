<script setup lang="ts">
import type { CountsView } from '../../api/schema.gen'
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

<style>
.counts {
  display: inline-flex;
  gap: var(--gap-5);
  font: 600 var(--t-3) var(--figures);
}
.counts > span {
  display: inline-flex;
  gap: var(--gap-2);
  align-items: center;
}
.counts .clear {
  font: 400 var(--t-2) var(--text);
}
@media (max-width: 760px) {
  .counts {
    font-size: var(--t-4);
  }
}
</style>
