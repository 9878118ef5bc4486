/** An id that none of those there are has: its kind and a number. */
export function freshId(kind: string, taken: readonly string[]): { id: string; number: number } {
  let number = taken.length + 1
  while (taken.includes(`${kind}-${String(number)}`)) number += 1
  return { id: `${kind}-${String(number)}`, number }
}
