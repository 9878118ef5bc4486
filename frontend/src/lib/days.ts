/** Times of a job on its own clock, as minutes since the first midnight of 1970: the zone plays no part in drawing them. */

export const STEP_MIN = 5

/** Minutes of a time as it stands on the job's clock. */
export function minutes(at: string): number {
  return Math.round(Date.parse(`${at.slice(0, 16)}:00Z`) / 60_000)
}

/** The same as it is typed and sent: without a zone, which means the job's own. */
export function onClock(at: number): string {
  return new Date(at * 60_000).toISOString().slice(0, 16)
}

export const DAY_MIN = 24 * 60
export const dayOf = (at: number): number => Math.floor(at / DAY_MIN) * DAY_MIN
export const stepped = (at: number): number => Math.round(at / STEP_MIN) * STEP_MIN

export interface Stretch {
  id: string
  from: number
  to: number
}

/** A stretch moved or stretched, in steps, as far as its neighbours let it; never shorter than a step. */
export function placed(all: readonly Stretch[], id: string, from: number, to: number): Stretch | null {
  const old = all.find((s) => s.id === id)
  if (!old) return null
  const others = all.filter((s) => s.id !== id)
  const before = Math.max(-Infinity, ...others.filter((s) => s.to <= old.from).map((s) => s.to))
  const after = Math.min(Infinity, ...others.filter((s) => s.from >= old.to).map((s) => s.from))
  const whole = Math.abs(to - from - (old.to - old.from)) < 1e-6
  let [a, b] = [stepped(from), stepped(to)]
  if (whole) {
    const shift = Math.min(Math.max(a, before), after - (old.to - old.from)) - old.from
    ;[a, b] = [old.from + shift, old.to + shift]
  } else {
    a = Math.min(Math.max(a, before), old.to - STEP_MIN)
    b = Math.max(Math.min(b, after), a + STEP_MIN)
  }
  return { id, from: a, to: b }
}

/** The days that stretches lie on, each with the pieces on it; a night that runs over midnight has two. */
export function daysOf(all: readonly Stretch[]): { day: number; pieces: Stretch[] }[] {
  const days = new Map<number, Stretch[]>()
  for (const s of all) {
    for (let day = dayOf(s.from); day < s.to; day += DAY_MIN) {
      const piece = { id: s.id, from: Math.max(s.from, day), to: Math.min(s.to, day + DAY_MIN) }
      days.set(day, [...(days.get(day) ?? []), piece])
    }
  }
  return [...days].sort(([a], [b]) => a - b).map(([day, pieces]) => ({ day, pieces }))
}
