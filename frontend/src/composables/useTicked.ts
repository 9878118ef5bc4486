import { computed, shallowRef, watch, type ComputedRef } from 'vue'

/** A list that is changed faster than it is read back: what was asked for is shown and built on until it has come
 * back, or was refused. */
export function useTicked(
  now: () => readonly string[],
  send: (next: string[]) => Promise<boolean>,
): { shown: ComputedRef<readonly string[]>; put: (next: readonly string[]) => Promise<boolean> } {
  const mine = shallowRef<readonly string[] | null>(null)
  const same = (a: readonly string[], b: readonly string[]): boolean => JSON.stringify(a) === JSON.stringify(b)
  watch(now, (come) => {
    if (mine.value && same(come, mine.value)) mine.value = null
  })
  const shown = computed(() => mine.value ?? now())
  async function put(next: readonly string[]): Promise<boolean> {
    mine.value = next
    const held = await send([...next])
    if (!held && mine.value === next) mine.value = null
    return held
  }
  return { shown, put }
}
