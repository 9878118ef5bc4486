import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { readFields, readInterfaces, readModel, readShelf, readUnit, type ShelfAsk } from '../api'
import type { FieldsView, InterfacesView, ModelView, ShelfView, UnitView } from '../api/schema.gen'
import { useLoad } from '../composables/useLoad'

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
  const { found, problem, load } = useLoad<ShelfView>()
  const interfaces = shallowRef<InterfacesView | null>(null)
  const at = useLoad<UnitView>()
  const unit = at.found
  const kind = useLoad<ModelView>()

  async function look(change: Partial<ShelfAsk> = {}): Promise<void> {
    asked.value = { ...asked.value, ...change }
    await load(() => readShelf({ ...asked.value, skip: 0 }))
  }

  /** As far down as it was read; what is entered at a model meanwhile stays. */
  async function again(): Promise<void> {
    const far = found.value?.units.length
    if (far === undefined) return
    await load(async () => {
      let now = await readShelf({ ...asked.value, skip: 0 })
      while (now.units.length < Math.min(far, now.total)) {
        const next = await readShelf({ ...asked.value, skip: now.units.length })
        if (!next.units.length) break
        now = { ...next, units: [...now.units, ...next.units] }
      }
      return now
    })
    // What somebody has just opened is on its way and comes new.
    const open = unit.value?.unit.id
    if (open && open === chosen.value) await at.load(() => readUnit(open))
  }

  async function more(): Promise<void> {
    const have = found.value
    if (!have) return
    await load(async () => {
      const next = await readShelf({ ...asked.value, skip: have.units.length })
      return { ...next, units: [...have.units, ...next.units] }
    })
  }

  /** What was chosen last, also while it is still on its way. */
  const chosen = ref('')

  async function openUnit(id: string): Promise<void> {
    chosen.value = id
    const one = await at.load(() => readUnit(id))
    if (one) await openModel(one.unit.model)
  }

  async function openModel(id: string): Promise<void> {
    await kind.load(() => readModel(id))
  }

  /** What was looked at is gone. */
  function leave(): void {
    chosen.value = ''
    at.show(null)
    kind.show(null)
  }

  async function learnInterfaces(): Promise<void> {
    if (!interfaces.value) interfaces.value = await readInterfaces()
  }

  /** What can be entered of gear, field by field. */
  const types = shallowRef<FieldsView['types']>({})
  async function learnFields(): Promise<void> {
    if (!Object.keys(types.value).length) types.value = (await readFields()).types
  }

  const clear = (): void => {
    asked.value = { ...NOTHING, job: asked.value.job, part: asked.value.part }
  }

  const trouble = computed(() => problem.value ?? at.problem.value ?? kind.problem.value)
  return {
    asked,
    found,
    interfaces,
    unit,
    chosen,
    model: kind.found,
    problem: trouble,
    look,
    again,
    more,
    openUnit,
    openModel,
    leave,
    learnInterfaces,
    types,
    learnFields,
    clear,
  }
})
