import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import {
  bringBuildBack,
  editBench,
  previewBench,
  readEarlier,
  readBench,
  redoBench,
  undoBench,
  type Operation,
  type Place,
} from '../api'
import type { Problem } from '../api/client'
import type { BenchView, FiguresView } from '../api/schema.gen'
import { useLoad } from '../composables/useLoad'
import { notTyping } from '../lib/typing'
import { useJob } from './job'

/** Operations are made when their turn comes: a fast second press builds on the first. */
type Change =
  | { kind: 'edit'; operations: (now: BenchView) => Operation[] }
  | { kind: 'undo'; anyway?: boolean }
  | { kind: 'redo'; anyway?: boolean }
  | { kind: 'back'; to: number }

/** The rig on the Bench. Every change goes to the server, one at a time, and what comes back is shown. */
export const useBench = defineStore('bench', () => {
  const job = useJob()
  const { found: saved, problem: unread, load: read, show: showSaved } = useLoad<BenchView>()
  const { found: tried, problem: untried, load: preview, show: showTried, stop: stopTrying } = useLoad<BenchView>()
  const before = shallowRef<FiguresView | null>(null)
  const selected = ref('')
  const problem = shallowRef<Problem | null>(null)
  const waiting = shallowRef<Change | null>(null)
  const busy = ref(false)
  let place: Place | null = null
  let opening: Promise<void> = Promise.resolve()
  let line: Promise<unknown> = Promise.resolve()
  /** What was told could not be read, or what was done was not answered. */
  let missed = false

  const view = computed(() => tried.value ?? saved.value)
  const row = computed(() => view.value?.rows.find((r) => r.unit === selected.value) ?? null)

  /** What was asked for before is answered by this: a preview or a rig read earlier that comes later is dropped. */
  function show(next: BenchView): void {
    showSaved(next)
    showTried(null)
    if (!next.rows.some((r) => r.unit === selected.value)) selected.value = next.body
  }

  function open(next: Place): Promise<void> {
    opening = look(next)
    return opening
  }

  async function look(next: Place): Promise<void> {
    const moved = place?.rig !== next.rig || place.job !== next.job
    place = next
    stopTrying()
    const found = await read(() => readBench(next))
    if (found) {
      before.value = null
      if (moved) selected.value = found.body
      show(found)
      problem.value = null
      waiting.value = null
    } else if (place === next && unread.value) {
      problem.value = unread.value
      if (moved || !unread.value.passing) showSaved(null)
    }
  }

  /** A build was changed; what is under way here is settled first. What this window did itself and was not told of had
   * arrived after all: nobody need try it again.
   */
  const heard = (build: string, version: number, own: boolean): Promise<void> =>
    again((now) => now.build === build && now.version < version, own)
  /** Something that the rig rests on has changed. */
  const refresh = (): Promise<void> => again(() => true)
  /** The server is there: what could not be read or done a moment ago stands beside nothing that is newer. */
  const catchUp = async (): Promise<void> => {
    if (missed) await refresh()
  }
  async function again(stale: (now: BenchView) => boolean, own = false): Promise<void> {
    await notTyping()
    const turn = line
      .then(() => opening)
      .then(async () => {
        const here = place
        if (!here || !saved.value || !stale(saved.value)) return
        const found = await readBench(here)
        missed = false
        if (here !== place) return
        before.value = null
        show(found)
        if (own) dismiss()
      })
      .catch(() => {
        missed = true
      })
    line = turn
    await turn
  }

  function change(wanted: Change): Promise<boolean> {
    const turn = line.then(() => opening).then(() => carryOut(wanted))
    line = turn.catch(() => undefined)
    return turn
  }

  async function carryOut(wanted: Change): Promise<boolean> {
    if (!place || !saved.value) return false
    const here = place
    const { version, figures, rows } = saved.value
    busy.value = true
    try {
      const next =
        wanted.kind === 'edit'
          ? await editBench(here, version, wanted.operations(saved.value))
          : wanted.kind === 'undo'
            ? await undoBench(here, version, wanted.anyway)
            : wanted.kind === 'redo'
              ? await redoBench(here, version, wanted.anyway)
              : await bringBuildBack(here, version, wanted.to)
      if (here !== place) return true
      before.value = figures
      const known = new Set(rows.map((r) => r.unit))
      const added = next.rows.filter((r) => !known.has(r.unit)).at(-1)
      if (added) selected.value = added.unit
      show(next)
      problem.value = null
      waiting.value = null
      if (next.day) job.show(next.day)
      return true
    } catch (error) {
      showTried(null)
      problem.value = error as Problem
      const { passing, code } = error as Problem
      missed ||= passing
      if (code === 'edit.others' && (wanted.kind === 'undo' || wanted.kind === 'redo'))
        waiting.value = { ...wanted, anyway: true }
      else waiting.value = passing || code === 'edit.stale' ? wanted : null
      return false
    } finally {
      busy.value = false
    }
  }

  const edit = (...operations: Operation[]): Promise<boolean> => change({ kind: 'edit', operations: () => operations })
  const slideBy = (unit: string, mm: number): Promise<boolean> =>
    change({
      kind: 'edit',
      operations: (now) => [{ op: 'slide', unit, to_mm: (now.rows.find((r) => r.unit === unit)?.slide_mm ?? 0) + mm }],
    })
  const undo = (): Promise<boolean> => change({ kind: 'undo' })
  const redo = (): Promise<boolean> => change({ kind: 'redo' })

  /** What an edit would look like; `tryNothing` puts the saved rig back. */
  async function tryOut(operations: Operation[]): Promise<void> {
    const here = place
    lookingBack.value = false
    if (here && !(await preview(() => previewBench(here, operations))) && untried.value) showTried(null)
  }

  /** The rig as it was after an edit, to look at. */
  const lookingBack = ref(false)
  async function lookBack(to: number): Promise<void> {
    const here = place
    lookingBack.value = true
    if (here && !(await preview(() => readEarlier(here, to))) && untried.value) {
      showTried(null)
      problem.value = untried.value
    }
  }
  const bringBack = (to: number): Promise<boolean> => change({ kind: 'back', to })

  function tryNothing(): void {
    showTried(null)
  }

  /** The conflict is settled by looking at what is there now. */
  function takeTheirs(): void {
    if (problem.value?.beside?.current) show(problem.value.beside.current)
    problem.value = null
    waiting.value = null
    if (place) void job.look(place.job, place.part)
  }

  /** The refused change once more, on the rig as it is now. */
  async function tryAgain(): Promise<void> {
    const again = waiting.value
    if (problem.value?.beside?.current) show(problem.value.beside.current)
    if (again) await change(again)
    else if (place) await open(place)
  }

  function dismiss(): void {
    problem.value = null
    waiting.value = null
  }

  return {
    view,
    saved,
    before,
    selected,
    row,
    problem,
    waiting,
    busy,
    open,
    heard,
    refresh,
    catchUp,
    edit,
    slideBy,
    undo,
    redo,
    tryOut,
    tryNothing,
    lookBack,
    lookingBack,
    bringBack,
    takeTheirs,
    tryAgain,
    dismiss,
  }
})
