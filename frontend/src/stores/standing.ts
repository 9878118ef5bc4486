import { useThrottleFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { readStanding } from '../api'
import type { CountsView, FindingView } from '../api/schema.gen'
import { onHappening } from '../lib/happenings'

/** A count at the strap may be so old while somebody edits. */
const EVERY_MS = 8_000
/** What was opened comes first. */
const FIRST_MS = 2_500

/** What stands against the places that are of no one camera: the day, what was packed, the log. */
export const useStanding = defineStore('standing', () => {
  const heard = ref<Record<string, CountsView>>({})
  const own = ref<Record<string, CountsView>>({})
  const counts = computed(() => ({ ...heard.value, ...own.value }))
  let job = ''
  async function read(): Promise<void> {
    const mine = job
    if (!mine || document.hidden) return
    try {
      const { day, pack, log } = await readStanding(mine)
      if (mine === job) heard.value = pack ? { day, pack, log } : { day, log }
    } catch {
      // The places say themselves what keeps them; an old count says nothing wrong for long.
    }
  }
  const soon = useThrottleFn(read, EVERY_MS, true, false)
  /** The counts of a job, before long. */
  function look(of: string): void {
    if (of === job) void soon()
    else {
      job = of
      heard.value = {}
      setTimeout(() => void read(), FIRST_MS)
    }
  }
  /** A place that is open knows best what stands against it; called in its setup, until it is left. */
  function follow(place: 'day' | 'pack', findings: () => readonly FindingView[] | undefined): void {
    watch(findings, (now) => {
      if (!now) return
      const of = (level: FindingView['level']): number => now.filter((f) => f.level === level).length
      own.value = { ...own.value, [place]: { stops: of('stop'), watches: of('watch'), notes: of('note') } }
    })
    onScopeDispose(() => (own.value = {}))
  }
  onHappening(() => void soon())
  return { counts, look, follow }
})
