import { useDocumentVisibility, useIntervalFn } from '@vueuse/core'
import { watch } from 'vue'

const EVERY_MS = 15_000

/** A screen outside a job, which nobody tells what others do: looked at anew now and then while somebody sees it. */
export function useAgain(doing: () => unknown): void {
  const visible = useDocumentVisibility()
  useIntervalFn(() => {
    if (visible.value === 'visible') doing()
  }, EVERY_MS)
  watch(visible, (now) => {
    if (now === 'visible') doing()
  })
}
