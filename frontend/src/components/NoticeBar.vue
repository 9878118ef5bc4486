<script setup lang="ts">
import { useBench } from '../stores/bench'

const bench = useBench()
</script>

<template>
  <div v-if="bench.problem" class="notice" role="alert">
    <p>
      <b>{{ bench.problem.title }}.</b> {{ bench.problem.message }}
    </p>
    <ul v-if="bench.problem.places.length > 1">
      <li v-for="p in bench.problem.places" :key="p.path">{{ p.path }}: {{ p.message }}</li>
    </ul>
    <div class="choices">
      <template v-if="bench.problem.code === 'edit.stale'">
        <button type="button" @click="bench.takeTheirs()">See it as it is now</button>
        <button v-if="bench.waiting" type="button" @click="bench.tryAgain()">Make my edit on it</button>
      </template>
      <button v-else-if="bench.problem.passing" type="button" @click="bench.tryAgain()">Try again</button>
      <button v-if="bench.problem.code !== 'edit.stale'" type="button" @click="bench.dismiss()">Leave it</button>
    </div>
  </div>
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
