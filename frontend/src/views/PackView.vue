<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, ref, watch } from 'vue'
import { packFile, readPacking } from '../api'
import type { PackingView } from '../api/schema.gen'
import FrameShell from '../components/frame/FrameShell.vue'
import AlongList from '../components/pack/AlongList.vue'
import CasePanel from '../components/pack/CasePanel.vue'
import CasePlan from '../components/pack/CasePlan.vue'
import CaseStack from '../components/pack/CaseStack.vue'
import PackLists from '../components/pack/PackLists.vue'
import PackProblems from '../components/pack/PackProblems.vue'
import ThingPanel from '../components/pack/ThingPanel.vue'
import type { KeyLine } from '../composables/useKeys'
import { useLoad } from '../composables/useLoad'
import { counted, fixed } from '../lib/format'
import { useFrame } from '../stores/frame'
import { useMe } from '../stores/me'
import { useStanding } from '../stores/standing'

/** What goes along and in which case, drawn to scale; the list out, and the same list back. */
const props = defineProps<{ job: string; part: string; rig: string }>()
const frame = useFrame()
const standing = useStanding()
const me = useMe()
const role = computed(() => me.roleIn(props.job))
const may = computed(() => role.value === 'lead' || role.value === 'keeper')
const notes = computed(() => may.value || role.value === 'operator')
const { found, problem, steps, show } = useLoad<PackingView>(['build', 'job', 'jobs', 'shelf', 'pack'])
const load = (job: string): Promise<void> =>
  steps(async () => {
    const value = settled(await readPacking(job))
    return { value, last: !value.searching }
  }, 500)
let of = ''
/** Until there is a first answer to what was just changed, the cases stay as they were. */
function settled(value: PackingView): PackingView {
  const was = of === props.job ? found.value : null
  of = props.job
  if (!value.searching || value.cases.length || !was?.cases.length) return value
  const goes = (frame.view?.job.pack?.cases ?? []).map((c) => c.unit)
  return {
    ...value,
    cases: was.cases.filter((c) => goes.includes(c.along.unit)),
    findings: was.findings,
    left: was.left,
  }
}
watch(
  () => props.job,
  async (job) => {
    void load(job)
    await frame.open(job)
  },
  { immediate: true },
)
watch(
  () => frame.view?.version,
  (now, was) => {
    if (was !== undefined && now !== undefined) void load(props.job)
  },
)

const VIEWS = ['cases', 'list', 'out', 'back'] as const
const SHOWN: Record<(typeof VIEWS)[number], string> = { cases: 'Cases', list: 'What goes', out: 'Out', back: 'Back' }
const phone = window.matchMedia('(max-width: 760px)').matches
const shows = ref<(typeof VIEWS)[number]>(phone ? 'out' : 'cases')
const unit = ref('')
const layer = ref(0)
const thingId = ref('')
const chosen = computed(() => found.value?.cases.find((c) => c.along.unit === unit.value) ?? found.value?.cases[0])
const thing = computed(() => found.value?.things.find((t) => t.id === thingId.value))
const marks = computed(() => {
  const worst = new Map<string, 'stop' | 'watch' | 'note'>()
  for (const f of [...(found.value?.findings ?? [])].reverse())
    if (f.level !== 'clear' && (f.code === 'pack.heavy' || f.code === 'pack.cabin'))
      for (const u of f.units) worst.set(u, f.level)
  return worst
})
const total = computed(() => (found.value?.cases ?? []).reduce((sum, c) => sum + c.mass_g, 0) / 1000)
const stops = computed(() => found.value?.findings.filter((f) => f.level === 'stop').length ?? 0)
standing.follow('pack', () => found.value?.findings)
const against = computed(() => found.value?.findings.filter((f) => f.level !== 'clear').length ?? 0)
/** As it was said last, also while it is dealt anew. */
const along = computed(() => frame.view?.job.pack?.cases?.find((c) => c.unit === chosen.value?.along.unit))
const cameras = computed(() => (frame.view?.job.rigs ?? []).map((r) => ({ id: r.id, label: r.label ?? r.id })))

function choose(id: string): void {
  thingId.value = thingId.value === id ? '' : id
  const t = thing.value
  const at = found.value?.cases.find((c) => c.laid.some((e) => e.thing === t?.id))
  if (!at) return
  unit.value = at.along.unit
  layer.value = at.laid.find((e) => e.thing === t?.id)?.layer ?? 0
}
function about(units: readonly string[]): void {
  const box = found.value?.cases.find((c) => units.includes(c.along.unit))
  const name = units.find((u) => found.value?.things.some((t) => t.id === u))
  if (box) unit.value = box.along.unit
  thingId.value = ''
  if (name) choose(name)
  shows.value = 'cases'
}
function caseBeside(step: 1 | -1): void {
  const all = found.value?.cases ?? []
  const at = all.findIndex((c) => c.along.unit === chosen.value?.along.unit)
  unit.value = all[Math.min(Math.max(at + step, 0), all.length - 1)]?.along.unit ?? ''
  layer.value = 0
}
/** Whoever packs takes changes of the packing back; a lead the last one of the job. */
const undo = (): Promise<boolean> => (role.value === 'lead' ? frame.undo() : frame.undoPack())
const keys: KeyLine[] = [
  { keys: 'u', does: 'undo', run: undo },
  {
    keys: 'p',
    does: 'cases, what goes, out, back',
    run: () => (shows.value = VIEWS[(VIEWS.indexOf(shows.value) + 1) % VIEWS.length] ?? 'cases'),
  },
  { keys: ',', does: 'the case before', run: () => caseBeside(-1) },
  { keys: '.', does: 'the next case', run: () => caseBeside(1) },
  {
    keys: 'l',
    does: 'the layer below, then the top again',
    run: () => {
      const most = Math.max(1, ...(chosen.value?.laid.map((e) => e.layer) ?? []))
      const now = layer.value || most
      layer.value = now > 1 ? now - 1 : most
    },
  },
  { keys: 'w', does: 'what is wrong', run: () => (thingId.value = '') },
]
</script>

<template>
  <FrameShell :job="job" :part="part" :rig="rig" place="pack" :keys="keys" :findables="() => []" @imported="load(job)">
    <main class="packing">
      <header class="day-bar">
        <h1>
          Pack
          <small v-if="found?.cases.length">{{ counted(found.cases.length, 'case') }}, {{ fixed(total, 0) }} kg</small>
        </h1>
        <BButton v-for="v in VIEWS" :key="v" :aria-pressed="shows === v" @click="shows = v">{{ SHOWN[v] }}</BButton>
        <BLink class="btn btn-secondary" :href="packFile(job, 'packing.pdf')" target="_blank">PDF</BLink>
        <BLink class="btn btn-secondary" :href="packFile(job, 'labels.pdf')" target="_blank">Labels</BLink>
        <BLink class="btn btn-secondary" :href="packFile(job, 'packing.csv')">CSV</BLink>
        <span class="rest"></span>
        <BButton
          v-if="frame.view && may"
          :disabled="!frame.view.can_undo || frame.busy"
          :title="frame.view.can_undo ?? undefined"
          @click="undo"
          >Undo</BButton
        >
        <BButton :aria-pressed="!thing && shows === 'cases'" :class="{ 'has-stops': stops }" @click="about([])">{{
          against ? counted(against, 'problem') : 'No problems'
        }}</BButton>
      </header>
      <p v-if="problem" class="trouble">{{ problem.message }}</p>
      <p v-else-if="!found" class="quiet">Finding what goes along…</p>
      <PackLists
        v-else-if="shows === 'out' || shows === 'back'"
        :job="job"
        :view="found"
        :way="shows"
        :chosen="unit"
        :may="notes"
        @choose="unit = $event"
        @now="(view) => show(settled(view))"
      />
      <div v-else class="pack-work" :class="{ listed: shows === 'list' }">
        <div v-if="shows === 'cases'" class="pack-cases">
          <CaseStack
            :view="found"
            :chosen="chosen?.along.unit ?? ''"
            :marks="marks"
            @choose="((unit = $event), (layer = 0), (thingId = ''))"
          />
          <p v-if="!found.cases.length" class="quiet">
            {{
              found.searching
                ? 'Dealing into cases…'
                : found.free.length
                  ? 'No case goes along yet. Take one of the Shelf along, at the right.'
                  : 'There is no case on the Shelf. Add one there: Add gear, Keeping, Case or bag.'
            }}
          </p>
        </div>
        <div v-if="shows === 'cases'" class="pack-middle">
          <template v-if="chosen">
            <CasePlan
              :of="chosen"
              :things="found.things"
              :soonest="found.soonest"
              :thing="thingId"
              :layer="layer"
              @choose="choose"
              @layer="layer = $event"
            />
            <CasePanel
              v-if="may"
              :key="chosen.along.unit"
              :of="chosen"
              :along="along ?? chosen.along"
              :view="found"
              :cameras="cameras"
            />
          </template>
        </div>
        <AlongList v-else :view="found" :thing="thingId" :may="may" @choose="thingId = $event" />
        <aside class="day-side">
          <ThingPanel
            v-if="thing"
            :key="thing.id"
            :job="job"
            :part="part"
            :rig="rig"
            :view="found"
            :thing="thing"
            :may="may"
            @close="thingId = ''"
          />
          <PackProblems v-else :view="found" :may="may" @about="about" />
        </aside>
      </div>
    </main>
  </FrameShell>
</template>

<style>
.packing {
  grid-area: bench / bench / foot / foot;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  background: var(--sheet);
  border-top: 1px solid var(--rule);
  min-height: 0;
}
.at-pack .strips {
  display: none;
}
.packing h1 small {
  font: 400 var(--t-4) var(--text);
  color: var(--ink-2);
}
.pack-work {
  display: grid;
  grid-template: minmax(0, 1fr) / 208px minmax(0, 1fr) 330px;
  min-height: 0;
}
.pack-work.listed {
  grid-template: minmax(0, 1fr) / minmax(0, 1fr) 330px;
}
.pack-cases {
  overflow-y: auto;
  border-right: 1px solid var(--rule);
  scrollbar-width: thin;
}
.pack-middle {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-height: 0;
}
@media (max-width: 760px) {
  .packing {
    display: block;
  }
  .pack-work,
  .pack-work.listed {
    display: block;
  }
  .case-plan .room {
    height: 420px;
  }
  .pack-work .day-side {
    display: block;
  }
}
</style>
