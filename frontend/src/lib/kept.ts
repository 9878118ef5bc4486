/** What this device keeps of what it has read. */
export const KEPT = 'lift-crate-read'
/** When a kept answer was given: an answer that has it comes from this device. */
export const KEPT_AT = 'X-Kept-At'

/** Whether an answer at an address is read and not asked of the moment: streams, searches, files and devices are not kept. */
export function worthKeeping(url: URL): boolean {
  const path = url.pathname
  if (!path.startsWith('/api/') || path.endsWith('/live') || path.endsWith('/find')) return false
  if (/\.(csv|pdf|ics|html|svg)$|\/file$/.test(path)) return false
  return !/\/(remedies|candidates|ports|places|adds|exchanges|gimbal|charger|station|meter)(\/|$)/.test(path)
}

/** An answer as it is kept: with the time of it. */
export function keptCopy(answer: Response): Response {
  const copy = answer.clone()
  const headers = new Headers(copy.headers)
  headers.set(KEPT_AT, new Date().toISOString())
  return new Response(copy.body, { status: copy.status, statusText: copy.statusText, headers })
}
