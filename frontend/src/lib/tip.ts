import type { Directive, DirectiveBinding, VNode } from 'vue'

type Hook = 'mounted' | 'updated' | 'beforeUnmount'
type Bound<T = string> = [el: HTMLElement, binding: DirectiveBinding<T>, vnode: VNode]

interface Told {
  title: string
  id: string
}

let tooltip: Partial<Record<Hook, (...bound: Bound<Told>) => void>> | null = null
let coming: Promise<void> | null = null
const waiting = new Map<HTMLElement, Bound>()

function fetched(): Promise<void> {
  coming ??= new Promise<void>((done) => {
    ;(window.requestIdleCallback ?? setTimeout)(() => {
      done()
    })
  })
    .then(() => import('bootstrap-vue-next/directives/BTooltip'))
    .then((found) => {
      tooltip = found.vBTooltip as typeof tooltip
      for (const each of waiting.values()) call('mounted', each)
      waiting.clear()
    })
  return coming
}

/** Every tooltip is an application of its own to the library, so that names that are its own must be given. */
const names = new WeakMap<HTMLElement, string>()
let named = 0

function call(hook: Hook, [el, binding, vnode]: Bound): void {
  const id = names.get(el) ?? `tip-${++named}`
  names.set(el, id)
  const told = { ...binding, value: { title: binding.value, id }, oldValue: null }
  tooltip?.[hook]?.(el, told as unknown as DirectiveBinding<Told>, vnode)
}

/** What a button does, told when it is pointed at or has the focus. It comes once the screen is there and quiet. */
export const vTip: Directive<HTMLElement, string> = {
  mounted(...[el, binding, vnode]) {
    if (tooltip) call('mounted', [el, binding, vnode])
    else {
      waiting.set(el, [el, binding, vnode])
      void fetched()
    }
  },
  updated(...[el, binding, vnode]) {
    if (waiting.has(el)) waiting.set(el, [el, binding, vnode])
    else call('updated', [el, binding, vnode])
  },
  beforeUnmount(...[el, binding, vnode]) {
    if (!waiting.delete(el)) call('beforeUnmount', [el, binding, vnode])
  },
}
