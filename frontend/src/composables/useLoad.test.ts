import { describe, expect, it } from 'vitest'
import { effectScope } from 'vue'
import { useLoad } from './useLoad'

const later = <T>(value: T, ms: number): Promise<T> => new Promise((done) => setTimeout(() => done(value), ms))
const late = (error: unknown, ms: number): Promise<never> =>
  new Promise((_, refuse) => setTimeout(() => refuse(error as Error), ms))

describe('useLoad', () => {
  it('drops the answer and the trouble of what was asked before', async () => {
    const { found, problem, loading, load } = useLoad<string>()
    const first = load(() => later('slow', 30))
    const wrong = load(() => late(new Error('late'), 20))
    const last = load(() => later('quick', 5))
    expect(loading.value).toBe(true)
    expect(await last).toBe('quick')
    expect(loading.value).toBe(false)
    expect(await first).toBeNull()
    expect(await wrong).toBeNull()
    expect(found.value).toBe('quick')
    expect(problem.value).toBeNull()
  })

  it('keeps what is shown when the next is refused, and says so', async () => {
    const { found, problem, load } = useLoad<number>()
    await load(() => Promise.resolve(1))
    await load(() => Promise.reject(new Error('away')))
    expect(found.value).toBe(1)
    expect(problem.value?.message).toBe('away')
  })

  it('shows a search step by step until it ends or is stopped', async () => {
    const { found, loading, steps, stop } = useLoad<number>()
    const seen: number[] = []
    await steps(
      (before) => Promise.resolve({ value: (before ?? 0) + 1, last: before === 2 }),
      0,
      (value) => seen.push(value),
    )
    expect(seen).toEqual([1, 2, 3])
    expect([found.value, loading.value]).toEqual([3, false])
    const endless = steps((before) => later({ value: (before ?? 0) + 1, last: false }, 1))
    setTimeout(stop, 20)
    await endless
    expect(loading.value).toBe(false)
  })

  it('drops what comes after its screen is gone', async () => {
    const scope = effectScope()
    const one = scope.run(() => useLoad<string>())
    const coming = one?.load(() => later('too late', 5))
    scope.stop()
    expect(await coming).toBeNull()
    expect(one?.found.value).toBeNull()
  })
})
