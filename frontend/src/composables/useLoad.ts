import { onScopeDispose, ref, shallowRef } from 'vue'
import { onHappening, type Kind } from '../lib/happenings'
import type { Problem } from '../api/client'

/** Changes that come together are looked at together. */
const SETTLES_MS = 250

/** One thing that is loaded: loading, ready or in trouble. What was asked for last is what is shown;
 * an answer that comes late, or after the screen is gone, is dropped. What others change of the kinds it `follows` makes
 * it load once more, and so does a sign of the server after it could not be read. */
export function useLoad<T>(follows: readonly Kind[] = []) {
  const found = shallowRef<T | null>(null)
  const problem = shallowRef<Problem | null>(null)
  const loading = ref(false)
  let asked = 0
  let again: (() => Promise<unknown>) | null = null

  /** The answer, or nothing when it came late or not at all. */
  async function load(call: () => Promise<T>): Promise<T | null> {
    const mine = ++asked
    again = () => load(call)
    loading.value = true
    try {
      const next = await call()
      if (mine !== asked) return null
      found.value = next
      problem.value = null
      return next
    } catch (error) {
      if (mine === asked) problem.value = error as Problem
      return null
    } finally {
      if (mine === asked) loading.value = false
    }
  }

  /** Step after step of one search, each shown as it comes, until one says that it was the last. */
  async function steps(
    next: (before: T | null) => Promise<{ value: T; last: boolean }>,
    pause = 0,
    seen: (value: T) => void = () => undefined,
  ): Promise<void> {
    const mine = ++asked
    again = () => steps(next, pause, seen)
    loading.value = true
    try {
      for (let before: T | null = null, last = false; !last;) {
        const step = await next(before)
        if (mine !== asked) return
        ;[before, last] = [step.value, step.last]
        found.value = before
        problem.value = null
        seen(step.value)
        if (!last && pause) await new Promise((later) => setTimeout(later, pause))
        if (mine !== asked) return
      }
    } catch (error) {
      if (mine === asked) problem.value = error as Problem
    } finally {
      if (mine === asked) loading.value = false
    }
  }

  /** What is on its way is no longer wanted. */
  function stop(): void {
    asked++
    loading.value = false
  }

  /** An answer that came by another way, newer than any that is on its way. */
  function show(value: T | null): void {
    stop()
    found.value = value
    problem.value = null
  }

  let due: ReturnType<typeof setTimeout> | undefined
  /** What is on its way may be older than what was heard: it is waited for. */
  function once(): void {
    if (loading.value) due = setTimeout(once, SETTLES_MS)
    else void again?.()
  }
  if (follows.length) {
    const leave = onHappening((heard) => {
      const wanted =
        heard.kind === 'there' ? problem.value?.passing : heard.kind === 'anew' || follows.includes(heard.kind)
      if (!wanted) return
      clearTimeout(due)
      due = setTimeout(once, SETTLES_MS)
    })
    onScopeDispose(() => {
      clearTimeout(due)
      leave()
    })
  }
  onScopeDispose(stop)
  return { found, problem, loading, load, steps, stop, show }
}
