import { useEventListener, useIntervalFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { BROWSER, carried, isSaid, keepWith, problemOf } from '../api/client'
import { allNoted, changeNoted, dropNoted, keepNoted, nextToSend, noteOf, stamped, type Noted } from '../lib/outbox'
import { useMe } from './me'

const SKEW = 'lift-crate-clock'
/** A clock that is further off is told. */
const SKEW_TOLD_MS = 120_000
/** So long one that waits is tried; then the next try comes. */
const SEND_PATIENCE_MS = 20_000
const AGAIN_MS = 10_000

/** What is noted: on this device until the server has said that it has it, sent in its order, each taken once. */
export const useOutbox = defineStore('outbox', () => {
  const me = useMe()
  const all = shallowRef<readonly Noted[]>([])
  /** What is on its way right now, by this window: nobody need be told that it waits. */
  const flying = shallowRef<ReadonlySet<number>>(new Set())
  const row = computed(() => all.value.filter((n) => !flying.value.has(n.n)))
  /** Whether this device can keep anything at all. */
  const keeps = shallowRef(true)
  let unheard: () => boolean = () => false
  function heardBy(says: () => boolean): void {
    unheard = says
  }
  /** How much this device's clock is behind the server's. */
  const skew = shallowRef(Number(localStorage.getItem(SKEW)) || 0)
  const clockOff = computed(() => (Math.abs(skew.value) > SKEW_TOLD_MS ? skew.value : 0))
  let sending: Promise<void> | null = null

  async function read(): Promise<void> {
    try {
      all.value = await allNoted()
      keeps.value = true
    } catch {
      keeps.value = false
    }
  }
  function heardAt(server: string): void {
    skew.value = Date.parse(server) - Date.now()
    localStorage.setItem(SKEW, String(Math.round(skew.value)))
  }

  interface Kept {
    n: number
    job: string
    body: string | null
  }
  /** Puts on this device what is about to be sent; nothing where it cannot. */
  async function keep(request: Request, body: string | null, key: string): Promise<Kept | null> {
    const url = new URL(request.url)
    const note = noteOf(request.method, url, body)
    if (!note) return null
    const now = new Date(Date.now() + skew.value)
    const job = decodeURIComponent(url.pathname.split('/')[3] ?? '')
    const told = stamped(body, url.pathname, now)
    try {
      const n = await keepNoted({
        ...note,
        key,
        at: now.toISOString(),
        who: me.name,
        job,
        method: request.method,
        url: url.pathname + url.search,
        body: told,
        state: 'waiting',
        why: '',
      })
      flying.value = new Set([...flying.value, n])
      await read()
      return { n, job, body: told }
    } catch {
      keeps.value = false
      return null
    }
  }
  function landed(n: number): void {
    flying.value = new Set([...flying.value].filter((other) => other !== n))
  }
  /** What comes after something that waits waits too: it may rest on it. */
  const waits = (kept: Kept): boolean =>
    unheard() || all.value.some((n) => n.job === kept.job && n.state === 'waiting' && n.n < kept.n)
  async function arrived(kept: Kept): Promise<void> {
    await dropNoted(kept.n)
    await read()
    landed(kept.n)
  }
  function stays(kept: Kept): void {
    landed(kept.n)
  }

  function send(): Promise<void> {
    sending ??= locked(sendAll).finally(() => {
      sending = null
    })
    return sending
  }
  /** One window of this browser sends at a time. */
  const locked = (what: () => Promise<void>): Promise<void> =>
    'locks' in navigator ? navigator.locks.request('lift-crate-outbox', what) : what()

  async function sendAll(): Promise<void> {
    await read()
    const next_ = (): Noted | null => nextToSend(all.value, me.name, flying.value)
    for (let next = next_(); next; next = next_()) {
      let answer: Response
      try {
        answer = await fetch(next.url, {
          method: next.method,
          body: next.body,
          signal: AbortSignal.timeout(SEND_PATIENCE_MS),
          headers: {
            ...(next.body ? { 'Content-Type': 'application/json' } : {}),
            // By another name than this window's: what it shows is read anew like what anybody else did.
            'X-Browser': `${BROWSER}-kept`,
            'X-Once': next.key,
            ...(await carried()),
          },
        })
      } catch {
        return
      }
      if (!isSaid(answer)) return
      if (answer.ok) await dropNoted(next.n)
      else {
        const told = problemOf(answer.status, await answer.json().catch(() => null))
        await changeNoted({ ...next, state: 'clash', why: told.message, asked: told.code === 'pack.asked' })
      }
      await read()
    }
  }

  async function again(noted: Noted): Promise<void> {
    await changeNoted({ ...noted, state: 'waiting', why: '' })
    await send()
  }
  /** It was so, unlikely as it is. */
  async function sure(noted: Noted): Promise<void> {
    const body = noted.body ? JSON.stringify({ ...(JSON.parse(noted.body) as object), anyway: true }) : null
    await changeNoted({ ...noted, body, state: 'waiting', why: '', asked: false })
    await send()
  }
  /** Only who noted it gives it up, and only by saying so. */
  async function giveUp(noted: Noted): Promise<void> {
    await dropNoted(noted.n)
    await send()
  }

  const some = (): boolean => row.value.some((n) => n.state === 'waiting')
  useIntervalFn(() => {
    if (some() && navigator.onLine) void send()
  }, AGAIN_MS)
  useEventListener(window, 'online', () => void (some() && send()))
  keepWith({
    keep,
    waits,
    arrived,
    stays,
    isNote: (request) => noteOf(request.method, new URL(request.url), null) !== null,
  })
  void read()
  return { row, keeps, heardBy, skew, clockOff, read, send, again, sure, giveUp, heardAt }
})
