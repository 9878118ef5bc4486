import { createRouter, createWebHistory } from 'vue-router'
import { Problem } from './api/client'
import { useBench } from './stores/bench'
import BenchView from './views/BenchView.vue'
import StartView from './views/StartView.vue'

const LAST = 'lift-crate-last'

/** Where this browser was last, else the list of jobs. */
function lastPlace(): string {
  const last = localStorage.getItem(LAST)
  return last?.startsWith('/') && !last.startsWith('//') ? last : '/jobs'
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: () => lastPlace() },
    { path: '/jobs', name: 'start', component: StartView },
    { path: '/sign-in', name: 'sign in', component: () => import('./views/SignInView.vue') },
    { path: '/come/:word', name: 'come', component: () => import('./views/ComeView.vue'), props: true },
    { path: '/devices', name: 'devices', component: () => import('./views/DevicesView.vue') },
    { path: '/me', name: 'me', component: () => import('./views/MeView.vue') },
    { path: '/history/:job', name: 'history', component: () => import('./views/HistoryView.vue'), props: true },
    { path: '/crew/:job', name: 'crew', component: () => import('./views/CrewView.vue'), props: true },
    { path: '/:job/job/:part/:rig', name: 'job', component: () => import('./views/JobView.vue'), props: true },
    { path: '/:job/venue/:part/:rig', name: 'venue', component: () => import('./views/VenueView.vue'), props: true },
    { path: '/:job/bench/:part/:rig', name: 'bench', component: BenchView, props: true },
    { path: '/:job/shelf/:part/:rig', name: 'shelf', component: () => import('./views/ShelfView.vue'), props: true },
    {
      path: '/:job/compare/:part/:rig',
      name: 'compare',
      component: () => import('./views/CompareView.vue'),
      props: true,
    },
    { path: '/:job/sheet/:part/:rig', name: 'sheet', component: () => import('./views/SheetView.vue'), props: true },
    { path: '/:job/lenses/:part/:rig', name: 'lenses', component: () => import('./views/LensesView.vue'), props: true },
    {
      path: '/:job/balance/:part/:rig',
      name: 'balance',
      component: () => import('./views/BalanceView.vue'),
      props: true,
    },
    { path: '/:job/power/:part/:rig', name: 'power', component: () => import('./views/PowerView.vue'), props: true },
    { path: '/:job/day/:part/:rig', name: 'day', component: () => import('./views/DayView.vue'), props: true },
    { path: '/:job/pack/:part/:rig', name: 'pack', component: () => import('./views/PackView.vue'), props: true },
    { path: '/:job/drill/:part/:rig', name: 'drill', component: () => import('./views/DrillView.vue'), props: true },
    { path: '/:job/log/:part/:rig', name: 'log', component: () => import('./views/LogView.vue'), props: true },
    { path: '/:job/swaps/:part/:rig', name: 'swaps', component: () => import('./views/SwapsView.vue'), props: true },
    { path: '/:rest(.*)', redirect: '/jobs' },
  ],
})

/** A screen that did not arrive is asked for once more with the whole page, if the server is there; without it nobody loses the page he has. */
const AGAIN = 'lift-crate-again'
router.onError((error, to) => {
  if (!/import|preload/i.test(String(error))) return
  void reachable(to.fullPath).then((there) => {
    if (there && sessionStorage.getItem(AGAIN) !== to.fullPath) {
      sessionStorage.setItem(AGAIN, to.fullPath)
      window.location.assign(to.fullPath)
    } else
      useBench().problem = new Problem(
        404,
        'That screen did not arrive',
        'You are still where you were, and nothing is lost. Ask for it again when the server answers.',
        'screen.away',
      )
  })
})
router.afterEach((to, _, failure) => {
  if (!failure && to.params.job) localStorage.setItem(LAST, to.path)
  if (!failure && sessionStorage.getItem(AGAIN) === to.fullPath) sessionStorage.removeItem(AGAIN)
})

async function reachable(path: string): Promise<boolean> {
  try {
    return (await fetch(path, { method: 'HEAD', cache: 'no-store' })).ok
  } catch {
    return false
  }
}
