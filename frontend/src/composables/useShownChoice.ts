import { useMutationObserver } from '@vueuse/core'
import type { Ref } from 'vue'

/** Keeps the chosen item of a row that scrolls sideways in sight, without moving the page. */
export function useShownChoice(row: Readonly<Ref<HTMLElement | null>>): void {
  useMutationObserver(
    row,
    () => {
      const item = row.value?.querySelector<HTMLElement>('.chosen')
      if (row.value && item)
        row.value.scrollLeft = item.offsetLeft - row.value.offsetLeft - (row.value.clientWidth - item.offsetWidth) / 2
    },
    { childList: true, subtree: true, attributes: true, attributeFilter: ['class'] },
  )
}
