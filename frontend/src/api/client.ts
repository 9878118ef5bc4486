import createClient from 'openapi-fetch'
import type { paths, BenchView, ConflictProblem } from './schema.gen'

export interface Beside {
  current: BenchView | null
  since: string[]
  mine: string
  onTop: BenchView | null
  whyNot: string
}

/** Every answer that is not what was asked for: an error of the server, or no server at all. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
    readonly code: string,
    readonly places: readonly { path: string; message: string }[] = [],
    /** Of an edit that came too late: what stands now, and what it would be on top of that. */
    readonly beside: Beside | null = null,
  ) {
    super(detail)
  }

  /** True when trying the same again later can help. */
  get passing(): boolean {
    return this.status === 0 || this.status === 503
  }
}

/** A name of this window, by which the server knows who waits for a plan, and who did something. */
export const BROWSER = Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) =>
  byte.toString(16).padStart(2, '0'),
).join('')

/** Where what is noted is kept until the server has said that it has it. */
interface Keeping {
  isNote: (request: Request) => boolean
  /** On this device before it is sent; nothing where the device cannot keep it. */
  keep: (request: Request, body: string | null, key: string) => Promise<Kept | null>
  /** Whether it is not worth trying now: the server is not heard, or something that it may rest on waits. */
  waits: (kept: Kept) => boolean
  /** The server has said that it has it, or why it does not take it. */
  arrived: (kept: Kept) => Promise<void>
  /** It stays, to be sent later. */
  stays: (kept: Kept) => void
}
interface Kept {
  n: number
  job: string
  body: string | null
}
let keeping: Keeping | null = null
export function keepWith(next: Keeping): void {
  keeping = next
}
/** When the server gave what this device shows, where it comes from what the device has kept. */
let whenKept: (at: string | null) => void = () => undefined
export function onKept(doing: (at: string | null) => void): void {
  whenKept = doing
}
export const KEPT_HERE = 'The server does not answer. It is kept on this device and sent when there is a connection.'
const KEPT_MARK = 'X-Kept-Here'
/** So long a note is waited for; then it is kept, and whoever noted it goes on. */
const NOTE_PATIENCE_MS = 6000
/** What every answer of this server carries, and no page that a network shows in its place. */
const OURS = 'X-Lift-Crate'

/** Whether the server itself has said what became of something, whoever else answers on the way. */
export const isSaid = (answer: Response): boolean =>
  answer.headers.has(OURS) && answer.status < 500 && answer.status !== 401 && answer.status !== 429

/** Sends a request. What is noted is on this device before it is sent, and leaves it when the server has said so. */
async function sendOrKeep(request: Request): Promise<Response> {
  const mine = keeping
  if (!mine?.isNote(request)) return fetch(request)
  const body = (await request.clone().text()) || null
  const key = crypto.randomUUID()
  const kept = await mine.keep(request, body, key)
  const later = (it: Kept): Response => {
    mine.stays(it)
    return new Response('{}', { status: 202, headers: { [KEPT_MARK]: 'yes', 'Content-Type': 'application/json' } })
  }
  if (kept && mine.waits(kept)) return later(kept)
  const headers = new Headers(request.headers)
  headers.set('X-Once', key)
  try {
    const answer = await fetch(request.url, {
      method: request.method,
      headers,
      body: kept ? kept.body : body,
      signal: AbortSignal.timeout(NOTE_PATIENCE_MS),
    })
    // An answer that is cut in its middle has not arrived.
    const whole = await answer.clone().text()
    if (!isSaid(answer) && answer.status === 401) whenSignedOut()
    if (!isSaid(answer) && kept) return later(kept)
    if (kept) await mine.arrived(kept)
    return new Response(whole || null, { status: answer.status, headers: answer.headers })
  } catch (error) {
    if (kept) return later(kept)
    throw error
  }
}

export const client = createClient<paths>({ baseUrl: '/', headers: { 'X-Browser': BROWSER }, fetch: sendOrKeep })

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
  onResponse({ request, response, schemaPath }) {
    if (request.method === 'GET' && response.ok) whenKept(response.headers.get('X-Kept-At'))
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
  const told = (typeof body === 'object' && body !== null ? body : {}) as Partial<ConflictProblem>
  return new Problem(
    status,
    told.title ?? 'No answer',
    told.detail ?? 'The server gave no answer that can be read.',
    told.type?.replace('urn:lift-crate:', '') ?? 'unknown',
    told.problems ?? [],
    told.current
      ? {
          current: told.current,
          since: told.since ?? [],
          mine: told.mine ?? '',
          onTop: told.on_top ?? null,
          whyNot: told.why_not ?? '',
        }
      : null,
  )
}

/** The same of something that is noted: nothing where it is kept on this device and goes out later. */
export async function noted<T>(call: Promise<Answer<T>>): Promise<T | null> {
  let kept = false
  const answer = await ask(
    call.then((it) => {
      kept = it.response.headers.has(KEPT_MARK)
      return it
    }),
  )
  return kept ? null : answer
}

/** Something was done and there is nothing to tell; throws Problem otherwise. */
export async function done(call: Promise<Answer<unknown>>): Promise<void> {
  const answer = await call.catch(() => null)
  if (answer?.response.ok) return
  if (answer) throw problemOf(answer.response.status, answer.error)
  throw new Problem(0, 'No answer', 'The server does not answer. Nothing was changed.', 'network')
}
