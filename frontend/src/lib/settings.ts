/** Settings as lines: every figure under its path, with the unit that stands at the end of its name. */

export type Leaf = number | string
export interface SettingLine {
  path: readonly (string | number)[]
  name: string
  unit: string
  value: Leaf
  usual: Leaf | null
}

const UNITS: Record<string, string> = {
  g: 'g',
  mm: 'mm',
  nm: 'N·m',
  min: 'min',
  deg: '°',
  m: 'm',
  stops: 'stops',
  s2: 'm/s²',
  hours: 'h',
}
/** Words that only say what a figure is measured in, two of them where the unit has two. */
function named(step: string): { name: string; unit: string } {
  const words = step.split('_')
  if (step.endsWith('_m_s2')) return { name: words.slice(0, -2).join(' '), unit: UNITS.s2 ?? '' }
  const unit = words.length > 1 ? UNITS[words.at(-1) ?? ''] : undefined
  return unit ? { name: words.slice(0, -1).join(' '), unit } : { name: words.join(' '), unit: '' }
}

const ENDS = ['from', 'to']

export function linesOf(settings: unknown, usual: unknown): SettingLine[] {
  const found: SettingLine[] = []
  function walk(value: unknown, standard: unknown, path: (string | number)[]): void {
    if (typeof value === 'number' || typeof value === 'string') {
      const steps = path.map((step, i) =>
        typeof step === 'number' ? { name: place(settings, path.slice(0, i), step), unit: '' } : named(step),
      )
      found.push({
        path,
        name: steps
          .map((s) => s.name)
          .filter(Boolean)
          .join(', '),
        unit:
          steps
            .map((s) => s.unit)
            .filter(Boolean)
            .at(-1) ?? '',
        value,
        usual: typeof standard === typeof value ? (standard as Leaf) : null,
      })
    } else if (value && typeof value === 'object') {
      const others = (standard ?? {}) as Record<string | number, unknown>
      for (const [key, inner] of Object.entries(value)) {
        const step = Array.isArray(value) ? Number(key) : key
        walk(inner, others[step], [...path, step])
      }
    }
  }
  walk(settings, usual, [])
  return found
}

/** Of two figures the ends, of more the place. */
function place(settings: unknown, path: readonly (string | number)[], step: number): string {
  return (at(settings, path) as unknown[]).length === 2 ? (ENDS[step] ?? '') : String(step + 1)
}

function at(value: unknown, path: readonly (string | number)[]): unknown {
  return path.reduce<unknown>((now, step) => (now as Record<string | number, unknown>)[step], value)
}

/** The same settings with one figure changed. */
export function withLine<T>(settings: T, path: readonly (string | number)[], value: Leaf): T {
  const next = structuredClone(settings)
  const holder = at(next, path.slice(0, -1)) as Record<string | number, unknown>
  holder[path.at(-1) ?? ''] = value
  return next
}
