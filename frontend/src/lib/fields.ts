/** What the fields of a form make of what is typed and what can be chosen. */

import type { InterfacesView } from '../api/schema.gen'

export interface Choice<T extends string = string> {
  value: T
  text: string
  group?: string
}

/** The number in a line of text; nothing for an empty or an unreadable one. */
export function asNumber(typed: string): number | null {
  const number = Number(typed.trim().replace(',', '.'))
  return typed.trim() === '' || !Number.isFinite(number) ? null : number
}

/** Choices by their group, in the order in which they were given; those without one stand first. */
export function groupsOf<T extends string>(
  choices: readonly (Choice<T> | T)[],
): { name: string; choices: Choice<T>[] }[] {
  const groups = new Map<string, Choice<T>[]>()
  for (const one of choices) {
    const choice = typeof one === 'string' ? { value: one, text: one } : one
    const name = choice.group ?? ''
    groups.set(name, [...(groups.get(name) ?? []), choice])
  }
  return [...groups]
    .map(([name, found]) => ({ name, choices: found }))
    .sort((a, b) => Number(a.name !== '') - Number(b.name !== ''))
}

/** Every interface to choose from, by family. */
export function interfaceChoices(known: InterfacesView | null): Choice[] {
  return (known?.interfaces ?? [])
    .map((i) => ({ value: i.id ?? '', text: i.label ?? '', group: known?.families[i.kind ?? ''] ?? i.kind ?? '' }))
    .filter((c) => c.value)
}

/** Whether a text has every word that was typed. */
export function meant(words: string, text: string): boolean {
  const low = text.toLowerCase()
  return words
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((word) => low.includes(word))
}
