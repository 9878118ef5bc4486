/** Gear as a document that is edited field by field: what a new group starts with, and where a problem belongs. */

import type { FieldInfo, FieldsView } from '../api/schema.gen'

export type Value = string | number | boolean | null | undefined | Value[] | Document
export interface Document {
  [field: string]: Value
}
export type Types = FieldsView['types']

/** What a group starts with: its defaults, nothing where something must be entered. */
export function blank(types: Types, name: string): Document {
  const made: Document = {}
  for (const field of types[name] ?? []) {
    if (field.optional) continue
    const value = starting(types, field)
    if (value !== undefined) made[field.name] = value
  }
  return made
}

function starting(types: Types, field: FieldInfo): Value {
  if (field.default !== null && field.default !== undefined) return undefined
  if (field.kind === 'group') return blank(types, field.of?.[0] ?? '')
  if (field.kind === 'rows') return [blank(types, field.of?.[0] ?? '')]
  if (field.kind === 'yes') return false
  if (field.kind === 'choice') return field.numeric ? Number(field.choices?.[0]) : (field.choices?.[0] ?? '')
  if (field.kind === 'numbers') {
    const [across = 0, rows = 1] = field.count ?? []
    const row = () => Array.from({ length: across }, () => 0)
    return (field.count ?? []).length === 2 && rows > 1 ? Array.from({ length: rows }, row) : row()
  }
  if (field.kind === 'texts') return []
  return field.kind === 'number' || field.kind === 'whole' ? null : ''
}

/** Which of several types a row is: the one all of whose required fields it has. */
export function typeOf(types: Types, of: readonly string[], row: Document): string {
  return (
    of.find((name) => (types[name] ?? []).every((f) => f.optional || f.default !== null || f.name in row)) ??
    of[0] ??
    ''
  )
}

/** Numbers in rows, as they are typed: `30 1.5; 60 2.6`. */
export function numbersText(value: Value, field: FieldInfo): string {
  if (!Array.isArray(value)) return ''
  const rows = Array.isArray(value[0]) ? (value as number[][]) : [value as number[]]
  return rows.map((row) => row.join(field.count?.length === 1 ? ' ' : ', ')).join('; ')
}

/** The numbers that were typed; nothing for an empty line, undefined where it cannot be read. */
export function numbersTyped(text: string, field: FieldInfo): number[] | number[][] | null | undefined {
  if (!text.trim()) return null
  const rows = text
    .split(';')
    .filter((row) => row.trim())
    .map((row) =>
      row
        .trim()
        .split(/[\s,]+/)
        .map(Number),
    )
  if (rows.some((row) => row.some((n) => !Number.isFinite(n)))) return undefined
  const nested = field.count?.length === 1 || (field.count?.[1] ?? 1) > 1
  return nested ? rows : (rows[0] ?? null)
}

/** Without what is empty: a field that nothing is entered in is left to its default. */
export function tidy(value: Value): Value {
  if (Array.isArray(value)) return value.map(tidy)
  if (value === null || typeof value !== 'object') return value
  const kept = Object.entries(value).filter(([, v]) => v !== null && v !== undefined)
  return Object.fromEntries(kept.map(([k, v]) => [k, tidy(v)]))
}

export function problemsUnder(problems: readonly { path: string; message: string }[], path: string): string[] {
  return problems.filter((p) => p.path === path).map((p) => p.message)
}

/** The fields of a document that are not as they were. */
export function changedIn(was: Document, now: Document): Document {
  return Object.fromEntries(
    Object.entries(now).filter(([key, value]) => JSON.stringify(value) !== JSON.stringify(was[key])),
  ) as Document
}
