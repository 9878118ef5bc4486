import { useDocumentVisibility, useIntervalFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { forgetRead, lookAt } from '../api'
import { BROWSER, carried, onKept } from '../api/client'
import type { PartView } from '../api/schema.gen'
import { takeAlong } from '../lib/along'
import { HeardOf, tellAll, type Happening } from '../lib/happenings'
import { useBench } from './bench'
import { useFrame } from './frame'
import { useJob } from './job'
import { useMe } from './me'
import { useOutbox } from './outbox'

interface Place {
  job: string
  part: string
  rig: string
  place: string
}
/** Somebody's window, and what it looks at. */
export interface Looker {
  tab: string
  name: string
  part: string
  rig: string
  place: string
}
/** A beat comes every two seconds; after so long without one there is no connection. */
const SILENT_MS = 4500
const SAID_MS = 20_000
const LEAVES_MS = 400
/** So long what was taken along counts as fresh; what changes meanwhile is read where it is looked at. */
const ALONG_MS = 600_000

/** What others in the job look at and do, while they do it; and whether the server is heard at all. */
export const useLive = defineStore('live', () => {
  const job = useJob()
  const bench = useBench()
  const frame = useFrame()
  const me = useMe()
  const outbox = useOutbox()
  const visible = useDocumentVisibility()
  const lostSince = ref<Date | null>(null)
  const lookers = shallowRef<readonly Looker[]>([])
  const said = shallowRef<(Happening & { heard: number }) | null>(null)
  const now = ref(Date.now())
  outbox.heardBy(() => lostSince.value !== null)
  const others = computed(() => lookers.value.filter((l) => l.tab !== BROWSER))
  let at: Place | null = null
  let source: EventSource | null = null
  let heardAt = 0
  let beganAt = 0
  let heardOf = new HeardOf()
  let told = ''
  /** Until it is said who is here, what happened just before is told, which is no news. */
  let come = false

  function close(): void {
    source?.close()
    source = null
  }

  function begin(): void {
    close()
    if (!at) return
    beganAt = Date.now()
    void carried().then((said) => (word = said))
    const { job: id, ...place } = at
    const query = new URLSearchParams({ tab: BROWSER, ...place })
    if (heardOf.last !== null) query.set('after', String(heardOf.last))
    const mine = new EventSource(`/api/jobs/${encodeURIComponent(id)}/live?${query.toString()}`)
    told = JSON.stringify(place)
    source = mine
    const on = <T>(kind: string, doing: (says: T) => void): void => {
      mine.addEventListener(kind, (event) => {
        if (source !== mine) return
        heardAt = Date.now()
        lostSince.value = null
        doing(JSON.parse((event as MessageEvent<string>).data) as T)
      })
    }
    on<{ last: number }>('ready', ({ last }) => {
      if (heardOf.last === null) heardOf.from(last)
    })
    on<{ last: number }>('anew', ({ last }) => {
      heardOf = new HeardOf()
      heardOf.from(last)
      void anew()
    })
    on<Happening>('happening', hear)
    on<PartView>('strips', (strips) => {
      job.show(strips)
    })
    on<Looker[]>('here', (all) => {
      come = true
      void along()
      lookers.value = all
      // What was looked at while the stream was on its way may not have arrived.
      const mine = all.find((l) => l.tab === BROWSER)
      if (mine && at && (mine.part !== at.part || mine.rig !== at.rig || mine.place !== at.place)) {
        told = ''
        look(at)
      }
    })
    on<Looker & { gone: boolean }>('looking', ({ gone, ...who }) => {
      const rest = lookers.value.filter((l) => l.tab !== who.tab)
      lookers.value = gone ? rest : [...rest, who]
    })
    on<{ now: string }>('beat', ({ now: server }) => {
      outbox.heardAt(server)
      if (outbox.row.length) void outbox.send()
      void bench.catchUp()
      void frame.catchUp()
      if (job.problem?.passing) void job.reopen()
      tellAll({ kind: 'there' })
    })
    on('shut', () => {
      // Who may not look any more keeps nothing of it on his device either.
      forgetRead()
      close()
      at = null
      void me.load().then(() => location.assign('/jobs'))
    })
  }

  function hear(happening: Happening): void {
    if (!heardOf.note(happening.id)) return
    const own = happening.browser === BROWSER
    if (happening.kind === 'build') void bench.heard(happening.thing, happening.version, own)
    if (happening.kind === 'job') void frame.heard(happening.version, own)
    if (own) return
    if (come && (happening.title || happening.kind !== 'crew')) said.value = { ...happening, heard: Date.now() }
    if (happening.kind === 'job' || happening.kind === 'jobs') void job.reopen()
    if (happening.kind === 'shelf') void bench.refresh()
    if (happening.kind === 'crew') void me.load()
    tellAll(happening)
  }

  /** How much of the job this device has to take along. */
  const taken = ref<{ read: number; of: number; at: Date | null }>({ read: 0, of: 0, at: null })
  let taking = false
  /** On a phone, and where it was put on the device, the job that is open is read through now and then. */
  async function along(asked = false): Promise<void> {
    const narrow = matchMedia('(max-width: 760px), (display-mode: standalone)').matches
    const fresh = taken.value.at && Date.now() - taken.value.at.getTime() < ALONG_MS
    await job.opened()
    const open = job.job
    const mine = at
    if (!open || !mine || taking || !(asked || (narrow && !fresh)) || !navigator.serviceWorker?.controller) return
    taking = true
    const whole = await takeAlong(
      open,
      mine.part,
      () => at?.job === open.id && lostSince.value === null,
      (read, of) => {
        taken.value = { read, of, at: null }
      },
    )
    taking = false
    if (whole) taken.value = { ...taken.value, at: new Date() }
  }

  async function anew(): Promise<void> {
    await Promise.all([bench.refresh(), frame.heard(Infinity), job.reopen(), me.load().catch(() => undefined)])
    tellAll({ kind: 'anew' })
  }

  // A page that is closed says so: nobody sees it there for the moment until its stream is missed.
  let word: Record<string, string> = {}
  window.addEventListener('pagehide', () => {
    if (!at) return
    void fetch(`/api/jobs/${encodeURIComponent(at.job)}/looking`, {
      method: 'POST',
      keepalive: true,
      headers: { 'Content-Type': 'application/json', ...word },
      body: JSON.stringify({ tab: BROWSER, gone: true }),
    }).catch(() => undefined)
    close()
  })

  let leaving: ReturnType<typeof setTimeout> | undefined
  /** The screen goes; where another comes at once, the stream goes on. */
  function leave(): void {
    clearTimeout(leaving)
    leaving = setTimeout(() => {
      at = null
      close()
      lookers.value = []
    }, LEAVES_MS)
  }

  /** What this window looks at from now on. */
  function look(next: Place): void {
    clearTimeout(leaving)
    const same = at?.job === next?.job
    at = next
    if (!same) {
      // A job that was just made or read in: what one is in it is new.
      if (me.me?.signed_in && !me.roleIn(next.job)) void me.load().catch(() => undefined)
      heardOf = new HeardOf()
      taken.value = { read: 0, of: 0, at: null }
      come = false
      said.value = null
      lookers.value = []
      heardAt = Date.now()
      lostSince.value = null
    }
    if (visible.value !== 'visible') return
    if (!same || !source) begin()
    else {
      const { job: id, ...place } = next
      if (told === JSON.stringify(place)) return
      told = JSON.stringify(place)
      // Where it does not arrive, the next stream says so anew.
      void lookAt(id, place).catch(() => {
        told = ''
      })
    }
  }

  // A window that nobody sees listens to nothing; it is told what it missed when it is seen again.
  watch(visible, (how) => {
    if (how === 'visible' && at) {
      heardAt = Date.now()
      begin()
    } else close()
  })
  useIntervalFn(() => {
    now.value = Date.now()
    if (!at || visible.value !== 'visible') return
    const silent = now.value - heardAt > SILENT_MS
    if (silent) lostSince.value ??= new Date(heardAt)
    if ((silent || source?.readyState === EventSource.CLOSED) && now.value - beganAt > 1500) begin()
  }, 500)

  /** When the server gave what is shown, where this device shows what it has kept. */
  const keptAt = ref<Date | null>(null)
  onKept((when) => {
    keptAt.value = when ? new Date(when) : null
  })

  /** The last thing that somebody else did, for as long as it is news. */
  const news = computed(() => (said.value && now.value - said.value.heard < SAID_MS ? said.value : null))
  /** Who is on a camera, in whatever part of the day. */
  const on = (rig: string): Looker[] => others.value.filter((l) => l.rig.split('~')[0] === rig)

  return { taken, along, lostSince, keptAt, others, news, look, leave, on }
})
