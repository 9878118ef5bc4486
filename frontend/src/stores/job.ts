import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { readJob, readPart } from '../api'
import type { JobView, PartView } from '../api/schema.gen'
import { useLoad } from '../composables/useLoad'

/** The frame: the job's day, its rigs, and every camera's strip at the chosen part of the day. */
export const useJob = defineStore('job', () => {
  const partId = ref('')
  const rigId = ref('')
  const { found: job, problem: noJob, load: loadJob } = useLoad<JobView>()
  const { found: strips, problem: noStrips, load: loadStrips, show: showStrips } = useLoad<PartView>()

  const part = computed(() => job.value?.parts.find((p) => p.id === partId.value) ?? null)
  const problem = computed(() => noJob.value ?? noStrips.value)
  /** What is looked at, once the job is there. */
  const place = computed(() => (job.value ? { job: job.value.id, part: partId.value, rig: rigId.value } : null))
  /** 'rig~build' looks at one build of a camera, whichever it is planned in. */
  const camera = computed(() =>
    job.value?.rigs.some((r) => r.id === rigId.value) ? rigId.value : (rigId.value.split('~')[0] ?? ''),
  )
  const rig = computed(() => job.value?.rigs.find((r) => r.id === camera.value) ?? null)

  let opening: Promise<void> = Promise.resolve()
  function open(jobId: string): Promise<void> {
    opening = fetchJob(jobId)
    return opening
  }
  /** Settles when the job last asked for is there: what a key means depends on it. */
  const opened = (): Promise<void> => opening

  async function fetchJob(jobId: string): Promise<void> {
    if (job.value?.id !== jobId) await loadJob(() => readJob(jobId))
  }

  /** The job as it is now, after an edit of it; the strips of its part with it. */
  async function reopen(): Promise<void> {
    const id = job.value?.id
    if (!id) return
    const found = await loadJob(() => readJob(id))
    if (found?.parts.some((p) => p.id === partId.value)) await look(id, partId.value)
  }

  async function look(jobId: string, part: string): Promise<void> {
    await loadStrips(() => readPart(jobId, part))
  }

  /** What an edit was answered with; strips that were asked for before it are older. */
  function show(found: PartView): void {
    if (found.part === partId.value) showStrips(found)
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

  return {
    job,
    strips,
    partId,
    rigId,
    camera,
    part,
    rig,
    place,
    problem,
    open,
    opened,
    reopen,
    look,
    show,
    partBeside,
    forget,
  }
})
