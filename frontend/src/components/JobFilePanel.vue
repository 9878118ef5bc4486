<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import { bringBack, exportAddress, importJob, readReplaced } from '../api'
import type { Problem } from '../api/client'
import type { ReplacedView } from '../api/schema.gen'
import { clock, weekday } from '../lib/format'

const props = defineProps<{ job?: string }>()
const emit = defineEmits<{ imported: [job: string] }>()
const picked = shallowRef<File | null>(null)
const problem = shallowRef<Problem | null>(null)
const done = ref('')
const busy = ref(false)

async function read(replace: boolean): Promise<void> {
  if (!picked.value) return
  busy.value = true
  try {
    const answer = await importJob(picked.value, replace)
    problem.value = null
    done.value = `${answer.title} has been read in.`
    emit('imported', answer.job)
    await look()
  } catch (error) {
    problem.value = error as Problem
    done.value = ''
  } finally {
    busy.value = false
  }
}

/** Earlier states of the job, each as it was when a file took its place. */
const earlier = shallowRef<ReplacedView['states']>([])
async function look(): Promise<void> {
  if (!props.job) return
  try {
    earlier.value = (await readReplaced(props.job)).states
  } catch (error) {
    problem.value = error as Problem
  }
}
onMounted(look)

async function back(id: number): Promise<void> {
  if (!props.job) return
  busy.value = true
  try {
    earlier.value = (await bringBack(props.job, id)).states
    problem.value = null
    done.value = 'The earlier state is back; what was here is kept below.'
    emit('imported', props.job)
  } catch (error) {
    problem.value = error as Problem
    done.value = ''
  } finally {
    busy.value = false
  }
}

function pick(event: Event): void {
  picked.value = (event.target as HTMLInputElement).files?.[0] ?? null
  problem.value = null
  done.value = ''
  void read(false)
}
</script>

<template>
  <div class="job-file">
    <p v-if="job">
      <a class="act" :href="exportAddress(job)" download>Save as job file</a> One JSON file with the job, its rigs and
      all gear it refers to.
    </p>
    <p>
      <label class="act"
        >Read a job file<input type="file" accept=".json,application/json" :disabled="busy" @change="pick"
      /></label>
      It is read in whole, or refused with everything that is wrong with it.
    </p>
    <p v-if="done" role="status">{{ done }}</p>
    <div v-if="earlier.length" class="earlier">
      <h3>Replaced states, kept</h3>
      <p v-for="state in earlier" :key="state.id">
        <span
          >{{ state.title }}, until {{ weekday(state.at) }} {{ clock(state.at) }} <small>{{ state.actor }}</small></span
        >{{ ' ' }}
        <button type="button" class="small-act" :disabled="busy" @click="back(state.id)">Bring back</button>
      </p>
    </div>
    <div v-if="problem" class="trouble" role="alert">
      <p>{{ problem.message }}</p>
      <ul v-if="problem.places.length">
        <li v-for="p in problem.places" :key="p.path + p.message">
          <code>{{ p.path }}</code> {{ p.message }}
        </li>
      </ul>
      <button v-if="problem.code === 'job.exists'" type="button" class="act" @click="read(true)">
        Replace it by the file
      </button>
    </div>
  </div>
</template>

<style>
.job-file p {
  padding: var(--gap-4) 0;
}
.job-file .act:focus-within {
  outline: 2px solid var(--mark);
}
.job-file .trouble {
  padding: var(--gap-4) 0;
  max-height: 40vh;
  overflow-y: auto;
}
.job-file code {
  color: inherit;
}
.earlier p {
  display: flex;
  gap: 0.6rem;
  align-items: baseline;
  justify-content: space-between;
  margin: 0.25rem 0;
}
</style>
