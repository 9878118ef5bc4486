/** The field in which something is typed that was not taken over yet. */
let under: HTMLElement | null = null
const waiting: (() => void)[] = []

/** Notices what is being typed anywhere on the page; once, when the application starts. */
export function watchTyping(): void {
  document.addEventListener(
    'input',
    ({ target }) => {
      if (target instanceof HTMLTextAreaElement || (target instanceof HTMLInputElement && target.type !== 'checkbox'))
        under = target
    },
    true,
  )
  document.addEventListener(
    'focusout',
    ({ target }) => {
      if (target !== under) return
      under = null
      for (const go of waiting.splice(0)) go()
    },
    true,
  )
}

/** When nobody types here any more: what others changed does not slip in under somebody's hand. */
export function notTyping(): Promise<void> {
  if (!under?.isConnected) return Promise.resolve()
  return new Promise((go) => waiting.push(go))
}
