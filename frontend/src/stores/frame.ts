import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import {
  bringFrameBack,
  editJob,
  editPacking,
  readChoices,
  readFrame,
  redoJob,
  undoJob,
  undoPacking,
  type JobOperation,
  type PackOperation,
} from '../api'
import type { Problem } from '../api/client'
import type { ChoicesView, FrameView } from '../api/schema.gen'
import { useLoad } from '../composables/useLoad'
import { notTyping } from '../lib/typing'
import { useJob } from './job'

/** The job that is edited: every change goes to the server, one at a time, and what comes back is shown. */
export const useFrame = defineStore('frame', () => {
  const job = useJob()
  const { found: view, problem: unread, load, show } = useLoad<FrameView>()
  const { found: choices, problem: unlearned, load: learn } = useLoad<ChoicesView>()
  const problem = shallowRef<Problem | null>(null)
  /** A change that can be made once more: the server was away, or somebody else was first. */
  const waiting = shallowRef<((now: FrameView) => Promise<FrameView>) | null>(null)
  const busy = ref(false)
  let line: Promise<unknown> = Promise.resolve()
  /** The latest of every job that was opened: an edit goes to the job it was made on, whatever is looked at by then. */
  const known = new Map<string, FrameView>()
  let edits = 0
  /** What was told could not be read, or what was done was not answered. */
  let missed = false
  let coming: { id: string; job: Promise<unknown> } | null = null

  async function open(id: string): Promise<void> {
    dismiss()
    if (view.value?.job.id !== id) show(null)
    const frame = load(async () => {
      const before = edits
      const found = await readFrame(id)
      const now = known.get(id)
      // What was edited while this was on its way is newer than what comes.
      if (now && edits !== before && now.version > found.version) return now
      known.set(id, found)
      return found
    })
    coming = { id, job: frame.catch(() => undefined) }
    await Promise.all([frame, learn(readChoices)])
    problem.value = unread.value ?? unlearned.value
  }

  function change(make: (now: FrameView) => Promise<FrameView>): Promise<boolean> {
    const id = view.value?.job.id ?? coming?.id
    const turn = line.then(async () => {
      // What is done before the job has come waits for it.
      if (id !== undefined && coming?.id === id) await coming.job
      const now = id === undefined ? undefined : known.get(id)
      if (!id || !now) return false
      busy.value = true
      try {
        const next = await make(now)
        known.set(id, next)
        edits++
        if (view.value?.job.id === id) show(next)
        dismiss()
        await job.reopen()
        return true
      } catch (error) {
        problem.value = error as Problem
        missed ||= problem.value.passing
        waiting.value = (error as Problem).passing || (error as Problem).code === 'job.stale' ? make : null
        return false
      } finally {
        busy.value = false
      }
    })
    line = turn.catch(() => undefined)
    return turn
  }

  function dismiss(): void {
    problem.value = null
    waiting.value = null
  }
  /** The refused change once more, on the job as it is now. */
  async function tryAgain(): Promise<void> {
    const again = waiting.value
    await heard(Infinity)
    if (again) await change(again)
  }

  /** The server is there: what could not be read or done a moment ago is read. */
  async function catchUp(): Promise<void> {
    if (missed) await Promise.all([heard(Infinity), job.reopen()])
  }
  /** The job was changed; what is under way here is settled first. What this window did itself and was not told of had
   * arrived after all.
   */
  async function heard(version: number, own = false): Promise<void> {
    await notTyping()
    const turn = line.then(async () => {
      const now = view.value
      if (!now || now.version >= version) return
      const id = now.job.id ?? ''
      const found = await readFrame(id)
      known.set(id, found)
      edits++
      missed = false
      if (view.value?.job.id === id) show(found)
      if (own) dismiss()
    })
    line = turn.catch(() => {
      missed = true
    })
    await line
  }

  const edit = (...operations: JobOperation[]): Promise<boolean> =>
    change((now) => editJob(now.job.id ?? '', now.version, operations))
  /** How it travels: whoever packs may change that, and nothing else of the job. */
  const pack = (...operations: PackOperation[]): Promise<boolean> =>
    change((now) => editPacking(now.job.id ?? '', now.version, operations))
  /** An operation made when its turn comes: what was changed just before it is in what it starts from. */
  const editFrom = (make: (now: FrameView['job']) => JobOperation): Promise<boolean> =>
    change((now) => editJob(now.job.id ?? '', now.version, [make(now.job)]))
  const packFrom = (make: (now: FrameView['job']) => PackOperation): Promise<boolean> =>
    change((now) => editPacking(now.job.id ?? '', now.version, [make(now.job)]))
  /** A step back or forth; where it would take what somebody else did, `tryAgain` does it all the same. */
  async function step(take: typeof undoJob): Promise<boolean> {
    const ok = await change((now) => take(now.job.id ?? '', now.version))
    if (problem.value?.code === 'edit.others') waiting.value = (now) => take(now.job.id ?? '', now.version, true)
    return ok
  }
  const undo = (): Promise<boolean> => step(undoJob)
  const undoPack = (): Promise<boolean> => step(undoPacking)
  const redo = (): Promise<boolean> => step(redoJob)

  const bringBack = (to: number): Promise<boolean> => change((now) => bringFrameBack(now.job.id ?? '', now.version, to))

  return {
    view,
    choices,
    problem,
    busy,
    open,
    edit,
    editFrom,
    pack,
    packFrom,
    undo,
    undoPack,
    redo,
    bringBack,
    heard,
    catchUp,
    waiting,
    tryAgain,
    dismiss,
  }
})
