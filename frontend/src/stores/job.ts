import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { readJob, readPart } from '../api'
import type { Problem } from '../api/client'
import type { JobView, PartView } from '../api/schema.gen'

/** The frame: the job's day, its rigs, and every camera's strip at the chosen part of the day. */
export const useJob = defineStore('job', () => {
  const job = shallowRef<JobView | null>(null)
  const strips = shallowRef<PartView | null>(null)
  const partId = ref('')
  const rigId = ref('')
  const problem = shallowRef<Problem | null>(null)
  let asked = 0

  const part = computed(() => job.value?.parts.find((p) => p.id === partId.value) ?? null)
  const rig = computed(() => job.value?.rigs.find((r) => r.id === rigId.value) ?? null)

  let opening: Promise<void> = Promise.resolve()
  function open(jobId: string): Promise<void> {
    opening = fetchJob(jobId)
    return opening
  }
  /** Settles when the job last asked for is there: what a key means depends on it. */
  const opened = (): Promise<void> => opening

  async function fetchJob(jobId: string): Promise<void> {
    try {
      if (job.value?.id !== jobId) job.value = await readJob(jobId)
      problem.value = null
    } catch (error) {
      problem.value = error as Problem
    }
  }

  async function look(jobId: string, part: string): Promise<void> {
    const mine = ++asked
    try {
      const found = await readPart(jobId, part)
      if (mine !== asked) return
      if (part === partId.value) strips.value = found
      problem.value = null
    } catch (error) {
      problem.value = error as Problem
    }
  }

  /** What an edit was answered with; strips that were asked for before it are older. */
  function show(found: PartView): void {
    asked++
    if (found.part === partId.value) strips.value = found
  }

  /** The neighbouring part of the day, or the same at the ends. */
  function partBeside(part: string, step: -1 | 1): string {
    const all = job.value?.parts ?? []
    const at = all.findIndex((p) => p.id === part)
    return all[Math.min(Math.max(at + step, 0), all.length - 1)]?.id ?? part
  }

  function forget(): void {
    job.value = null
    strips.value = null
  }

  return { job, strips, partId, rigId, part, rig, problem, open, opened, look, show, partBeside, forget }
})
