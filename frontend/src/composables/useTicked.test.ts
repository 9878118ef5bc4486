import { describe, expect, it } from 'vitest'
import { nextTick, ref } from 'vue'
import { open } from '../testing/bench'
import { useTicked } from './useTicked'

describe('a list that is changed faster than it is read back', () => {
  it('builds on what was asked for, though an older state comes meanwhile', async () => {
    const server = ref(['a', 'b', 'c'])
    const sent: string[][] = []
    const { shown, put } = useTicked(
      () => server.value,
      (next) => {
        sent.push(next)
        return Promise.resolve(true)
      },
    )
    await put(shown.value.filter((x) => x !== 'a'))
    server.value = ['a', 'b', 'c']
    await nextTick()
    await put(shown.value.filter((x) => x !== 'b'))
    expect(sent).toEqual([['b', 'c'], ['c']])
    server.value = ['b', 'c']
    await nextTick()
    expect(shown.value).toEqual(['c'])
    server.value = ['c']
    await nextTick()
    server.value = ['c', 'd']
    await nextTick()
    expect(shown.value).toEqual(['c', 'd'])
  })

  it('goes back to what holds when it is refused', async () => {
    const asked = open<boolean>()
    const { shown, put } = useTicked(
      () => ['a'],
      () => asked.coming,
    )
    const done = put([])
    expect(shown.value).toEqual([])
    asked.come(false)
    await done
    expect(shown.value).toEqual(['a'])
  })
})
