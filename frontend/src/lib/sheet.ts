/** Puts a computed elevation (mm) on a panel (px): scale, offset, ruler ticks. Knows nothing of rigs. */

export type Point = readonly [number, number]
export type Bounds = readonly [number, number, number, number]

export interface Sheet {
  scale: number
  x: (h: number) => number
  y: (v: number) => number
  width: number
  height: number
}

export function fitSheet(bounds: Bounds, width: number, height: number, margin: number): Sheet {
  const [h0, v0, h1, v1] = bounds
  const scale = Math.max(
    0.02,
    Math.min((width - 2 * margin) / Math.max(h1 - h0, 1), (height - 2 * margin) / Math.max(v1 - v0, 1)),
  )
  const left = (width - (h1 - h0) * scale) / 2 - h0 * scale
  const bottom = (height + (v1 - v0) * scale) / 2 + v0 * scale
  return { scale, width, height, x: (h) => left + h * scale, y: (v) => bottom - v * scale }
}

export interface Zoom {
  k: number
  dx: number
  dy: number
}
export const FIT: Zoom = { k: 1, dx: 0, dy: 0 }

/** The same sheet drawn nearer by `k` about its middle and moved by dx, dy px. */
export function zoomed(sheet: Sheet, zoom: Zoom): Sheet {
  const [cx, cy] = [sheet.width / 2, sheet.height / 2]
  return {
    ...sheet,
    scale: sheet.scale * zoom.k,
    x: (h) => cx + (sheet.x(h) - cx) * zoom.k + zoom.dx,
    y: (v) => cy + (sheet.y(v) - cy) * zoom.k + zoom.dy,
  }
}

/** The zoom that keeps the point under the pointer in place while it grows by `factor`. */
export function zoomAt(sheet: Sheet, zoom: Zoom, factor: number, px: number, py: number): Zoom {
  const k = Math.min(Math.max(zoom.k * factor, 0.5), 20)
  const f = k / zoom.k
  const [cx, cy] = [sheet.width / 2, sheet.height / 2]
  return { k, dx: (px - cx) * (1 - f) + zoom.dx * f, dy: (py - cy) * (1 - f) + zoom.dy * f }
}

/** Width and height that some outlines take, mm. */
export function extent(outlines: readonly { points: readonly (readonly number[])[] }[]): Bounds | null {
  const points = outlines.flatMap((o) => o.points)
  if (!points.length) return null
  const [hs, vs] = [points.map((p) => p[0] ?? 0), points.map((p) => p[1] ?? 0)]
  return [Math.min(...hs), Math.min(...vs), Math.max(...hs), Math.max(...vs)]
}

export function outlinePath(points: readonly (readonly number[])[], sheet: Sheet): string {
  return (
    points.map(([h = 0, v = 0], i) => `${i ? 'L' : 'M'}${sheet.x(h).toFixed(1)} ${sheet.y(v).toFixed(1)}`).join('') +
    'Z'
  )
}

/** Ruler ticks every `step` mm over the panel, with the step chosen so that labels stay apart. */
export function ticks(from: number, to: number, scale: number): { mm: number; labelled: boolean }[] {
  const step = [10, 20, 50, 100].find((mm) => mm * scale >= 5) ?? 200
  const labelEvery = [50, 100, 200, 500].find((mm) => mm * scale >= 34) ?? 1000
  const found = []
  for (let mm = Math.ceil(from / step) * step; mm <= to; mm += step) found.push({ mm, labelled: mm % labelEvery === 0 })
  return found
}
