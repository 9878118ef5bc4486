import { useEventListener } from '@vueuse/core'

export interface KeyLine {
  keys: string
  does: string
  run: (key: string) => unknown
  /** Tells whether this key press is meant; `keys` itself by default. */
  when?: (event: KeyboardEvent) => boolean
}

/** Keys of the whole screen; not while something is typed, a dialog is open, or a browser key is meant. */
export function useKeys(lines: () => readonly KeyLine[], blocked: () => boolean): void {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    const target = event.target as HTMLElement
    if (event.altKey || target.matches('input:not([type=checkbox], [type=radio]), select, textarea') || blocked())
      return
    const plain = !event.ctrlKey && !event.metaKey
    const line = lines().find((l) => (l.when ? l.when(event) : plain && l.keys === event.key))
    if (!line) return
    event.preventDefault()
    line.run(event.key)
  })
}
