import { describe, expect, it } from 'vitest'
import { daysOf, minutes, onClock, placed, type Stretch } from './days'

const at = (text: string): number => minutes(`2027-05-${text}`)
const day: Stretch[] = [
  { id: 'morning', from: at('03T09:00'), to: at('03T12:00') },
  { id: 'show', from: at('03T14:00'), to: at('03T16:00') },
  { id: 'night', from: at('03T22:00'), to: at('04T02:00') },
]
const told = (s: Stretch | null): string[] => (s ? [onClock(s.from).slice(8), onClock(s.to).slice(8)] : [])

describe('times on the clock of the job', () => {
  it('are read as they stand, whatever zone is written behind them', () => {
    expect(onClock(minutes('2027-03-28T09:00:00+02:00'))).toBe('2027-03-28T09:00')
    expect(onClock(minutes('2027-03-28T09:00:00+05:45') + 90)).toBe('2027-03-28T10:30')
  })
})

describe('a part that is moved', () => {
  it('goes in steps of five minutes', () => {
    expect(told(placed(day, 'show', at('03T14:07'), at('03T16:07')))).toEqual(['03T14:05', '03T16:05'])
  })

  it('keeps its length however unevenly it was pulled', () => {
    const by = (200 / 470) * 900 + 1 / 3
    const show = placed(day, 'show', at('03T14:00') + by, at('03T16:00') + by)
    expect((show?.to ?? 0) - (show?.from ?? 0)).toBe(120)
  })

  it('keeps its length and stops at its neighbours', () => {
    expect(told(placed(day, 'show', at('03T08:00'), at('03T10:00')))).toEqual(['03T12:00', '03T14:00'])
    expect(told(placed(day, 'show', at('03T21:00'), at('03T23:00')))).toEqual(['03T20:00', '03T22:00'])
    expect(told(placed(day, 'morning', at('02T09:00'), at('02T12:00')))).toEqual(['02T09:00', '02T12:00'])
  })

  it('is stretched to its neighbours and never shorter than a step', () => {
    expect(told(placed(day, 'show', at('03T14:00'), at('04T00:00')))).toEqual(['03T14:00', '03T22:00'])
    expect(told(placed(day, 'show', at('03T10:00'), at('03T16:00')))).toEqual(['03T12:00', '03T16:00'])
    expect(told(placed(day, 'show', at('03T17:00'), at('03T16:00')))).toEqual(['03T15:55', '03T16:00'])
    expect(told(placed(day, 'show', at('03T14:00'), at('03T13:00')))).toEqual(['03T14:00', '03T14:05'])
  })

  it('that is not there goes nowhere', () => {
    expect(placed(day, 'gone', 0, 10)).toBeNull()
  })
})

describe('days', () => {
  it('stand in order, and a night has a piece on each of its days', () => {
    const found = daysOf([...day].reverse())
    expect(found.map((d) => onClock(d.day).slice(0, 10))).toEqual(['2027-05-03', '2027-05-04'])
    expect(found[0]?.pieces.map((p) => p.id)).toEqual(['night', 'show', 'morning'])
    expect(found[1]?.pieces.map((p) => [p.id, p.to - p.from])).toEqual([['night', 120]])
  })

  it('that end at midnight have nothing on the next', () => {
    expect(daysOf([{ id: 'x', from: at('03T20:00'), to: at('04T00:00') }])).toHaveLength(1)
  })
})
