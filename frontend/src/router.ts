import { createRouter, createWebHistory } from 'vue-router'
import BenchView from './views/BenchView.vue'
import StartView from './views/StartView.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'start', component: StartView },
    { path: '/:job/bench/:part/:rig', name: 'bench', component: BenchView, props: true },
    { path: '/:rest(.*)', redirect: '/' },
  ],
})
