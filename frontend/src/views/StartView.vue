<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { listJobs, readJob } from '../api'
import type { Problem } from '../api/client'
import JobFilePanel from '../components/frame/JobFilePanel.vue'

const router = useRouter()
const problem = shallowRef<Problem | null>(null)
const empty = ref(false)

async function openJob(id: string): Promise<void> {
  const job = await readJob(id)
  const part = job.parts[0]
  const rig = job.rigs[0]
  if (part && rig) await router.replace({ name: 'bench', params: { job: id, part: part.id, rig: rig.id } })
  else empty.value = true
}

async function start(): Promise<void> {
  try {
    problem.value = null
    const first = (await listJobs()).jobs[0]
    if (first) await openJob(first.id)
    else empty.value = true
  } catch (error) {
    problem.value = error as Problem
  }
}

onMounted(start)
</script>

<template>
  <main class="start">
    <div v-if="problem" class="trouble" role="alert">
      <p>{{ problem.message }}</p>
      <BButton size="lg" @click="start">Try again</BButton>
    </div>
    <template v-else-if="empty">
      <h1>No job on this machine yet</h1>
      <JobFilePanel @imported="openJob" />
    </template>
  </main>
</template>

<style>
.start {
  max-width: 620px;
  margin: 12vh auto;
  padding: 0 var(--gap-9);
}
.start h1 {
  font: 700 var(--t-7) var(--text);
  padding-bottom: var(--gap-7);
}
</style>
