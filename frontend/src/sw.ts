/// <reference lib="webworker" />
import { cleanupOutdatedCaches, matchPrecache, precacheAndRoute } from 'workbox-precaching'
import { registerRoute, setCatchHandler } from 'workbox-routing'
import { isOurs, keptCopy, KEPT, KEPT_BEFORE, mayKeep, stillGood, worthKeeping } from './lib/kept'

declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: { url: string; revision: string | null }[] }

/** The screens themselves: on this device as soon as they were opened once. */
precacheAndRoute(self.__WB_MANIFEST)
cleanupOutdatedCaches()

/** After so long without an answer what this device has is shown, and said to be that. */
const PATIENCE_MS = 9000

/** What is read is asked of the server first; where it does not answer, this device tells what it heard last. */
registerRoute(
  ({ url, request, sameOrigin }) => sameOrigin && request.method === 'GET' && worthKeeping(url),
  async ({ request }) => {
    const cache = await caches.open(KEPT)
    const late = new Promise<null>((done) => setTimeout(() => done(null), PATIENCE_MS))
    const asked = fetch(request).then(async (answer) => {
      if (mayKeep(answer)) await cache.put(request.url, keptCopy(answer))
      // Whoever is signed out, wherever that was done, leaves nothing here.
      else if (answer.status === 401 && isOurs(answer) && !new URL(request.url).pathname.startsWith('/api/me'))
        await caches.delete(KEPT)
      return answer
    })
    const first = await Promise.race([asked, late]).catch(() => null)
    if (first && isOurs(first) && first.status < 500) return first
    const kept = await cache.match(request.url)
    if (kept && stillGood(kept, Date.now())) return kept
    if (kept) await caches.delete(KEPT)
    return first ?? asked
  },
)

/** A page: as the server gives it, else as this device has it. */
registerRoute(
  ({ url, request, sameOrigin }) => sameOrigin && request.mode === 'navigate' && !url.pathname.startsWith('/api/'),
  async ({ request }) => {
    const late = new Promise<never>((_, fail) => setTimeout(() => fail(new Error('late')), PATIENCE_MS))
    return Promise.race([fetch(request), late])
  },
)
setCatchHandler(async ({ request }) => {
  const page =
    request.mode === 'navigate' && !new URL(request.url).pathname.startsWith('/api/')
      ? await matchPrecache('/index.html')
      : undefined
  return page ?? Response.error()
})

self.addEventListener('activate', (event) => {
  event.waitUntil(caches.delete(KEPT_BEFORE))
})

/** Whoever signs out, or in as somebody else, leaves nothing of what he read on the device. */
self.addEventListener('message', (event: ExtendableMessageEvent) => {
  if (event.data === 'forget') event.waitUntil(caches.delete(KEPT))
})
