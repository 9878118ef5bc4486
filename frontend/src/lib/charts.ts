/** What all plots have in common: ink by appearance, letters, thin axes; units stand at the end of an axis. */

export interface Ink {
  ink: string
  ink2: string
  ink3: string
  rule: string
  mark: string
  wash: string
  stop: string
  watch: string
  letters: string
  small: number
}

/** The tokens of the page as a plot needs them. */
export function inkOf(page: Element): Ink {
  const style = getComputedStyle(page)
  const token = (name: string): string => style.getPropertyValue(`--${name}`).trim()
  return {
    ink: token('ink'),
    ink2: token('ink-2'),
    ink3: token('ink-3'),
    rule: token('rule-2'),
    mark: token('mark'),
    wash: token('mark-wash'),
    stop: token('stop'),
    watch: token('watch'),
    letters: token('figures'),
    small: parseFloat(token('t-1')) || 11,
  }
}

export function chartFrame(ink: Ink) {
  return {
    animation: false,
    textStyle: { fontFamily: ink.letters, fontSize: ink.small, color: ink.ink2 },
    tooltip: {
      trigger: 'axis',
      renderMode: 'richText',
      confine: true,
      borderWidth: 0,
      padding: 6,
      backgroundColor: ink.ink,
      textStyle: { fontFamily: ink.letters, fontSize: ink.small, color: ink.wash },
      axisPointer: { lineStyle: { color: ink.ink3 } },
    },
  }
}

/** A value axis with its unit at the last mark. */
export function axis(ink: Ink, unit: string, digits: number, [min, max]: readonly [number, number]) {
  return {
    type: 'value',
    min,
    max,
    splitNumber: 4,
    axisLine: { show: true, lineStyle: { color: ink.ink3 } },
    axisTick: { show: true, lineStyle: { color: ink.ink3 } },
    splitLine: { lineStyle: { color: ink.rule } },
    axisLabel: {
      color: ink.ink2,
      fontSize: ink.small,
      hideOverlap: true,
      showMinLabel: true,
      formatter: (value: number) => `${value.toFixed(digits)}${unit && value >= max ? ` ${unit}` : ''}`,
    },
  }
}

/** Ends of an axis on round steps that hold all values: about four steps. */
export function roundEnds(low: number, high: number): readonly [number, number] {
  const span = Math.max(high - low, 1e-9)
  const rough = span / 4
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 2.5, 5, 10].map((m) => m * power).find((s) => s >= rough - 1e-12) ?? 10 * power
  const neat = (value: number): number => Number(value.toPrecision(12))
  return [neat(Math.floor(low / step + 1e-9) * step), neat(Math.ceil(high / step - 1e-9) * step)]
}
