import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { readMe, type Role } from '../api'
import { carry } from '../api/client'
import type { MeView } from '../api/schema.gen'

/** What each role is, in a few words. */
export const ROLES: readonly { value: Role; text: string; may: string }[] = [
  { value: 'lead', text: 'lead', may: 'all of it' },
  {
    value: 'operator',
    text: 'operator',
    may: 'the rigs of his own cameras; notes in the log, swaps, cards, sound and packing',
  },
  { value: 'keeper', text: 'keeper', may: 'reads; packs, and notes in the log, swaps, cards and sound' },
  { value: 'viewer', text: 'viewer', may: 'reads' },
]
export const HOUSES = [
  { value: 'lead', text: 'leads the house: shelf, jobs, accounts' },
  { value: 'keeper', text: 'keeps the shelf' },
  { value: 'member', text: 'reads the shelf' },
] as const

/** Who sits at this browser, as the server knows him. */
export const useMe = defineStore('me', () => {
  const me = shallowRef<MeView | null>(null)
  async function load(): Promise<MeView> {
    const asked = readMe()
    carry(asked.then((m) => m.word))
    me.value = await asked
    return me.value
  }
  const roleIn = (job: string): Role | null => me.value?.roles[job] ?? (me.value && !me.value.signed_in ? 'lead' : null)
  const name = computed(() => me.value?.name ?? '')
  return { me, load, roleIn, name }
})
