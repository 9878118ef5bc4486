import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import '@fontsource-variable/atkinson-hyperlegible-mono/wght.css'
import './styles/tokens.css'
import './styles/theme.scss'
import './styles/shared.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { watchTyping } from './lib/typing'
import { router } from './router'

watchTyping()

/** Letters first, so that nothing moves when they come; not longer than anybody would notice. */
const LETTERS = [
  '400 16px "Atkinson Hyperlegible Next Variable"',
  '600 16px "Atkinson Hyperlegible Next Variable"',
  '600 16px "Atkinson Hyperlegible Mono Variable"',
]
const soon = new Promise((later) => setTimeout(later, 600))
void Promise.race([Promise.allSettled(LETTERS.map((face) => document.fonts.load(face))), soon]).then(() => {
  createApp(App).use(createPinia()).use(router).mount('#app')
})

/** From the second time on the screens, and what was read last, are on this device; not where a browser has no such thing. */
if ('serviceWorker' in navigator && import.meta.env.PROD)
  window.addEventListener('load', () => {
    void navigator.serviceWorker.register('/sw.js').catch(() => undefined)
  })
