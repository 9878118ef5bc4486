import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { BROWSER, carried, keepWith, problemOf } from '../api/client'
import { allNoted, changeNoted, dropNoted, keepNoted, nextToSend, noteOf, stamped, type Noted } from '../lib/outbox'
import { useMe } from './me'

const SKEW = 'lift-crate-clock'
/** A clock that is further off is told. */
const SKEW_TOLD_MS = 120_000

/** What was noted while the server did not answer: kept on this device, sent in its order when it does, each once. */
export const useOutbox = defineStore('outbox', () => {
  const me = useMe()
  const row = shallowRef<readonly Noted[]>([])
  /** How much this device's clock is behind the server's. */
  const skew = shallowRef(Number(localStorage.getItem(SKEW)) || 0)
  const clockOff = computed(() => (Math.abs(skew.value) > SKEW_TOLD_MS ? skew.value : 0))
  let sending: Promise<void> | null = null

  async function read(): Promise<void> {
    row.value = await allNoted().catch(() => [])
  }
  function heardAt(server: string): void {
    skew.value = Date.parse(server) - Date.now()
    localStorage.setItem(SKEW, String(Math.round(skew.value)))
  }

  /** Takes over what could not be sent: true where it is kept now. */
  async function keep(request: Request, body: string | null, key: string): Promise<boolean> {
    const url = new URL(request.url)
    const note = noteOf(request.method, url, body)
    if (!note) return false
    const now = new Date(Date.now() + skew.value)
    try {
      await keepNoted({
        ...note,
        key,
        at: now.toISOString(),
        who: me.name,
        job: decodeURIComponent(url.pathname.split('/')[3] ?? ''),
        method: request.method,
        url: url.pathname + url.search,
        body: stamped(body, url.pathname, now),
        state: 'waiting',
        why: '',
      })
    } catch {
      return false
    }
    await read()
    return true
  }
  /** What comes after something that waits waits too: it may rest on it. */
  const waits = (job: string): boolean => row.value.some((n) => n.job === job && n.state === 'waiting')

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
    for (let next = nextToSend(row.value, me.name); next; next = nextToSend(row.value, me.name)) {
      let answer: Response
      try {
        answer = await fetch(next.url, {
          method: next.method,
          body: next.body,
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
      if (answer.ok) await dropNoted(next.n)
      else if (answer.status === 401 || answer.status === 429 || answer.status >= 500) return
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

  keepWith({ keep, waits, isNote: (request) => noteOf(request.method, new URL(request.url), null) !== null })
  void read()
  return { row, clockOff, read, send, again, sure, giveUp, heardAt }
})
