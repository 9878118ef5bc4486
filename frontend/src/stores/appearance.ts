import { defineStore } from 'pinia'
import { ref } from 'vue'

export type Appearance = 'day' | 'night'

/** Day and night, kept on this machine. */
export const useAppearance = defineStore('appearance', () => {
  const root = document.documentElement
  const now = ref<Appearance>(root.dataset.appearance === 'night' ? 'night' : 'day')

  function choose(next: Appearance): void {
    now.value = next
    root.dataset.appearance = next
    root.dataset.bsTheme = next === 'night' ? 'dark' : 'light'
    try {
      localStorage.setItem('appearance', next)
    } catch {
      // A browser that keeps nothing still switches.
    }
  }

  return {
    now,
    toggle: () => {
      choose(now.value === 'day' ? 'night' : 'day')
    },
  }
})
