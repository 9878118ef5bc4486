import { mostUsed } from './places'
import { describe, expect, it } from 'vitest'
import { roundEnds } from './charts'
import { asNumber, groupsOf } from './fields'
import { clock, fixed, minuteOfDay, signed, weekday } from './format'
import { faceOf, FACES, newModel, newPort, sizeOf, withFace, withSize } from './models'
import { extent, FIT, fitSheet, ticks, zoomAt, zoomed } from './sheet'

describe('figures', () => {
  it('have a true minus, thin spaces, and no minus on what rounds to nothing', () => {
    expect(fixed(-1234567.26, 1)).toBe('\u22121\u202f234\u202f567.3')
    expect(fixed(-0.04, 1)).toBe('0.0')
    expect(signed(0.04, 1)).toBe('0.0')
    expect(signed(2, 0)).toBe('+2')
  })

  it("stay on the job's clock whatever the browser's zone is", () => {
    const moment = '2027-03-06T23:45:00+11:00'
    expect([clock(moment), minuteOfDay(moment), weekday(moment)]).toEqual(['23:45', 1425, 'Sat 6 Mar'])
  })
})

describe('a sheet', () => {
  const sheet = fitSheet([-100, 0, 300, 200], 800, 600, 40)

  it('holds its bounds, upwards positive', () => {
    expect(sheet.x(-100)).toBeGreaterThanOrEqual(40)
    expect(sheet.x(300)).toBeLessThanOrEqual(760)
    expect(sheet.y(200)).toBeLessThan(sheet.y(0))
  })

  it('keeps the point under the pointer where it is while it zooms', () => {
    const [h, v] = [120, 35]
    const [px, py] = [sheet.x(h), sheet.y(v)]
    const once = zoomAt(sheet, FIT, 1.7, px, py)
    const near = zoomed(sheet, zoomAt(sheet, once, 2.1, px, py))
    expect(near.x(h)).toBeCloseTo(px, 9)
    expect(near.y(v)).toBeCloseTo(py, 9)
    expect(near.scale).toBeCloseTo(sheet.scale * 1.7 * 2.1, 9)
  })

  it('has labels at least 34 px apart at every scale', () => {
    for (const scale of [0.05, 0.1, 0.3, 0.8, 2]) {
      const labelled = ticks(-500, 500, scale).filter((t) => t.labelled)
      for (const [i, tick] of labelled.slice(1).entries())
        expect((tick.mm - (labelled[i]?.mm ?? 0)) * scale).toBeGreaterThanOrEqual(34)
    }
  })

  it('is as large as what is drawn', () => {
    const outline = (...points: number[][]) => ({ points })
    expect(extent([outline([1, 2], [-3, 4]), outline([0, -7])])).toEqual([-3, -7, 1, 4])
    expect(extent([])).toBeNull()
  })
})

describe('the model editor', () => {
  it('grows a box about its middle, upwards from its floor', () => {
    const model = withSize(withSize(newModel(), 0, 100), 2, 90)
    expect(sizeOf(model)).toEqual([100, 40, 90])
    expect(model.shapes?.[0]).toMatchObject({
      block: [
        [-50, -20, 0],
        [50, 20, 90],
      ],
    })
    expect(withSize(model, 1, 0)).toBe(model)
  })

  it('puts a port in the middle of the face that is chosen', () => {
    const model = withSize(newModel(), 0, 100)
    const port = newPort([], model)
    for (const face of FACES) {
      const moved = withFace(port, face.name, model)
      expect(faceOf(moved)).toBe(face.name)
      expect(moved.at?.[face.axis]).toBe({ up: 40, down: 0, forward: 50, back: -50, left: 20, right: -20 }[face.name])
    }
  })
})

describe('fields', () => {
  it('reads numbers as people type them', () => {
    expect(asNumber(' 12,5 ')).toBe(12.5)
    expect(asNumber('')).toBeNull()
    expect(asNumber('1e999')).toBeNull()
    expect(asNumber('12 mm')).toBeNull()
  })

  it('puts choices into their groups, those without one first', () => {
    const groups = groupsOf<string>([{ value: 'a', text: 'A', group: 'g' }, 'b', { value: 'c', text: 'C', group: 'g' }])
    expect(groups.map((g) => [g.name, g.choices.map((c) => c.text)])).toEqual([
      ['', ['b']],
      ['g', ['A', 'C']],
    ])
  })
})

describe('axes', () => {
  it('ends on round steps that hold every value', () => {
    expect(roundEnds(12.92, 16.44)).toEqual([12, 17])
    expect(roundEnds(0, 1.62)).toEqual([0, 2])
    for (let i = 0; i < 200; i++) {
      const [low, high] = [Math.sin(i) * 10 ** (i % 5), Math.sin(i) * 10 ** (i % 5) + 0.01 * (i + 1)]
      const [from, to] = roundEnds(low, high)
      expect(from).toBeLessThanOrEqual(low)
      expect(to).toBeGreaterThanOrEqual(high)
      expect(to - from).toBeLessThanOrEqual(2 * (high - low))
    }
  })
})

describe('the places of a phone', () => {
  it('are the four most used, in working order', () => {
    expect(mostUsed({})).toEqual(['job', 'bench', 'balance', 'power'])
    expect(mostUsed({ shelf: 3, job: 1 })).toEqual(['job', 'shelf', 'bench', 'balance'])
    expect(mostUsed({ shelf: 9, power: 8, balance: 7, bench: 6, job: 5 })).toEqual([
      'shelf',
      'bench',
      'balance',
      'power',
    ])
  })
})
