import { describe, expect, it } from 'vitest'
import { boxBetween, flatOf, inSpace, onReference, outlineOf, pointedAt, scaledPhoto, VIEWS } from './pointing'

const [SIDE, FRONT, TOP] = VIEWS
const BLOCK = {
  block: [[-20, -30, 0] as [number, number, number], [40, 30, 80] as [number, number, number]] as [
    [number, number, number],
    [number, number, number],
  ],
}
const BARREL = {
  barrel: [
    [0, 0, 0],
    [100, 0, 0],
  ] as [[number, number, number], [number, number, number]],
  radius_mm: 35,
}

describe('a point of a view', () => {
  it.each(VIEWS)('is the same point in space again ($name)', (view) => {
    const at = [12.5, -7, 33]
    expect(inSpace(view, flatOf(view, at), at)).toEqual(at)
  })
  it('keeps its depth', () => {
    expect(inSpace(SIDE, { u: -10, v: -20 }, [1, 2, 3])).toEqual([10, 2, 20])
    expect(inSpace(FRONT, { u: 5, v: -6 }, [1, 2, 3])).toEqual([1, 5, 6])
    expect(inSpace(TOP, { u: 5, v: 6 }, [1, 2, 3])).toEqual([-5, 6, 3])
  })
})

describe('a solid', () => {
  it('is seen as its corners, a barrel as wide as it is', () => {
    expect(outlineOf(SIDE, BLOCK)).toEqual({ left: -40, right: 20, top: -80, bottom: 0 })
    expect(outlineOf(SIDE, BARREL)).toMatchObject({ left: -100, top: -35, bottom: 35 })
    expect(outlineOf(FRONT, BARREL)).toEqual({ left: -35, right: 35, top: -35, bottom: 35 })
  })
  it('is made from two corners, whichever are pointed at', () => {
    const made = boxBetween(SIDE, { u: 10, v: -50 }, { u: -30, v: -10 }, BLOCK)
    expect(made).toEqual({
      block: [
        [-10, -30, 10],
        [30, 30, 50],
      ],
    })
    expect(boxBetween(TOP, { u: 0, v: 0 }, { u: -8, v: 9 }, undefined)).toEqual({
      block: [
        [0, 0, -20],
        [8, 9, 20],
      ],
    })
  })
})

describe('pointing', () => {
  it('at an edge means the face behind it', () => {
    expect(pointedAt(SIDE, [BLOCK], { u: -39, v: -40 }, 3)).toEqual({ at: { u: -40, v: -40 }, face: 'forward' })
    expect(pointedAt(SIDE, [BLOCK], { u: 0, v: -81 }, 3)).toEqual({ at: { u: 0, v: -80 }, face: 'up' })
    expect(pointedAt(SIDE, [BLOCK], { u: 21, v: -10 }, 3)).toMatchObject({ face: 'back' })
    expect(pointedAt(FRONT, [BLOCK], { u: 29.5, v: -40 }, 3)).toMatchObject({ face: 'left' })
    expect(pointedAt(TOP, [BLOCK], { u: 0, v: -31 }, 3)).toMatchObject({ face: 'right' })
  })
  it('into the middle means the face that is looked at', () => {
    expect(pointedAt(SIDE, [BLOCK], { u: -10, v: -40 }, 3)).toEqual({ at: { u: -10, v: -40 }, face: 'left' })
    expect(pointedAt(TOP, [BLOCK], { u: -10, v: 0 }, 3).face).toBe('up')
    expect(pointedAt(FRONT, [BLOCK], { u: 0, v: -40 }, 3).face).toBe('forward')
  })
})

describe('a photo under the drawing', () => {
  it('is scaled by two points, the first of which stays', () => {
    const photo = scaledPhoto({ u: -50, v: -50, width: 100 }, { u: 0, v: 0 }, { u: 20, v: 0 }, 60)
    expect(photo).toEqual({ u: -150, v: -150, width: 300 })
    expect(scaledPhoto(photo, { u: 1, v: 1 }, { u: 1, v: 1 }, 9)).toBe(photo)
  })
  it('is moved so that a point of it is the reference', () => {
    expect(onReference({ u: -50, v: -50, width: 100 }, { u: 12, v: -8 })).toEqual({ u: -62, v: -42, width: 100 })
  })
})
