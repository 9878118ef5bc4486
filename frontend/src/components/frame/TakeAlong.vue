<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed } from 'vue'
import { alongAddress } from '../../api'
import { clockOf } from '../../lib/format'
import { useJob } from '../../stores/job'
import { useLive } from '../../stores/live'

/** The job on this device, to be read where there is no connection; and as pages to hand over. */
const live = useLive()
const job = useJob()
const able = computed(() => 'serviceWorker' in navigator && !!navigator.serviceWorker.controller)
const people = computed(() => job.job?.people ?? [])
</script>

<template>
  <section v-if="job.job" class="along-panel" aria-label="Take along">
    <h3>Take along</h3>
    <template v-if="able">
      <p>
        <template v-if="live.taken.at"
          >This device has the job: {{ live.taken.of }} of {{ live.taken.of }} sheets, read at
          {{ clockOf(live.taken.at) }}.</template
        >
        <template v-else-if="live.taken.of">Reading: {{ live.taken.read }} of {{ live.taken.of }} sheets.</template>
        <template v-else
          >What was looked at here is on this device. All of it: rigs, build sheets, balances, swaps, run sheet,
          cards.</template
        >
      </p>
      <p><BButton @click="live.along(true)">Take all of it along</BButton></p>
    </template>
    <p v-else>
      From the second visit on the job can be on this device without a connection. A browser does that on this machine
      or over an address that it trusts.
    </p>
    <p>
      As a page of its own, to hand over by any means:
      <a :href="alongAddress(job.job.id)" download>everybody</a>
      <template v-for="who in people" :key="who">
        · <a :href="alongAddress(job.job.id, who)" download>{{ who }}</a></template
      >
    </p>
  </section>
</template>

<style>
.along-panel {
  margin-top: var(--gap-8);
  padding-top: var(--gap-6);
  border-top: 1px solid var(--rule-2);
}
.along-panel a {
  color: var(--mark);
}
.along-panel h3 {
  font: 700 var(--t-4)/1.3 var(--text);
  margin: 0 0 var(--gap-3);
}
</style>
