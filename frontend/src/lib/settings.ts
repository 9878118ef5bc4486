/** Settings as lines: every figure under its path, called, measured and bounded as the server tells it. */
import type { SettingInfo } from '../api/schema.gen'

export type Leaf = number | string | string[]
export interface SettingLine {
  path: readonly (string | number)[]
  name: string
  info: SettingInfo
  value: Leaf
  /** null: the usual settings have no such row. */
  usual: Leaf | null
}

/** What the figures of a row are called. */
const PLACES: Record<string, readonly string[]> = {
  attitudes: ['tilt', 'roll'],
  zoom_ends: ['wide', 'long'],
  move_accel: ['calm', 'usual', 'hard'],
}
const ENDS = ['from', 'to']
/** Tables to which a job may add rows of its own. */
export const OPEN_TABLES = ['moves', 'grips'] as const
export type OpenTable = (typeof OPEN_TABLES)[number]

const isLeaf = (value: unknown): value is Leaf =>
  typeof value === 'number' ||
  typeof value === 'string' ||
  (Array.isArray(value) && value.every((v) => typeof v === 'string'))

export function linesOf(settings: unknown, usual: unknown, infos: readonly SettingInfo[]): SettingLine[] {
  const known = new Map(infos.map((i) => [i.key, i]))
  const found: SettingLine[] = []
  function walk(value: unknown, standard: unknown, path: (string | number)[]): void {
    if (isLeaf(value)) {
      const steps = path.filter((p): p is string => typeof p === 'string')
      const [table = '', ...rest] = steps
      const info = known.get(table) ?? known.get(`${table}.${rest.at(-1) ?? ''}`)
      if (!info) return
      const row = known.has(table) ? rest : rest.slice(0, -1)
      const place = path.find((p) => typeof p === 'number')
      const end = place === undefined ? [] : [(PLACES[table] ?? ENDS)[place] ?? String(place + 1)]
      // 'Load factor, walking', but 'Handling … on head'.
      const named = [info.label, ...row].join(/( on|:)$/.test(info.label) ? ' ' : ', ')
      const name = [named, ...end].join(', ')
      found.push({ path, name, info, value, usual: isLeaf(standard) ? standard : null })
    } else if (value && typeof value === 'object') {
      const others = (standard ?? {}) as Record<string | number, unknown>
      for (const [key, inner] of Object.entries(value)) {
        const step = Array.isArray(value) ? Number(key) : key
        walk(inner, others[step], [...path, step])
      }
    }
  }
  walk(settings, usual, [])
  return found
}

export const sameLeaf = (a: Leaf, b: Leaf | null): boolean => JSON.stringify(a) === JSON.stringify(b)

/** What may be entered, in words. */
export function rangeOf(info: SettingInfo): string {
  const { low, high } = info
  if (low == null && high == null) return ''
  const most = high == null || high >= 1e6 ? '' : String(high)
  return most ? `${String(low ?? 0)} to ${most}` : `${String(low ?? 0)} or more`
}

function at(value: unknown, path: readonly (string | number)[]): unknown {
  return path.reduce<unknown>((now, step) => (now as Record<string | number, unknown>)[step], value)
}

/** The same settings with one figure changed. */
export function withLine<T>(settings: T, path: readonly (string | number)[], value: Leaf): T {
  const next = structuredClone(settings)
  const holder = at(next, path.slice(0, -1)) as Record<string | number, unknown>
  holder[path.at(-1) ?? ''] = value
  return next
}

type Rows = Record<string, unknown>
/** The same settings with a row more, as the first one stands; its figures are changed afterwards. */
export function withRow<T>(settings: T, table: OpenTable, name: string): T {
  const next = structuredClone(settings)
  const rows = (next as Record<string, Rows>)[table] ?? {}
  if (!(name in rows)) rows[name] = structuredClone(Object.values(rows)[0])
  return next
}

export function withoutRow<T>(settings: T, table: OpenTable, name: string): T {
  const next = structuredClone(settings)
  const held = next as Record<string, Rows>
  held[table] = Object.fromEntries(Object.entries(held[table] ?? {}).filter(([row]) => row !== name))
  return next
}
