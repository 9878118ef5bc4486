/** Answers to a pattern's questions: what is shown before anybody answered, and what is sent. */

import type { InterfacesView, Question } from '../api/schema.gen'
import type { Choice } from './fields'

export type Answer = number | string | boolean | null | undefined | Answer[] | { [key: string]: Answer }
export type Answers = Record<string, Answer>

export const NEW = '+'

/** What is sent: answers without those that were never given. */
export function given(answers: Answers): Record<string, never> {
  const kept = Object.entries(answers)
    .filter(([, value]) => value !== null && value !== undefined && value !== '')
    .map(([key, value]) => [key, cleaned(value)])
  return Object.fromEntries(kept) as Record<string, never>
}

function cleaned(value: Answer): Answer {
  if (Array.isArray(value)) return value.map(cleaned)
  if (value !== null && typeof value === 'object') return given(value)
  return value
}

/** Rows as they stand: those that were entered, else the usual ones. */
export function rowsOf(question: Question, answer: Answer): Answers[] {
  if (Array.isArray(answer)) return answer as Answers[]
  return Array.isArray(question.typical) ? (question.typical as Answers[]) : []
}

/** What a field shows in grey: the typical figure. */
export function hint(question: Question): string {
  return typeof question.typical === 'number' || typeof question.typical === 'string' ? String(question.typical) : ''
}

/** Interfaces of the families that a question is about, by family, and a new one where people make their own. */
export function interfacesFor(question: Question, known: InterfacesView | null): Choice[] {
  const families = question.families ?? []
  const found = (known?.interfaces ?? [])
    .filter((i) => i.kind && families.includes(i.kind))
    .map((i) => ({
      value: i.id ?? '',
      text: i.label ?? '',
      group: families.length > 1 ? (known?.families[i.kind ?? ''] ?? '') : '',
    }))
  const own = ['lens', 'battery', 'front'].includes(families[families.length - 1] ?? '')
  return [...found, ...(own ? [{ value: NEW, text: 'another one…' }] : [])]
}

/** A problem or doubt stands at its question; of a row, at the row's field. */
export function problemAt(problems: readonly { path: string; message: string }[], path: string): string {
  return problems
    .filter((p) => p.path === path)
    .map((p) => p.message)
    .join(' ')
}
