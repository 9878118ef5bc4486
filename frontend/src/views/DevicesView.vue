<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { onMounted } from 'vue'
import { RouterLink } from 'vue-router'
import { readDevices } from '../api'
import type { DevicesView } from '../api/schema.gen'
import { useLoad } from '../composables/useLoad'
import { clock, weekday } from '../lib/format'

/** Every device beside the application: who answers at which address, what it reads now. */
const { found, problem, loading, load } = useLoad<DevicesView>()
onMounted(() => void load(readDevices))
</script>

<template>
  <main class="start devices-page">
    <header>
      <h1>Devices</h1>
      <p>
        <RouterLink to="/jobs">All jobs</RouterLink>
        <BButton :disabled="loading" @click="load(readDevices)">{{ loading ? 'Asking…' : 'Ask again' }}</BButton>
        <small v-if="found" class="quiet">asked {{ weekday(found.at) }} {{ clock(found.at) }} UTC</small>
      </p>
      <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
    </header>
    <ul v-if="found" class="devices">
      <li v-for="d in found.devices" :key="d.kind" :class="{ here: d.answers }">
        <h2>{{ d.kind }}</h2>
        <strong>{{ d.answers ? d.reading : d.address ? 'No answer' : 'None' }}</strong>
        <small v-if="d.answers">{{ d.name }}</small>
        <small v-else>{{ d.trouble }}</small>
        <code>{{ d.address || d.variable }}</code>
      </li>
    </ul>
    <p v-else-if="!problem" class="quiet">Asking every device…</p>
  </main>
</template>

<style>
.devices {
  list-style: none;
  padding: 0;
  max-width: 860px;
}
.devices li {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  gap: var(--gap-2) var(--gap-7);
  border-left: 4px solid var(--rule);
  border-bottom: 1px solid var(--rule-2);
  padding: var(--gap-5) var(--gap-7);
}
.devices li.here {
  border-left-color: var(--mark);
}
.devices h2 {
  grid-row: span 3;
  font: 700 var(--t-4) var(--text);
  margin: 0;
}
.devices h2::first-letter {
  text-transform: uppercase;
}
.devices strong {
  font: 700 var(--t-5) var(--figures);
  overflow-wrap: anywhere;
}
.devices small {
  color: var(--ink-3);
}
.devices code {
  font: var(--t-2) var(--figures);
  color: var(--ink-3);
}
@media (max-width: 760px) {
  .devices li {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
