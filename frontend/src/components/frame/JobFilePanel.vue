<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormFile } from 'bootstrap-vue-next/components/BFormFile'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { onMounted, ref, shallowRef } from 'vue'
import { bringBack, exportAddress, importJob, readReplaced } from '../../api'
import type { Problem } from '../../api/client'
import type { ReplacedView } from '../../api/schema.gen'
import { clock, weekday } from '../../lib/format'

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
    done.value = `${answer.title} was read.`
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

function pick(chosen: File | readonly File[] | null | undefined): void {
  const one = chosen instanceof File ? chosen : (chosen?.[0] ?? null)
  if (!one) return
  picked.value = one
  problem.value = null
  done.value = ''
  void read(false)
}
</script>

<template>
  <div class="job-file">
    <p v-if="job">
      <BLink class="btn btn-secondary btn-lg" :href="exportAddress(job)" download>Save as job file</BLink> One JSON file
      with the job, its rigs and all gear it refers to.
    </p>
    <p>
      <BFormFile
        plain
        label="Read a job file"
        accept=".json,application/json"
        :disabled="busy"
        @update:model-value="pick"
      />
      It is read in whole, or refused with everything that is wrong with it.
    </p>
    <p v-if="done" role="status">{{ done }}</p>
    <div v-if="earlier.length" class="earlier">
      <h3>Replaced states, kept</h3>
      <p v-for="state in earlier" :key="state.id">
        <span
          >{{ state.title }}, until {{ weekday(state.at) }} {{ clock(state.at) }} <small>{{ state.actor }}</small></span
        >{{ ' ' }}
        <BButton :disabled="busy" @click="back(state.id)">Bring back</BButton>
      </p>
    </div>
    <div v-if="problem" class="trouble" role="alert">
      <p>{{ problem.message }}</p>
      <ul v-if="problem.places.length">
        <li v-for="p in problem.places" :key="p.path + p.message">
          <code>{{ p.path }}</code> {{ p.message }}
        </li>
      </ul>
      <BButton v-if="problem.code === 'job.exists'" size="lg" @click="read(true)"> Replace it by the file </BButton>
    </div>
  </div>
</template>

<style>
.job-file {
  min-width: 0;
}
.job-file input[type='file'] {
  width: 100%;
}
.job-file p {
  padding: var(--gap-4) 0;
}
.job-file .btn-lg:focus-within {
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
