import { describe, expect, it } from 'vitest'
import { changedIn, problemsUnder, tidy } from './gear'

describe('a document that is edited', () => {
  it('tells only what is not as it was, emptied fields too', () => {
    const was = { x_m: 1, label: 'Mast', lux_1m: 3000, sees: ['a'] }
    expect(changedIn(was, { ...was })).toEqual({})
    expect(changedIn(was, { ...was, x_m: 2, lux_1m: null })).toEqual({ x_m: 2, lux_1m: null })
    expect(changedIn(was, { ...was, sees: ['a'] })).toEqual({})
    expect(changedIn(was, { ...was, sees: ['a', 'b'] })).toEqual({ sees: ['a', 'b'] })
    expect(changedIn({}, was)).toEqual(was)
  })
  it('leaves out what is not there, however deep', () => {
    expect(tidy({ a: null, b: { c: null, d: 1 }, e: [{ f: null }, 2] })).toEqual({ b: { d: 1 }, e: [{}, 2] })
  })
  it('has its problems at its own fields', () => {
    const problems = [
      { path: '$.a', message: 'no' },
      { path: '$.a.b', message: 'neither' },
    ]
    expect(problemsUnder(problems, '$.a')).toEqual(['no'])
  })
})
