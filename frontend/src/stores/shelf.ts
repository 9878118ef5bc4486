import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { readInterfaces, readModel, readShelf, readUnit, type ShelfAsk } from '../api'
import type { Problem } from '../api/client'
import type { InterfacesView, ModelView, ShelfView, UnitView } from '../api/schema.gen'

const NOTHING: ShelfAsk = {
  words: '',
  kind: '',
  interface: '',
  side: '',
  owner: '',
  free_only: false,
  job: '',
  part: '',
}

/** What is looked for on the shelf, what was found, and the thing that is looked at. */
export const useShelf = defineStore('shelf', () => {
  const asked = ref<ShelfAsk>({ ...NOTHING })
  const found = shallowRef<ShelfView | null>(null)
  const interfaces = shallowRef<InterfacesView | null>(null)
  const unit = shallowRef<UnitView | null>(null)
  const model = shallowRef<ModelView | null>(null)
  const problem = shallowRef<Problem | null>(null)
  let turn = 0

  async function look(change: Partial<ShelfAsk> = {}): Promise<void> {
    asked.value = { ...asked.value, ...change }
    const mine = ++turn
    try {
      const next = await readShelf({ ...asked.value, skip: 0 })
      if (mine !== turn) return
      found.value = next
      problem.value = null
    } catch (error) {
      if (mine === turn) problem.value = error as Problem
    }
  }

  async function more(): Promise<void> {
    const have = found.value
    if (!have) return
    const next = await readShelf({ ...asked.value, skip: have.units.length })
    found.value = { ...next, units: [...have.units, ...next.units] }
  }

  async function openUnit(id: string): Promise<void> {
    try {
      unit.value = await readUnit(id)
      await openModel(unit.value.unit.model)
    } catch (error) {
      problem.value = error as Problem
    }
  }

  async function openModel(id: string): Promise<void> {
    try {
      model.value = await readModel(id)
      problem.value = null
    } catch (error) {
      problem.value = error as Problem
    }
  }

  async function learnInterfaces(): Promise<void> {
    if (!interfaces.value) interfaces.value = await readInterfaces()
  }

  const clear = (): void => {
    asked.value = { ...NOTHING, job: asked.value.job, part: asked.value.part }
  }

  return { asked, found, interfaces, unit, model, problem, look, more, openUnit, openModel, learnInterfaces, clear }
})
