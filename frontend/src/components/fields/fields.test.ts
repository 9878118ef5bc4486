// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { nextTick } from 'vue'
import { describe, expect, it, vi } from 'vitest'
import { open } from '../../testing/bench'
import ChoiceField from './ChoiceField.vue'
import NumberField from './NumberField.vue'
import TextField from './TextField.vue'

async function settled(): Promise<void> {
  await new Promise((done) => setTimeout(done))
  await nextTick()
}

describe('a number that is told when it is left', () => {
  const field = (commit: (value: number) => unknown) => {
    const wrapper = mount(NumberField, { props: { modelValue: 12, commit } })
    const input = wrapper.get('input')
    const leave = async (typed: string): Promise<void> => {
      input.element.value = typed
      await input.trigger('input')
      await input.trigger('change')
      await input.trigger('blur')
      await settled()
    }
    return { wrapper, input, leave }
  }

  it('is told once, as a number', async () => {
    const commit = vi.fn()
    const { leave } = field(commit)
    await leave('12.5')
    expect(commit.mock.calls).toEqual([[12.5]])
  })

  it('goes back to what holds when it is refused', async () => {
    const { input, leave } = field(() => Promise.resolve(false))
    await leave('99')
    expect(input.element.value).toBe('12')
  })

  it('goes back when nothing readable was typed, and tells nothing', async () => {
    const commit = vi.fn()
    const { input, leave } = field(commit)
    await leave('')
    expect([input.element.value, commit.mock.calls.length]).toEqual(['12', 0])
  })

  it('may be emptied where that means something, and goes back when that is refused', async () => {
    const [commit, clear] = [vi.fn(), vi.fn().mockResolvedValueOnce(true).mockResolvedValueOnce(false)]
    const wrapper = mount(NumberField, { props: { modelValue: 12, optional: true, commit, clear } })
    const input = wrapper.get('input')
    for (const shown of ['', '12']) {
      input.element.value = ''
      await input.trigger('input')
      await input.trigger('change')
      await settled()
      expect(input.element.value).toBe(shown)
    }
    expect([commit.mock.calls.length, clear.mock.calls.length]).toEqual([0, 2])
  })

  it('is not taken away by a picture that arrives while it is typed', async () => {
    const { wrapper, input } = field(() => true)
    input.element.value = '1'
    await input.trigger('input')
    await wrapper.setProps({ modelValue: 40 })
    expect(input.element.value).toBe('1')
    await input.trigger('blur')
    await wrapper.setProps({ modelValue: 41 })
    expect(input.element.value).toBe('41')
  })
})

describe('a number of a form', () => {
  it('is told as it is typed; an empty one only where it may be', async () => {
    const wrapper = mount(NumberField, { props: { modelValue: 3 } })
    const input = wrapper.get('input')
    await input.setValue('4')
    await input.setValue('')
    expect(wrapper.emitted('update:modelValue')).toEqual([[4]])
    expect(input.attributes('required')).toBeDefined()
    const optional = mount(NumberField, { props: { modelValue: 3, optional: true } })
    await optional.get('input').setValue('')
    expect(optional.emitted('update:modelValue')).toEqual([[null]])
    expect(optional.get('input').attributes('required')).toBeUndefined()
  })

  it('keeps what is typed while it means the same', async () => {
    const wrapper = mount(NumberField, {
      props: {
        modelValue: 3,
        'onUpdate:modelValue': (value: unknown) => void wrapper.setProps({ modelValue: value as number }),
      },
    })
    const input = wrapper.get('input')
    await input.setValue('4.0')
    expect(input.element.value).toBe('4.0')
  })
})

describe('a choice', () => {
  const choices = [
    { value: 'a', text: 'first', group: 'one' },
    { value: 'b', text: 'second', group: 'one' },
    'none',
  ] as const

  it('stands in its group, those without one first', () => {
    const wrapper = mount(ChoiceField<string>, { props: { modelValue: 'a', choices } })
    expect(wrapper.findAll('option').map((o) => o.text())).toEqual(['none', 'first', 'second'])
    expect(wrapper.findAll('optgroup').map((g) => g.attributes('label'))).toEqual(['one'])
  })

  it('that is refused goes back to what holds', async () => {
    const answer = open<boolean>()
    const wrapper = mount(ChoiceField<string>, { props: { modelValue: 'a', choices, commit: () => answer.coming } })
    await wrapper.get('select').setValue('b')
    expect(wrapper.get('select').element.value).toBe('b')
    answer.come(false)
    await settled()
    expect(wrapper.get('select').element.value).toBe('a')
    expect(wrapper.emitted('update:modelValue')).toBeUndefined()
  })

  it('follows what comes from elsewhere', async () => {
    const wrapper = mount(ChoiceField<string>, { props: { modelValue: 'a', choices } })
    await wrapper.setProps({ modelValue: 'none' })
    expect(wrapper.get('select').element.value).toBe('none')
  })
})

it('a line of text loses the blanks around it when it is left', async () => {
  const wrapper = mount(TextField, { props: { modelValue: '' } })
  const input = wrapper.get('input')
  await input.setValue('  tail lamp ')
  await wrapper.setProps({ modelValue: '  tail lamp ' })
  await input.trigger('change')
  expect(wrapper.emitted('update:modelValue')?.at(-1)).toEqual(['tail lamp'])
})
