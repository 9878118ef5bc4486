import { nextTick, type Ref } from 'vue'

/** Arrow keys move the focus among the `[data-rove]` elements of a container, in the order of the page. */
export function useRoving(container: Readonly<Ref<HTMLElement | null>>) {
  const stops = (): HTMLElement[] => [
    ...(container.value?.querySelectorAll<HTMLElement>('[data-rove]:not(:disabled)') ?? []),
  ]

  function onKeydown(event: KeyboardEvent): void {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (!step || event.target instanceof HTMLInputElement || event.target instanceof HTMLSelectElement) return
    const all = stops()
    const at = all.findIndex((stop) => stop === document.activeElement)
    const next = all[at < 0 ? 0 : Math.min(Math.max(at + step, 0), all.length - 1)]
    if (!next) return
    event.preventDefault()
    event.stopPropagation()
    next.focus()
    next.scrollIntoView({ block: 'nearest' })
  }

  async function focusOn(selector?: string): Promise<void> {
    await nextTick()
    const found = selector ? container.value?.querySelector<HTMLElement>(selector) : stops()[0]
    found?.focus()
    found?.scrollIntoView({ block: 'nearest' })
  }

  return { onKeydown, focusOn }
}
