import { describe, expect, it } from 'vitest'
import type { SettingInfo } from '../api/schema.gen'
import { linesOf, rangeOf, withLine, withoutRow, withRow } from './settings'

const USUAL = {
  reserve: 0.1,
  adapter_min_mm: 6,
  currency: 'EUR',
  attitudes: { head: [30, 0] },
  move_accel: [2, 5, 10],
  moves: { 'level work': { tilt_deg: [-30, 30], lean_deg: 30 } },
  grips: { close: { on: ['hand', 'gimbal'], arms: 2 } },
}
const info = (key: string, more: Partial<SettingInfo> = {}): SettingInfo => ({
  key,
  label: key.replaceAll('_', ' '),
  bears_on: '',
  source: '',
  unit: '',
  low: null,
  high: null,
  choices: [],
  ...more,
})
const INFOS = [
  ...['reserve', 'adapter_min_mm', 'currency', 'attitudes', 'move_accel'],
  ...['moves.tilt_deg', 'moves.lean_deg', 'grips.on', 'grips.arms'],
].map((key) => info(key))

describe('settings as lines', () => {
  const own = { ...USUAL, reserve: 0.2, moves: { ...USUAL.moves, 'my own': { lean_deg: 5 } } }
  const lines = linesOf(own, USUAL, INFOS)
  const of = (name: string) => lines.find((l) => l.name === name)

  it('have their names and what is usual, whatever their depth', () => {
    expect(of('reserve')).toMatchObject({ value: 0.2, usual: 0.1 })
    expect(of('attitudes, head, tilt')).toMatchObject({ value: 30 })
    expect(of('move accel, hard')).toMatchObject({ value: 10 })
    expect(of('moves.tilt deg, level work, to')).toMatchObject({ value: 30 })
    expect(of('grips.on, close')).toMatchObject({ value: ['hand', 'gimbal'] })
    expect(of('currency')).toMatchObject({ value: 'EUR' })
    expect(lines).toHaveLength(14)
  })

  it('that are not in the usual ones have no usual figure', () => {
    expect(of('moves.lean deg, my own')).toMatchObject({ value: 5, usual: null })
  })

  it('are changed one at a time, and the rest stays', () => {
    const next = withLine(USUAL, of('moves.tilt deg, level work, to')?.path ?? [], 45)
    expect(next.moves['level work'].tilt_deg).toEqual([-30, 45])
    expect(USUAL.moves['level work'].tilt_deg).toEqual([-30, 30])
    expect({ ...next, moves: USUAL.moves }).toEqual(USUAL)
  })

  it('get rows and lose them', () => {
    const more = withRow(USUAL, 'moves', 'from a boat')
    expect(Object.keys(more.moves)).toEqual(['level work', 'from a boat'])
    expect(withoutRow(more, 'moves', 'from a boat')).toEqual(USUAL)
  })

  it('say their range', () => {
    expect(rangeOf(info('a', { low: 0, high: 0.9 }))).toBe('0 to 0.9')
    expect(rangeOf(info('a', { low: 1, high: 1e6 }))).toBe('1 or more')
    expect(rangeOf(info('a'))).toBe('')
  })
})
