<script setup lang="ts">
import { BAlert } from 'bootstrap-vue-next/components/BAlert'
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { useBench } from '../../stores/bench'

const bench = useBench()
</script>

<template>
  <BAlert v-if="bench.problem && bench.problem.code !== 'edit.stale'" :model-value="true" class="notice">
    <p>
      <b>{{ bench.problem.title }}.</b> {{ bench.problem.message }}
    </p>
    <ul v-if="bench.problem.places.length > 1">
      <li v-for="p in bench.problem.places" :key="p.path">{{ p.path }}: {{ p.message }}</li>
    </ul>
    <div class="choices">
      <BButton v-if="bench.problem.passing" @click="bench.tryAgain()">Try again</BButton>
      <BButton v-else-if="bench.problem.code === 'edit.others'" @click="bench.tryAgain()">Do it all the same</BButton>
      <BButton @click="bench.dismiss()">Dismiss</BButton>
    </div>
  </BAlert>
</template>

<style>
.notice {
  grid-area: notice;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-8);
  align-items: center;
  padding: var(--gap-5) var(--gap-8);
  background: var(--stop-wash);
  border-left: 5px solid var(--stop);
}
.notice p {
  flex: 1 1 300px;
}
.choices {
  display: flex;
  gap: var(--gap-4);
}
@media print {
  .notice {
    display: none !important;
  }
}
</style>
