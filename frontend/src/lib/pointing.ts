/** Pointing on a thing from one side: what is seen of its solids, and where a point of that view is in space. */
import type { GearModel } from '../api/schema.gen'
import { FACES } from './models'

type Vec = [number, number, number]
export type ViewName = 'side' | 'front' | 'top'
export interface View {
  name: ViewName
  /** Axis to the right and axis down, each with its sense; the third axis points at who looks. */
  across: { axis: 0 | 1 | 2; sign: 1 | -1 }
  down: { axis: 0 | 1 | 2; sign: 1 | -1 }
  toward: { axis: 0 | 1 | 2; sign: 1 | -1 }
}

/** As the elevations are drawn: forward to the left from the side and from above, the operator's left on the right from the front. */
export const VIEWS: readonly [View, View, View] = [
  { name: 'side', across: { axis: 0, sign: -1 }, down: { axis: 2, sign: -1 }, toward: { axis: 1, sign: 1 } },
  { name: 'front', across: { axis: 1, sign: 1 }, down: { axis: 2, sign: -1 }, toward: { axis: 0, sign: 1 } },
  { name: 'top', across: { axis: 0, sign: -1 }, down: { axis: 1, sign: 1 }, toward: { axis: 2, sign: 1 } },
]

export const viewNamed = (name: ViewName): View => VIEWS.find((v) => v.name === name) ?? VIEWS[0]

export interface Flat {
  u: number
  v: number
}
export interface Outline {
  left: number
  top: number
  right: number
  bottom: number
}

export const flatOf = (view: View, at: readonly number[]): Flat => ({
  u: (at[view.across.axis] ?? 0) * view.across.sign,
  v: (at[view.down.axis] ?? 0) * view.down.sign,
})

/** A point of a view in space; how deep it lies stays as it was. */
export function inSpace(view: View, flat: Flat, before: readonly number[]): Vec {
  const at: Vec = [before[0] ?? 0, before[1] ?? 0, before[2] ?? 0]
  at[view.across.axis] = clean(flat.u * view.across.sign)
  at[view.down.axis] = clean(flat.v * view.down.sign)
  return at
}
const clean = (mm: number): number => Math.round(mm * 2) / 2 + 0

type Shape = NonNullable<GearModel['shapes']>[number]
/** What is seen of a solid, as an upright rectangle. */
export function outlineOf(view: View, shape: Shape): Outline {
  const [a, b] = ('block' in shape ? shape.block : shape.barrel) as [Vec, Vec]
  const grown = 'block' in shape ? 0 : shape.radius_mm
  const along = 'block' in shape ? -1 : longest(a, b)
  const ends = [a, b].map((p) => flatOf(view, p))
  const [su, sv] = [view.across.axis === along ? 0 : grown, view.down.axis === along ? 0 : grown]
  return {
    left: Math.min(...ends.map((e) => e.u)) - su,
    right: Math.max(...ends.map((e) => e.u)) + su,
    top: Math.min(...ends.map((e) => e.v)) - sv,
    bottom: Math.max(...ends.map((e) => e.v)) + sv,
  }
}
function longest(a: Vec, b: Vec): number {
  const d = a.map((x, i) => Math.abs((b[i] ?? 0) - x))
  return d.indexOf(Math.max(...d))
}

export interface Pointed {
  at: Flat
  /** The face that was meant, by its name among FACES; none: the one that is looked at. */
  face: string
}
/** A point drawn to the nearest edge of a solid within reach; pointing into a solid means the face that is looked at. */
export function pointedAt(view: View, shapes: readonly Shape[], flat: Flat, reach: number): Pointed {
  let best: { off: number; at: Flat; axis: 0 | 1 | 2; high: boolean } | null = null
  for (const shape of shapes) {
    const o = outlineOf(view, shape)
    const within = (x: number, low: number, high: number): boolean => x >= low - reach && x <= high + reach
    const tries = [
      { u: o.left, along: 'u' as const, low: true },
      { u: o.right, along: 'u' as const, low: false },
      { u: o.top, along: 'v' as const, low: true },
      { u: o.bottom, along: 'v' as const, low: false },
    ]
    for (const t of tries) {
      const off = Math.abs((t.along === 'u' ? flat.u : flat.v) - t.u)
      const beside = t.along === 'u' ? within(flat.v, o.top, o.bottom) : within(flat.u, o.left, o.right)
      if (!beside || off > reach || (best && off >= best.off)) continue
      const way = t.along === 'u' ? view.across : view.down
      const at = t.along === 'u' ? { u: t.u, v: flat.v } : { u: flat.u, v: t.u }
      best = { off, at, axis: way.axis, high: (way.sign === 1) !== t.low }
    }
  }
  if (best) return { at: best.at, face: faceNamed(best.axis, best.high) }
  return { at: flat, face: faceNamed(view.toward.axis, view.toward.sign === 1) }
}
const faceNamed = (axis: 0 | 1 | 2, high: boolean): string =>
  FACES.find((f) => f.axis === axis && f.high === high)?.name ?? 'up'

/** A box from two of its corners in a view; as deep as the one before, or 40 mm about the middle. */
export function boxBetween(view: View, a: Flat, b: Flat, like: Shape | undefined): Shape {
  const deep = view.toward.axis
  const old = like && 'block' in like ? (like.block as [Vec, Vec]) : null
  const low = inSpace(view, a, [0, 0, 0])
  const high = inSpace(view, b, [0, 0, 0])
  low[deep] = old?.[0][deep] ?? -20
  high[deep] = old?.[1][deep] ?? 20
  const sorted = low.map((x, i): [number, number] => [Math.min(x, high[i] ?? 0), Math.max(x, high[i] ?? 0)])
  return { block: [sorted.map((p) => p[0]) as Vec, sorted.map((p) => p[1]) as Vec] }
}

/** A photo under the drawing: its left upper corner and width in mm of the view. */
export interface Photo {
  u: number
  v: number
  width: number
}
/** The photo after two of its points were said to be so far apart. */
export function scaledPhoto(photo: Photo, a: Flat, b: Flat, mm: number): Photo {
  const now = Math.hypot(b.u - a.u, b.v - a.v)
  if (!(now > 0) || !(mm > 0)) return photo
  const k = mm / now
  return { u: a.u + (photo.u - a.u) * k, v: a.v + (photo.v - a.v) * k, width: photo.width * k }
}
/** The photo with one of its points on the reference. */
export const onReference = (photo: Photo, at: Flat): Photo => ({ ...photo, u: photo.u - at.u, v: photo.v - at.v })
