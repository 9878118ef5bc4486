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
