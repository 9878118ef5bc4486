/// <reference lib="webworker" />
import { cleanupOutdatedCaches, matchPrecache, precacheAndRoute } from 'workbox-precaching'
import { registerRoute, setCatchHandler } from 'workbox-routing'
import { keptCopy, KEPT, worthKeeping } from './lib/kept'

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
      if (answer.ok) await cache.put(request.url, keptCopy(answer))
      return answer
    })
    const first = await Promise.race([asked, late]).catch(() => null)
    if (first && first.status < 500) return first
    return (await cache.match(request.url)) ?? first ?? asked
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

/** Whoever signs out, or in as somebody else, leaves nothing of what he read on the device. */
self.addEventListener('message', (event: ExtendableMessageEvent) => {
  if (event.data === 'forget') event.waitUntil(caches.delete(KEPT))
})
