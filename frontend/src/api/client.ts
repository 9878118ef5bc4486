import createClient from 'openapi-fetch'
import type { paths, BenchView, ProblemView } from './schema.gen'

/** Every answer that is not what was asked for: an error of the server, or no server at all. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
    readonly code: string,
    readonly places: readonly { path: string; message: string }[] = [],
    readonly current: BenchView | null = null,
  ) {
    super(detail)
  }

  /** True when trying the same again later can help. */
  get passing(): boolean {
    return this.status === 0 || this.status === 503
  }
}

/** A name of this window, by which the server knows who waits for a plan. */
const BROWSER = Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) =>
  byte.toString(16).padStart(2, '0'),
).join('')

export const client = createClient<paths>({ baseUrl: '/', headers: { 'X-Browser': BROWSER } })

/** The word of the session, that everything which changes something carries; known when the server has said who we are. */
let word: Promise<string> = Promise.resolve('')
let whenSignedOut: () => void = () => undefined
export function carry(next: Promise<string>): void {
  word = next
}
export function onSignedOut(doing: () => void): void {
  whenSignedOut = doing
}
/** That word as a header; none where nobody is signed in. */
export async function carried(): Promise<Record<string, string>> {
  const said = await word.catch(() => '')
  return said ? { 'X-Session-Word': said } : {}
}
client.use({
  async onRequest({ request }) {
    if (request.method === 'GET') return
    for (const [name, value] of Object.entries(await carried())) request.headers.set(name, value)
  },
  onResponse({ response, schemaPath }) {
    if (response.status === 401 && !schemaPath.startsWith('/api/me')) whenSignedOut()
  },
})

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** The data of an answer; throws Problem for anything else. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch {
    throw new Problem(
      0,
      'No answer',
      'The server does not answer. What you see is the last state it told; nothing was half-saved.',
      'network',
    )
  }
  if (answer.data !== undefined && answer.response.ok) return answer.data
  throw problemOf(answer.response.status, answer.error)
}

export function problemOf(status: number, body: unknown): Problem {
  const told = (typeof body === 'object' && body !== null ? body : {}) as Partial<ProblemView> & {
    current?: BenchView | null
  }
  return new Problem(
    status,
    told.title ?? 'No answer',
    told.detail ?? 'The server gave no answer that can be read.',
    told.type?.replace('urn:lift-crate:', '') ?? 'unknown',
    told.problems ?? [],
    told.current ?? null,
  )
}

/** Something was done and there is nothing to tell; throws Problem otherwise. */
export async function done(call: Promise<Answer<unknown>>): Promise<void> {
  const answer = await call.catch(() => null)
  if (answer?.response.ok) return
  if (answer) throw problemOf(answer.response.status, answer.error)
  throw new Problem(0, 'No answer', 'The server does not answer. Nothing was changed.', 'network')
}
