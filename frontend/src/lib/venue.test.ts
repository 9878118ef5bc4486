import { describe, expect, it } from 'vitest'
import { gridOf, labelsAt, scaledPicture, spanOf, wedgePath } from './venue'

describe('the picture under the plan', () => {
  it('is as wide as two points that are so far apart make it, and the first stays where it is', () => {
    const picture = { id: 'p', width_m: 40, x_m: 10, y_m: 0 }
    const [a, b] = [
      { x: 0, y: 0 },
      { x: 20, y: 0 },
    ]
    const after = scaledPicture(picture, a, b, 30)
    expect(after).toMatchObject({ width_m: 60, x_m: 15, y_m: 0 })
    const share = (p: { width_m: number; x_m?: number }, x: number): number => (x - (p.x_m ?? 0)) / p.width_m
    expect(share(after, 0)).toBeCloseTo(share(picture, 0))
    expect(share(after, 30)).toBeCloseTo(share(picture, 20))
  })
  it('stays as it is for one point twice or no distance', () => {
    const picture = { width_m: 40 }
    expect(scaledPicture(picture, { x: 1, y: 1 }, { x: 1, y: 1 }, 5)).toBe(picture)
    expect(scaledPicture(picture, { x: 1, y: 1 }, { x: 2, y: 1 }, 0)).toBe(picture)
  })
})

describe('names on the plan', () => {
  it('lie on no other while there is room beside their things', () => {
    const all = ['Mast', 'Stage', 'Winch'].map((text, i) => ({ key: text, x: 0.2 * i, y: 0.1 * i, text }))
    const found = labelsAt(all, 0.05)
    const boxes = all.map((n) => {
      const l = found.get(n.key)
      const wide = n.text.length * 13 * 0.56 * 0.05
      const left = l?.anchor === 'end' ? l.x - wide : (l?.x ?? 0)
      return [left, (l?.y ?? 0) - 0.65, left + wide, l?.y ?? 0] as const
    })
    boxes.forEach((a, i) =>
      boxes.slice(i + 1).forEach((b) => {
        expect(a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3]).toBe(false)
      }),
    )
  })
  it('stand where they usually do when nothing is near', () => {
    const found = labelsAt([{ key: 'a', x: 5, y: 5, text: 'Mast' }], 0.1)
    expect(found.get('a')).toEqual({ x: 5.9, y: 4.2, anchor: 'start' })
  })
})

describe('the plan', () => {
  it('shows all of a turned thing, with room', () => {
    const span = spanOf([{ id: 'a', label: 'a', kind: 'lane', width_m: 100, depth_m: 2, turn_deg: 90 }], [])
    expect(span.height).toBeGreaterThan(100)
    expect(span.y).toBeLessThan(-50)
    expect(span.width).toBe(24)
  })
  it('has lines a round number of metres apart', () => {
    for (const length of [7, 24, 61, 350]) {
      const { step, at } = gridOf(-3, length)
      expect([1, 2, 5]).toContain(Number((step / 10 ** Math.floor(Math.log10(step))).toFixed(6)))
      expect(at.length).toBeLessThanOrEqual(13)
      expect(at.every((x) => x >= -3 && x <= -3 + length + 1e-9)).toBe(true)
    }
  })
  it('draws a wedge over half a circle the long way round', () => {
    expect(wedgePath(0, 0, 0, 200, 5)).toContain('A5 5 0 1 0')
    expect(wedgePath(0, 0, 0, 40, 5)).toContain('A5 5 0 0 0')
  })
})
