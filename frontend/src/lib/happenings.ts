/** What others do, as it is told to this window. */
export interface Happening {
  id: number
  at: string
  job_id: string | null
  kind: 'build' | 'job' | 'jobs' | 'shelf' | 'cards' | 'sound' | 'swaps' | 'balance' | 'crew' | 'pack' | 'log'
  thing: string
  version: number
  title: string
  actor: string
  browser: string
}
/** 'anew': so much was missed that everything is looked at again; 'there': the server gives a sign, so that what
 * could not be read a moment ago is read now.
 */
export type Heard = Happening | { kind: 'anew' | 'there' }
export type Kind = Happening['kind']

const listeners = new Set<(heard: Heard) => void>()
/** Call it back to listen no more. */
export function onHappening(doing: (heard: Heard) => void): () => void {
  listeners.add(doing)
  return () => listeners.delete(doing)
}
export function tellAll(heard: Heard): void {
  for (const doing of [...listeners]) doing(heard)
}

/** Numbers of what was heard: the same thing may come twice, or after a newer one. */
export class HeardOf {
  private readonly numbers = new Set<number>()
  last: number | null = null

  /** Whether it is heard for the first time. */
  note(id: number): boolean {
    if (this.numbers.has(id)) return false
    this.numbers.add(id)
    if (this.last === null || id > this.last) this.last = id
    for (const oldest of this.numbers) {
      if (this.numbers.size <= 600) break
      this.numbers.delete(oldest)
    }
    return true
  }
  /** Everything up to this number is on the screens already. */
  from(last: number): void {
    this.last = last
    for (let id = Math.max(1, last - 120); id <= last; id++) this.numbers.add(id)
  }
}
