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
  const scale = Math.max(0.02, Math.min((width - 2 * margin) / Math.max(h1 - h0, 1), (height - 2 * margin) / Math.max(v1 - v0, 1)))
  const left = (width - (h1 - h0) * scale) / 2 - h0 * scale
  const bottom = (height + (v1 - v0) * scale) / 2 + v0 * scale
  return { scale, width, height, x: (h) => left + h * scale, y: (v) => bottom - v * scale }
}

export function outlinePath(points: readonly (readonly number[])[], sheet: Sheet): string {
  return points.map(([h = 0, v = 0], i) => `${i ? 'L' : 'M'}${sheet.x(h).toFixed(1)} ${sheet.y(v).toFixed(1)}`).join('') + 'Z'
}

/** Ruler ticks every `step` mm over the panel, with the step chosen so that labels stay apart. */
export function ticks(from: number, to: number, scale: number): { mm: number; labelled: boolean }[] {
  const step = [10, 20, 50, 100].find((mm) => mm * scale >= 5) ?? 200
  const labelEvery = [50, 100, 200, 500].find((mm) => mm * scale >= 34) ?? 1000
  const found = []
  for (let mm = Math.ceil(from / step) * step; mm <= to; mm += step) found.push({ mm, labelled: mm % labelEvery === 0 })
  return found
}
