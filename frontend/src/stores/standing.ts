import { useThrottleFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { ref } from 'vue'
import { readStanding } from '../api'
import type { CountsView } from '../api/schema.gen'
import { onHappening } from '../lib/happenings'

/** A count at the strap may be so old while somebody edits. */
const EVERY_MS = 8_000

/** What stands against the places that are of no one camera: the day, what was packed, the log. */
export const useStanding = defineStore('standing', () => {
  const counts = ref<Record<string, CountsView>>({})
  let job = ''
  async function read(): Promise<void> {
    const mine = job
    if (!mine || document.hidden) return
    try {
      const { day, pack, log } = await readStanding(mine)
      if (mine === job) counts.value = pack ? { day, pack, log } : { day, log }
    } catch {
      // The places say themselves what keeps them; an old count says nothing wrong for long.
    }
  }
  const soon = useThrottleFn(read, EVERY_MS, true, false)
  /** The counts of a job, at once where it is another one, else before long. */
  function look(of: string): void {
    if (of === job) void soon()
    else {
      job = of
      counts.value = {}
      void read()
    }
  }
  onHappening(() => void soon())
  return { counts, look }
})
