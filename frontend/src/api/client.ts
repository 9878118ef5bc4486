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

/** Where what cannot be sent is kept. */
interface Keeping {
  isNote: (request: Request) => boolean
  waits: (job: string) => boolean
  keep: (request: Request, body: string | null, key: string) => Promise<boolean>
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
const KEPT_HERE = {
  type: 'urn:lift-crate:kept',
  title: 'Kept on this device',
  detail: 'The server does not answer. It is kept on this device and sent when there is a connection.',
}

/** Sends a request; what was noted and finds no server is kept, to be sent later and taken once. */
async function sendOrKeep(request: Request): Promise<Response> {
  const mine = keeping
  if (!mine?.isNote(request)) return fetch(request)
  const body = await request.clone().text()
  const key = crypto.randomUUID()
  const keepIt = async (): Promise<Response | null> =>
    (await mine.keep(request, body || null, key)) ? new Response(JSON.stringify(KEPT_HERE), { status: 499 }) : null
  if (mine.waits(decodeURIComponent(new URL(request.url).pathname.split('/')[3] ?? ''))) {
    const kept = await keepIt()
    if (kept) return kept
  }
  const headers = new Headers(request.headers)
  headers.set('X-Once', key)
  try {
    return await fetch(new Request(request, { headers }))
  } catch (error) {
    const kept = await keepIt()
    if (kept) return kept
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

/** Something was done and there is nothing to tell; throws Problem otherwise. */
export async function done(call: Promise<Answer<unknown>>): Promise<void> {
  const answer = await call.catch(() => null)
  if (answer?.response.ok) return
  if (answer) throw problemOf(answer.response.status, answer.error)
  throw new Problem(0, 'No answer', 'The server does not answer. Nothing was changed.', 'network')
}
