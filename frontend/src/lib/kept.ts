/** What this device keeps of what it has read. */
export const KEPT = 'lift-crate-read-2'
/** What was kept before answers of devices said that they are not to be. */
export const KEPT_BEFORE = 'lift-crate-read'
/** What every answer of the server carries: pages that a network shows in its place do not. */
const OURS = 'X-Lift-Crate'
/** After how many hours without the server a device shows nothing of it any more, as the server said. */
const FOR_H = 'X-Keep-Hours'
/** When a kept answer was given: an answer that has it comes from this device. */
export const KEPT_AT = 'X-Kept-At'

/** Whether an answer at an address is read and not asked of the moment: streams, searches, files and devices are not kept. */
export function worthKeeping(url: URL): boolean {
  const path = url.pathname
  if (!path.startsWith('/api/') || path.endsWith('/live') || path.endsWith('/find')) return false
  if (/\.(csv|pdf|ics|html|svg)$|\/file$/.test(path)) return false
  return !/\/(remedies|candidates|ports|places|adds|exchanges)(\/|$)/.test(path)
}

/** Whether the server itself gave it. */
export const isOurs = (answer: Response): boolean => answer.headers.has(OURS)

/** Whether it may be shown later: what a device said, or was said of the moment, is marked by the server. */
export const mayKeep = (answer: Response): boolean =>
  answer.ok && isOurs(answer) && !(answer.headers.get('Cache-Control') ?? '').includes('no-store')

/** Whether a kept answer may still be shown. */
export function stillGood(kept: Response, now: number): boolean {
  const hours = Number(kept.headers.get(FOR_H) ?? 72)
  return now - Date.parse(kept.headers.get(KEPT_AT) ?? '') < hours * 3_600_000
}

/** An answer as it is kept: with the time of it. */
export function keptCopy(answer: Response): Response {
  const copy = answer.clone()
  const headers = new Headers(copy.headers)
  headers.set(KEPT_AT, new Date().toISOString())
  return new Response(copy.body, { status: copy.status, statusText: copy.statusText, headers })
}
