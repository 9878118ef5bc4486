import { createRouter, createWebHistory } from 'vue-router'
import BenchView from './views/BenchView.vue'
import StartView from './views/StartView.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'start', component: StartView },
    { path: '/:job/bench/:part/:rig', name: 'bench', component: BenchView, props: true },
    { path: '/:job/shelf/:part/:rig', name: 'shelf', component: () => import('./views/ShelfView.vue'), props: true },
    { path: '/:job/compare/:part/:rig', name: 'compare', component: () => import('./views/CompareView.vue'), props: true },
    { path: '/:job/sheet/:part/:rig', name: 'sheet', component: () => import('./views/SheetView.vue'), props: true },
    { path: '/:job/lenses/:part/:rig', name: 'lenses', component: () => import('./views/LensesView.vue'), props: true },
    { path: '/:job/balance/:part/:rig', name: 'balance', component: () => import('./views/BalanceView.vue'), props: true },
    { path: '/:job/power/:part/:rig', name: 'power', component: () => import('./views/PowerView.vue'), props: true },
    { path: '/:job/swaps/:part/:rig', name: 'swaps', component: () => import('./views/SwapsView.vue'), props: true },
    { path: '/:rest(.*)', redirect: '/' },
  ],
})

/** A screen that did not arrive (the line was away, or the program was renewed meanwhile) is asked for once more with the whole page. */
const AGAIN = 'lift-crate-again'
router.onError((error, to) => {
  if (!/import|preload/i.test(String(error)) || sessionStorage.getItem(AGAIN) === to.fullPath) return
  sessionStorage.setItem(AGAIN, to.fullPath)
  window.location.assign(to.fullPath)
})
router.afterEach((to, _, failure) => {
  if (!failure && sessionStorage.getItem(AGAIN) === to.fullPath) sessionStorage.removeItem(AGAIN)
})
