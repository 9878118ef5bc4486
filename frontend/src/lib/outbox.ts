import { openDB, type DBSchema, type IDBPDatabase } from 'idb'

/** Something that was noted, until the server has said that it has it. */
export interface Noted {
  /** Its place in the row. */
  n: number
  /** Under which the server takes it once, however often it is sent. */
  key: string
  at: string
  who: string
  job: string
  /** What it is about: what comes later of the same waits for it. */
  about: string
  words: string
  method: string
  url: string
  body: string | null
  state: 'waiting' | 'clash'
  why: string
  /** It can be and is unlikely: whoever noted it says whether it was so. */
  asked?: boolean
}

interface Kept extends DBSchema {
  noted: { key: number; value: Omit<Noted, 'n'> & { n?: number } }
}
let opened: Promise<IDBPDatabase<Kept>> | null = null
function db(): Promise<IDBPDatabase<Kept>> {
  opened ??= openDB<Kept>('lift-crate', 1, {
    upgrade: (now) => {
      now.createObjectStore('noted', { keyPath: 'n', autoIncrement: true })
    },
  })
  return opened
}

export async function allNoted(): Promise<Noted[]> {
  return (await (await db()).getAll('noted')) as Noted[]
}
/** Its place in the row. */
export async function keepNoted(noted: Omit<Noted, 'n'>): Promise<number> {
  return (await db()).add('noted', noted)
}
export async function changeNoted(noted: Noted): Promise<void> {
  await (await db()).put('noted', noted)
}
export async function dropNoted(n: number): Promise<void> {
  await (await db()).delete('noted', n)
}

/** What can be noted without the server: what was done, never what is planned. */
const NOTES: readonly { path: RegExp; words: (body: Record<string, unknown>, found: RegExpExecArray) => string[] }[] = [
  {
    path: /^\/api\/jobs\/[^/]+\/cards\/steps$/,
    words: (b) => [`card ${text(b.card)}`, text(b.act), text(b.unit), text(b.slot), text(b.place), text(b.note)],
  },
  { path: /^\/api\/jobs\/[^/]+\/cards\/steps\/(\d+)$/, words: (_, f) => [`card step ${f[1] ?? ''}`, 'taken back'] },
  {
    path: /^\/api\/jobs\/[^/]+\/sound\/steps$/,
    words: (b) => [`sound ${text(b.voice)}`, text(b.source), text(b.act), text(b.file)],
  },
  { path: /^\/api\/jobs\/[^/]+\/sound\/steps\/(\d+)$/, words: (_, f) => [`sound step ${f[1] ?? ''}`, 'taken back'] },
  {
    path: /^\/api\/jobs\/[^/]+\/pack\/steps$/,
    words: (b) => {
      const [first, ...more] = packSteps(b)
      const said = more.length ? `and ${String(more.length)} more` : ''
      return [`packing ${text(first?.thing)}`, text(first?.act), text(first?.case), said]
    },
  },
  { path: /^\/api\/jobs\/[^/]+\/pack\/steps\/(\d+)$/, words: (_, f) => [`packing step ${f[1] ?? ''}`, 'taken back'] },
  {
    path: /^\/api\/jobs\/[^/]+\/log\/entries$/,
    words: (b) => [`log ${text(b.kind)}`, text(b.rig), text(b.unit), text(b.what), text(b.text)],
  },
  { path: /^\/api\/jobs\/[^/]+\/log\/entries\/([^/]+)$/, words: () => ['log entry', 'taken back'] },
  {
    path: /^\/api\/jobs\/[^/]+\/swaps\/made$/,
    words: (b) => [`swap ${text(b.slot)}`, `${text(b.pack_in)} in`, b.pack_out ? `${text(b.pack_out)} out` : ''],
  },
  { path: /^\/api\/jobs\/[^/]+\/swaps\/made\/(\d+)$/, words: (_, f) => [`swap ${f[1] ?? ''}`, 'was none'] },
  {
    path: /^\/api\/jobs\/[^/]+\/parts\/[^/]+\/rigs\/([^/]+)\/balance$/,
    words: (b, f) => [`balance ${f[1] ?? ''}`, 'readings as it was set', text(b.note)],
  },
  {
    path: /^\/api\/jobs\/[^/]+\/parts\/[^/]+\/rigs\/([^/]+)\/balance\/(\d+)\/touched$/,
    words: (b, f) => [
      `balance ${f[1] ?? ''} ${f[2] ?? ''}`,
      text(b.thing),
      b.changed ? 'has changed' : 'has not changed',
    ],
  },
]
/** What a request notes of the packing, thing by thing. */
export function packSteps(body: Record<string, unknown>): Record<string, unknown>[] {
  return Array.isArray(body.steps) ? (body.steps as Record<string, unknown>[]) : []
}
const text = (value: unknown): string => (typeof value === 'string' ? value : '')

/** What a request notes, in words; nothing where it is none that can wait. */
export function noteOf(method: string, url: URL, body: string | null): { about: string; words: string } | null {
  if (method === 'GET') return null
  for (const { path, words } of NOTES) {
    const found = path.exec(url.pathname)
    if (!found) continue
    const all = words(body ? (JSON.parse(body) as Record<string, unknown>) : {}, found).filter(Boolean)
    return { about: all[0] ?? '', words: all.join(', ') }
  }
  return null
}

/** What is noted with the time at which it happened: of every kind but the swaps, which are asked for theirs. */
const TIMED = /\/((cards|sound|pack)\/steps|log\/entries|balance|balance\/\d+\/touched)$/

/** The same body with the moment at which it was noted, where the server would have said when. */
export function stamped(body: string | null, path: string, now: Date): string | null {
  if (!body || !TIMED.test(path)) return body
  const said = JSON.parse(body) as Record<string, unknown>
  return said.at ? body : JSON.stringify({ ...said, at: now.toISOString() })
}

/** What is to be sent next: in its order, nothing before what it may rest on. */
export function nextToSend(row: readonly Noted[], who: string, flying: ReadonlySet<number> = new Set()): Noted | null {
  const held = new Set<string>()
  for (const noted of row) {
    const may = noted.state === 'waiting' && noted.who === who && !flying.has(noted.n)
    if (may && !held.has(`${noted.job} ${noted.about}`)) return noted
    held.add(`${noted.job} ${noted.about}`)
  }
  return null
}
