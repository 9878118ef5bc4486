// @vitest-environment happy-dom
/* eslint-disable vue/one-component-per-file -- made for one test each */
import { mount } from '@vue/test-utils'
import { defineComponent, h, ref } from 'vue'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { useKeys, type KeyLine } from './useKeys'
import { useRoving } from './useRoving'

afterEach(() => {
  document.body.innerHTML = ''
})

describe('keys of a screen', () => {
  function screen(lines: KeyLine[], blocked = false) {
    return mount(
      defineComponent({
        setup() {
          useKeys(
            () => lines,
            () => blocked,
          )
          return () => h('div', [h('input', { type: 'text' }), h('input', { type: 'checkbox' }), h('select')])
        },
      }),
      { attachTo: document.body },
    )
  }
  const press = (from: Element, key: string, more: KeyboardEventInit = {}): KeyboardEvent => {
    const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more })
    from.dispatchEvent(event)
    return event
  }

  it('count everywhere but where something is typed or chosen', () => {
    const run = vi.fn()
    const wrapper = screen([{ keys: 'x', does: 'take off', run }])
    press(document.body, 'x')
    press(wrapper.get('input[type=checkbox]').element, 'x')
    press(wrapper.get('input[type=text]').element, 'x')
    press(wrapper.get('select').element, 'x')
    expect(run.mock.calls).toEqual([['x'], ['x']])
  })

  it('are the browser’s own with Ctrl, Alt or the command key, but for lines that ask for them', () => {
    const [off, undo] = [vi.fn(), vi.fn()]
    screen([
      { keys: 'z', does: 'fit', run: off },
      { keys: 'u', does: 'undo', when: (e) => e.ctrlKey && e.key === 'z', run: undo },
    ])
    expect(press(document.body, 'z', { ctrlKey: true }).defaultPrevented).toBe(true)
    expect(press(document.body, 'z', { metaKey: true }).defaultPrevented).toBe(false)
    expect(press(document.body, 'z', { altKey: true }).defaultPrevented).toBe(false)
    expect([off.mock.calls.length, undo.mock.calls.length]).toEqual([0, 1])
  })

  it('rest while a dialog is open, and are gone with the screen', () => {
    const run = vi.fn()
    screen([{ keys: 'x', does: 'take off', run }], true)
    press(document.body, 'x')
    const other = screen([{ keys: 'x', does: 'take off', run }])
    other.unmount()
    press(document.body, 'x')
    expect(run).not.toHaveBeenCalled()
  })
})

describe('arrow keys in a list', () => {
  function list() {
    const wrapper = mount(
      defineComponent({
        setup(_, { expose }) {
          const box = ref<HTMLElement | null>(null)
          const { onKeydown, focusOn } = useRoving(box)
          expose({ focusOn })
          return () =>
            h('ul', { ref: box, onKeydown }, [
              h('button', { 'data-rove': '', id: 'one' }, 'one'),
              h('input', { type: 'text', id: 'typed' }),
              h('button', { 'data-rove': '', id: 'off', disabled: true }, 'off'),
              h('button', { 'data-rove': '', id: 'two', class: 'wanted' }, 'two'),
            ])
        },
      }),
      { attachTo: document.body },
    )
    const vm = wrapper.vm as unknown as { focusOn: (selector?: string) => Promise<void> }
    return { wrapper, focusOn: vm.focusOn }
  }
  const at = (): string | undefined => document.activeElement?.id

  it('walk over what can be chosen, stop at the ends, and leave a text field alone', async () => {
    const { wrapper, focusOn } = list()
    await focusOn()
    expect(at()).toBe('one')
    await wrapper.get('#one').trigger('keydown', { key: 'ArrowUp' })
    expect(at()).toBe('one')
    await wrapper.get('#one').trigger('keydown', { key: 'ArrowDown' })
    expect(at()).toBe('two')
    await wrapper.get('#two').trigger('keydown', { key: 'ArrowDown' })
    expect(at()).toBe('two')
    wrapper.get<HTMLInputElement>('#typed').element.focus()
    await wrapper.get('#typed').trigger('keydown', { key: 'ArrowDown' })
    expect(at()).toBe('typed')
  })

  it('start at what is asked for, and nowhere when it is not there', async () => {
    const { focusOn } = list()
    await focusOn('.wanted')
    expect(at()).toBe('two')
    await focusOn('.missing')
    expect(at()).toBe('two')
  })
})
