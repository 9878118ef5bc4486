import { Matrix4, Vector3, type LineSegments, type Mesh } from 'three'
import { describe, expect, it } from 'vitest'
import type { Space, SpacePiece } from '../api/schema.gen'
import { build, hitAt, LEVEL, subtree, tube, turnAbout, turned, type Colours } from './space'

const EYE: SpacePiece['rotation'] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
]
const piece = (unit: string, parent: string | null, more: Partial<SpacePiece> = {}): SpacePiece => ({
  unit,
  kind: 'thing',
  parent,
  step: parent ? 1 : 0,
  turns_with: 'tilt',
  at_mm: [0, 0, 0],
  rotation: EYE,
  shapes: [
    {
      look: 'body',
      block: [
        [-10, -10, -10],
        [10, 10, 10],
      ],
    },
  ],
  pull: [0, 0, parent ? 1 : 0],
  ...more,
})
const SPACE: Space = {
  pieces: [
    piece('body', null),
    piece('lens', 'body', {
      kind: 'lens',
      step: 2,
      pull: [1, 0, 0],
      shapes: [
        {
          look: 'soft',
          barrel: [
            [10, 0, 0],
            [60, 0, 0],
          ],
          radius_mm: 20,
          end_radius_mm: 25,
        },
      ],
    }),
    piece('filter', 'lens', { step: 3, pull: [2, 0, 0], at_mm: [60, 0, 0] }),
    piece('handle', 'gimbal', { turns_with: 'fixed', step: 4 }),
  ],
  hinges: [],
  cables: [
    {
      cable: 'cord',
      ends_mm: [
        [0, 0, 0],
        [100, 0, 0],
      ],
      faces: [
        [0, 0, 1],
        [0, 0, 1],
      ],
      units: ['body', 'handle'],
      turns_with: ['tilt', 'fixed'],
      length_mm: 200,
      sag_mm: 61,
      thick_mm: 5,
    },
  ],
  ports: [
    {
      unit: 'body',
      port: 'top',
      label: 'top',
      at_mm: [0, 0, 10],
      faces: [0, 0, 1],
      free: true,
      socket: false,
      turns_with: 'tilt',
    },
  ],
  axes: [
    {
      axis: 'tilt',
      through_mm: [0, 0, 0],
      along: [0, 1, 0],
      low_deg: -70,
      high_deg: 79,
      low_hits: ['lens', 'the roll arm'],
      high_hits: ['lens', 'screen'],
      range_deg: [-120, 120],
    },
    {
      axis: 'pan',
      through_mm: [100, 0, 0],
      along: [0, 0, 1],
      low_deg: -180,
      high_deg: 180,
      low_hits: null,
      high_hits: null,
      range_deg: [-120, 120],
    },
  ],
  cg_mm: [5, 0, 0],
  cg_sd_mm: [2, 2, 2],
  runs: {},
  clashes: [],
  low_mm: [-10, -25, -25],
  high_mm: [70, 25, 25],
}
const COLOURS = Object.fromEntries(
  ['body', 'metal', 'glass', 'screen', 'soft', 'accent', 'line', 'mark', 'stop', 'watch', 'cable'].map((k) => [
    k,
    '#123456',
  ]),
) as Colours
const at = (m: Matrix4, x: number, y: number, z: number): number[] =>
  new Vector3(x, y, z)
    .applyMatrix4(m)
    .toArray()
    .map((v) => Math.round(v * 1e6) / 1e6 + 0)

describe('the rig in space', () => {
  it('turns right-handed: a positive tilt puts the lens down', () => {
    expect(at(turnAbout([0, 0, 0], [0, 1, 0], 90), 50, 0, 0)).toEqual([0, 0, -50])
    expect(at(turnAbout([10, 0, 0], [0, 0, 1], 90), 20, 0, 0)).toEqual([10, 10, 0])
  })

  it('turns the inner axis with the outer ones, about where they then are', () => {
    const both = { ...LEVEL, tilt: 90, pan: 90 }
    // Tilt takes (50, 0, 0) to (0, 0, −50); pan about x = 100 takes that to (100, −100, −50).
    expect(at(turned(SPACE, 'tilt', both), 50, 0, 0)).toEqual([100, -100, -50])
    expect(at(turned(SPACE, 'pan', both), 50, 0, 0)).toEqual([100, -50, 0])
    expect(at(turned(SPACE, 'fixed', both), 50, 0, 0)).toEqual([50, 0, 0])
  })

  it('says what meets first, and only beyond where it meets', () => {
    expect(hitAt(SPACE, LEVEL)).toBeNull()
    expect(hitAt(SPACE, { ...LEVEL, tilt: 79 })).toBeNull()
    expect(hitAt(SPACE, { ...LEVEL, tilt: 80 })).toEqual({ axis: 'tilt', pair: ['lens', 'screen'], deg: 79 })
    expect(hitAt(SPACE, { ...LEVEL, pan: 180 })).toBeNull()
  })

  it('knows what hangs on a part', () => {
    expect([...subtree(SPACE.pieces, 'lens')]).toEqual(['lens', 'filter'])
    expect(subtree(SPACE.pieces, 'body').has('handle')).toBe(false)
  })

  it('moves things apart along their ports, hides what comes later, and marks what is chosen or hit', () => {
    const made = build(SPACE, COLOURS)
    const group = (unit: string) => made.pick.find((o) => o.userData.unit === unit)?.parent
    made.pose(LEVEL, 1, 4, null)
    made.root.updateMatrixWorld(true)
    const far = new Vector3().setFromMatrixPosition(group('filter')?.matrixWorld ?? new Matrix4())
    const near = new Vector3().setFromMatrixPosition(group('lens')?.matrixWorld ?? new Matrix4())
    expect(far.x - 60).toBeCloseTo(2 * near.x)
    expect(near.x).toBeGreaterThan(50)
    made.pose(LEVEL, 0, 2, null)
    expect(group('lens')?.visible).toBe(true)
    expect(group('filter')?.visible).toBe(false)
    expect(made.pick.find((o) => o.userData.unit === 'cord')?.visible).toBe(false)
    made.mark('body', { lens: 'watch' }, ['filter'])
    const colour = (unit: string) =>
      (group(unit)?.children.find((c) => (c as LineSegments).isLineSegments) as LineSegments | undefined)?.material
    expect(colour('body')).not.toBe(colour('lens'))
    expect(colour('filter')).not.toBe(colour('lens'))
    made.showPorts('body')
    expect(made.root.children.filter((o) => o.userData.port && o.visible)).toHaveLength(1)
    made.showPorts('lens')
    expect(made.root.children.filter((o) => o.userData.port && o.visible)).toHaveLength(0)
    made.free()
  })

  it('slides what is dragged with everything on it', () => {
    const made = build(SPACE, COLOURS)
    made.pose(LEVEL, 0, 9, { units: subtree(SPACE.pieces, 'lens'), by: new Matrix4().makeTranslation(0, 0, 12) })
    const z = (unit: string) =>
      (made.pick.find((o) => o.userData.unit === unit)?.parent?.matrix.elements[14] ?? NaN) + 0
    expect([z('body'), z('lens'), z('filter')]).toEqual([0, 12, 12])
    made.free()
  })

  it('lets a cable hang in the middle as far as its slack lets it', () => {
    const cable = SPACE.cables[0]
    if (!cable) throw new Error('no cable')
    const hung = tube(cable, new Vector3(0, 0, 0), new Vector3(100, 0, 0))
    hung.computeBoundingBox()
    expect(hung.boundingBox?.min.z).toBeCloseTo(-61 - 2.5, 0)
    expect((build(SPACE, COLOURS).pick[0] as Mesh).isMesh).toBe(true)
  })
})
