import { reactive } from 'vue'
import type { Problem } from '../api/client'

/** Takes back what was noted; what is refused is told beside what it was asked of. */
export function useTakeBack(drop: (id: number) => Promise<Problem | null>): {
  refusals: Record<number, string>
  take: (id: number) => Promise<void>
} {
  const refusals = reactive<Record<number, string>>({})
  async function take(id: number): Promise<void> {
    refusals[id] = (await drop(id))?.message ?? ''
  }
  return { refusals, take }
}
