import { describe, expect, it } from 'vitest'
import { freshId } from './ids'

describe('a fresh id', () => {
  it('counts on, and past what is there already', () => {
    expect(freshId('cost', [])).toEqual({ id: 'cost-1', number: 1 })
    expect(freshId('cost', ['music'])).toEqual({ id: 'cost-2', number: 2 })
    expect(freshId('cost', ['cost-2', 'cost-3'])).toEqual({ id: 'cost-4', number: 4 })
  })
})
