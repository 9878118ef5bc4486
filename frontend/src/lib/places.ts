/** The places on the strap, in working order, and the sheets that belong to one of them. */

export type PlaceName =
  | 'job'
  | 'venue'
  | 'shelf'
  | 'bench'
  | 'compare'
  | 'sheet'
  | 'lenses'
  | 'balance'
  | 'power'
  | 'swaps'
  | 'day'
  | 'pack'
  | 'log'
  | 'drill'

export interface PlaceLine {
  name: PlaceName
  label: string
  number: number
  what: string
}

export const PLACES: readonly PlaceLine[] = [
  { name: 'job', label: 'Job', number: 1, what: 'days, cameras, who is in which build when' },
  { name: 'shelf', label: 'Shelf', number: 2, what: 'all gear there is' },
  { name: 'bench', label: 'Bench', number: 3, what: 'build a camera rig' },
  { name: 'balance', label: 'Balance', number: 4, what: 'what carries it: gimbal, shoulder, hand, head' },
  { name: 'power', label: 'Power', number: 5, what: 'the chain, the hours, the day’s swaps' },
  { name: 'day', label: 'Day', number: 6, what: 'all cameras over the day, what changes between, who is where' },
  { name: 'pack', label: 'Pack', number: 7, what: 'what goes along, in which case, out and back' },
  { name: 'log', label: 'Log', number: 8, what: 'what happened beside the plan, what the figures learn' },
  {
    name: 'drill',
    label: 'Drill',
    number: 9,
    what: 'practise on the same physics: balance, wrong links, faults, a late day',
  },
]

const MOST_ON_PHONE = 4
/** Places that a phone shows before anybody has chosen any: where the work on location is. */
const USUAL: readonly PlaceName[] = ['bench', 'balance', 'power', 'job']

/** The four places most used here, in working order; the rest is behind *more*. */
export function mostUsed(used: Readonly<Partial<Record<PlaceName, number>>>): PlaceName[] {
  const weight = (p: PlaceName): number => (used[p] ?? 0) * 100 - (USUAL.includes(p) ? USUAL.indexOf(p) : 50)
  const best = [...PLACES].sort((a, b) => weight(b.name) - weight(a.name)).slice(0, MOST_ON_PHONE)
  return PLACES.filter((p) => best.includes(p)).map((p) => p.name)
}

/** Where a screen stands on the strap: comparisons and build sheets belong to the Bench, swaps to Power. */
export function onStrap(place: PlaceName): PlaceName {
  if (place === 'swaps') return 'power'
  if (place === 'venue') return 'job'
  return (['job', 'shelf', 'balance', 'power', 'day', 'pack', 'log', 'drill'] as PlaceName[]).includes(place)
    ? place
    : 'bench'
}

/** Stands in an address for the camera or part of the day that a job does not have yet. */
export const NONE = '-'

/** Without a camera there is nothing to look at but the job and the shelf. */
export const needsCamera = (place: PlaceName): boolean =>
  !['job', 'venue', 'shelf', 'day', 'pack', 'log'].includes(place)

export function placeRoute(place: PlaceName, params: { job: string; part: string; rig: string }) {
  return { name: place, params }
}
