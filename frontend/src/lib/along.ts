import {
  PLAN,
  readBalance,
  readBench,
  readChange,
  readChoices,
  readCustody,
  readDay,
  readFrame,
  readJob,
  readLog,
  readPacking,
  readPart,
  readRun,
  readSheet,
  readSound,
  readSwaps,
} from '../api'
import type { JobView } from '../api/schema.gen'

const DEALT_S = 60
/** The packing as it is dealt to the end, not a first try of it. */
async function packed(job: string): Promise<unknown> {
  for (let tries = 0; tries < DEALT_S; tries++) {
    const found = await readPacking(job)
    if (!found.searching) return found
    await new Promise((later) => setTimeout(later, 1000))
  }
  return null
}

/** What a device that goes along without a connection has to have read, the part that is looked at first. */
function* allOf(job: JobView, part: string): Generator<() => Promise<unknown>> {
  const id = job.id
  yield () => readJob(id)
  yield () => readDay(id)
  yield () => readRun(id, '', 0, false)
  yield () => readCustody(id)
  yield () => packed(id)
  const parts = [...job.parts].sort((a, b) => Number(b.id === part) - Number(a.id === part))
  for (const { id: at } of parts) {
    yield () => readPart(id, at)
    yield () => readSwaps(id, at, { ...PLAN })
    yield () => readLog(id, at)
    for (const rig of job.rigs.filter((r) => r.plan[at])) {
      const place = { job: id, part: at, rig: rig.id }
      yield () => readBench(place)
      yield () => readSheet(place)
      yield () => readBalance(place, '')
    }
  }
  yield () => readSound(id)
  yield () => readFrame(id)
  yield () => readChoices()
  for (const { id: at } of parts.slice(1))
    for (const rig of job.rigs.filter((r) => r.plan[at])) yield () => readChange(id, at, rig.id)
}

const PAUSE_MS = 120

/** Reads a job through, one thing after the other, so that this device has it; how much was read of how much. */
export async function takeAlong(
  job: JobView,
  part: string,
  wanted: () => boolean,
  told: (read: number, of: number) => void,
): Promise<boolean> {
  const all = [...allOf(job, part)]
  for (const [i, read] of all.entries()) {
    if (!wanted()) return false
    // What cannot be read now is read when it is looked at.
    await read().catch(() => undefined)
    told(i + 1, all.length)
    await new Promise((later) => setTimeout(later, PAUSE_MS))
  }
  return true
}
