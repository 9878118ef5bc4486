import { mostUsed, onStrap, type PlaceName } from '../lib/places'

const KEY = 'lift-crate-places'
type Used = Partial<Record<PlaceName, number>>

function read(): Used {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Used
  } catch {
    return {}
  }
}

/** Which places a phone shows: chosen as the page is loaded, so that nothing moves under a thumb. */
const shown = mostUsed(read())

export function useUsedPlaces(): { shown: readonly PlaceName[]; note: (place: PlaceName) => void } {
  function note(place: PlaceName): void {
    const used = read()
    const name = onStrap(place)
    localStorage.setItem(KEY, JSON.stringify({ ...used, [name]: (used[name] ?? 0) + 1 }))
  }
  return { shown, note }
}
