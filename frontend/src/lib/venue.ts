/** The plan in metres: what it spans, its grid, and shapes as they are drawn, north up. */

import type { CameraOnPlan, Thing } from '../api/schema.gen'

export interface Span {
  x: number
  y: number
  width: number
  height: number
}

const LEAST_M = 24
const MARGIN = 0.12

/** What the drawing shows: everything on the plan with room around it, y upwards. */
export function spanOf(things: readonly Thing[], cameras: readonly CameraOnPlan[]): Span {
  const xs: number[] = []
  const ys: number[] = []
  for (const t of things) {
    const turn = ((t.turn_deg ?? 0) * Math.PI) / 180
    const [cos, sin, w, d] = [Math.abs(Math.cos(turn)), Math.abs(Math.sin(turn)), t.width_m ?? 0, t.depth_m ?? 0]
    const [east, north] = [(w * cos + d * sin) / 2, (w * sin + d * cos) / 2]
    xs.push((t.x_m ?? 0) - east, (t.x_m ?? 0) + east)
    ys.push((t.y_m ?? 0) - north, (t.y_m ?? 0) + north)
  }
  for (const c of cameras) {
    if (!c.place) continue
    xs.push(c.place.x_m ?? 0)
    ys.push(c.place.y_m ?? 0)
  }
  if (!xs.length) return { x: -LEAST_M / 2, y: -LEAST_M / 2, width: LEAST_M, height: LEAST_M }
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]
  const width = Math.max(LEAST_M, (right - left) * (1 + 2 * MARGIN))
  const height = Math.max(LEAST_M * 0.7, (high - low) * (1 + 2 * MARGIN))
  return { x: (left + right - width) / 2, y: (low + high - height) / 2, width, height }
}

/** Lines of the grid: 1, 2, 5, 10 … metres apart, about a dozen across. */
export function gridOf(from: number, length: number): { step: number; at: number[] } {
  const rough = length / 12
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = ([1, 2, 5, 10].find((k) => k * power >= rough) ?? 10) * power
  const first = Math.ceil(from / step) * step
  const count = Math.max(0, Math.floor((from + length - first) / step) + 1)
  return { step, at: Array.from({ length: count }, (_, i) => first + i * step) }
}

/** A wedge from a place, as an SVG path with y downwards. */
export function wedgePath(x: number, y: number, middle: number, across: number, reach: number): string {
  const at = (deg: number): string => {
    const a = (deg * Math.PI) / 180
    return `${String(x + reach * Math.cos(a))} ${String(-(y + reach * Math.sin(a)))}`
  }
  const large = across > 180 ? 1 : 0
  return `M${String(x)} ${String(-y)} L${at(middle - across / 2)} A${String(reach)} ${String(reach)} 0 ${String(large)} 0 ${at(middle + across / 2)} Z`
}

/** A picture after two of its points were said to be so far apart: wider or narrower, the first point where it was. */
export function scaledPicture<P extends { x_m?: number; y_m?: number; width_m: number }>(
  picture: P,
  a: { x: number; y: number },
  b: { x: number; y: number },
  metres: number,
): P {
  const now = Math.hypot(b.x - a.x, b.y - a.y)
  if (!(now > 0) || !(metres > 0)) return picture
  const k = metres / now
  const along = (middle: number, point: number): number => Math.round((point + (middle - point) * k) * 1000) / 1000
  return {
    ...picture,
    width_m: Math.round(picture.width_m * k * 1000) / 1000,
    x_m: along(picture.x_m ?? 0, a.x),
    y_m: along(picture.y_m ?? 0, a.y),
  }
}

export interface Named {
  key: string
  x: number
  y: number
  text: string
}
export interface LabelAt {
  x: number
  y: number
  anchor: 'start' | 'end'
}
/** Where names stand so that they lie on none of the others: right or left of their thing, above or below; `below` have theirs under them. */
export function labelsAt(
  all: readonly Named[],
  unit: number,
  below: readonly Named[] = [],
  size = 13,
): Map<string, LabelAt> {
  const taken: [number, number, number, number][] = all.map((n) => [
    n.x - 8 * unit,
    n.y - 8 * unit,
    n.x + 8 * unit,
    n.y + 8 * unit,
  ])
  const found = new Map<string, LabelAt>()
  for (const n of below) {
    const half = (n.text.length * size * 0.56 * unit) / 2
    taken.push([n.x - 14 * unit, n.y - 14 * unit, n.x + 14 * unit, n.y + 14 * unit])
    taken.push([n.x - half, n.y + (27 - size) * unit, n.x + half, n.y + 30 * unit])
  }
  const height = size * unit
  for (const n of all) {
    const wide = n.text.length * size * 0.56 * unit
    const tries = [-8, 18, -24, 34].flatMap((dy) =>
      (['start', 'end'] as const).map((anchor) => ({
        x: n.x + (anchor === 'start' ? 9 : -9) * unit,
        y: n.y + dy * unit,
        anchor,
      })),
    )
    const boxOf = (l: LabelAt): [number, number, number, number] => {
      const left = l.anchor === 'start' ? l.x : l.x - wide
      return [left, l.y - height, left + wide, l.y + height * 0.25]
    }
    const meets = (l: LabelAt): number => {
      const [x1, y1, x2, y2] = boxOf(l)
      return taken.filter((t) => x1 < t[2] && t[0] < x2 && y1 < t[3] && t[1] < y2).length
    }
    const best = tries.reduce((a, b) => (meets(b) < meets(a) ? b : a))
    taken.push(boxOf(best))
    found.set(n.key, best)
  }
  return found
}

/** To a tenth of a metre. */
export const snapped = (m: number): number => Math.round(m * 10) / 10
