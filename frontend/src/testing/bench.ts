/** A rig as the server tells it, small, for tests of what the screens do with it. */
import type { BenchView, FiguresView, RowView } from '../api/schema.gen'

export function row(unit: string, slide: number | null = null): RowView {
  return {
    unit,
    title: unit,
    parent: unit === 'BODY' ? null : 'BODY',
    depth: unit === 'BODY' ? 0 : 1,
    slide_mm: slide ?? 0,
    slides: slide === null ? null : { min_mm: -50, max_mm: 50 },
    ports: [{ id: 'top', label: 'top socket', interface: '1/4-20 thread', half: 'socket', free: true, holds: [] }],
  } as unknown as RowView
}

export function benchView(version: number, units: RowView[] = [row('BODY'), row('ARM', 0)]): BenchView {
  return {
    job: 'job',
    part: 'one',
    rig: 'cam',
    version,
    saved: true,
    body: 'BODY',
    rows: units,
    cables: [],
    findings: [],
    figures: { draw_w: 40 + version } as unknown as FiguresView,
    counts: { stops: 0, watches: 0, notes: 0 },
  } as unknown as BenchView
}

/** A promise that is settled by hand, in whatever order a test wants. */
export function open<T>(): { coming: Promise<T>; come: (value: T) => void; fail: (error: unknown) => void } {
  let come: (value: T) => void = () => undefined
  let fail: (error: unknown) => void = () => undefined
  const coming = new Promise<T>((done, refuse) => {
    come = done
    fail = refuse
  })
  return { coming, come, fail }
}
