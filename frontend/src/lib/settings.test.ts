import { describe, expect, it } from 'vitest'
import { linesOf, withLine } from './settings'

const USUAL = {
  reserve: 0.1,
  adapter_min_mm: 6,
  currency: 'EUR',
  attitudes: { head: [30, 0] },
  move_accel: [2, 5, 10],
  moves: { 'level work': { tilt_deg: [-30, 30], lean_deg: 30 } },
  shake_m_s2: { walking: 3 },
}

describe('settings as lines', () => {
  const lines = linesOf({ ...USUAL, reserve: 0.2, moves: { ...USUAL.moves, 'my own': { lean_deg: 5 } } }, USUAL)
  const of = (name: string) => lines.find((l) => l.name === name)

  it('have their names, units and what is usual', () => {
    expect(of('reserve')).toMatchObject({ value: 0.2, usual: 0.1, unit: '' })
    expect(of('adapter min')).toMatchObject({ value: 6, usual: 6, unit: 'mm' })
    expect(of('attitudes, head, from')).toMatchObject({ value: 30 })
    expect(of('move accel, 3')).toMatchObject({ value: 10 })
    expect(of('moves, level work, tilt, to')).toMatchObject({ value: 30, unit: '°' })
    expect(of('shake, walking')).toMatchObject({ value: 3, unit: 'm/s²' })
    expect(of('currency')).toMatchObject({ value: 'EUR' })
  })

  it('that are not in the usual ones have no usual figure', () => {
    expect(of('moves, my own, lean')).toMatchObject({ value: 5, usual: null })
  })

  it('are changed one at a time, and the rest stays', () => {
    const line = of('moves, level work, tilt, to')
    const next = withLine(USUAL, line?.path ?? [], 45)
    expect(next.moves['level work'].tilt_deg).toEqual([-30, 45])
    expect(USUAL.moves['level work'].tilt_deg).toEqual([-30, 30])
    expect({ ...next, moves: USUAL.moves }).toEqual(USUAL)
  })
})
