<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { dayFile, dayPaper, readDay, readRun, readSound, type JobOperation } from '../api'
import type { DayView, RunView, SoundView } from '../api/schema.gen'
import CustodyBoard from '../components/day/CustodyBoard.vue'
import CellPanel from '../components/day/CellPanel.vue'
import ChangeSheet from '../components/day/ChangeSheet.vue'
import DayTable from '../components/day/DayTable.vue'
import GearTable from '../components/day/GearTable.vue'
import SafetySheets from '../components/day/SafetySheets.vue'
import MoneyTable from '../components/day/MoneyTable.vue'
import RunSheet from '../components/day/RunSheet.vue'
import SoundTable from '../components/day/SoundTable.vue'
import VoicePanel from '../components/day/VoicePanel.vue'
import FrameShell from '../components/frame/FrameShell.vue'
import LevelMark from '../components/frame/LevelMark.vue'
import type { KeyLine } from '../composables/useKeys'
import { useLoad } from '../composables/useLoad'
import { counted } from '../lib/format'
import { freshId } from '../lib/ids'
import { NONE } from '../lib/places'
import { useFrame } from '../stores/frame'
import { useStanding } from '../stores/standing'

/** All cameras over the day: builds, who works them, what changes between. Opens to its problems. */
const props = defineProps<{ job: string; part: string; rig: string }>()
const router = useRouter()
const route = useRoute()
const frame = useFrame()
const standing = useStanding()
const { found, problem, load } = useLoad<DayView>(['build', 'job', 'jobs', 'shelf', 'cards', 'swaps'])
const VIEWS = ['cameras', 'people', 'run sheet', 'cards', 'sound', 'gear', 'money', 'safety'] as const
const headed = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1)
/** Another screen may lead to one of them: to cards, as they are. */
const shows = ref<(typeof VIEWS)[number]>(VIEWS.find((v) => v === route.query.shows) ?? 'cameras')
/** Cards: as they are dealt, or where they really are. */
const really = ref(route.query.shows === 'cards')
/** What is beside the table: its problems, a cell, or a change. */
const beside = ref<'problems' | 'cell' | 'change' | 'voice'>('problems')
const side = ref<HTMLElement | null>(null)
const copied = ref<{
  build: string
  operator: string
  unattended: boolean
  spotter: string
  rig: string
  part: string
} | null>(null)

const { found: sound, load: loadSound, show: putSound } = useLoad<SoundView>(['job', 'jobs', 'sound'])
const voiceId = ref('')
const voice = computed(() => sound.value?.voices.find((v) => v.id === voiceId.value))
/** Sound is asked for when it is looked at, and whenever the job changes then. */
watch(
  () => [shows.value === 'sound', props.job, frame.view?.version] as const,
  ([listens, job]) => {
    if (listens) void loadSound(() => readSound(job))
  },
)
function toVoice(id: string): void {
  voiceId.value = id
  beside.value = 'voice'
}
async function addVoice(): Promise<void> {
  const { id, number } = freshId('voice', sound.value?.voices.map((v) => v.id) ?? [])
  const parts = found.value?.parts.map((p) => p.id) ?? []
  if (await frame.edit({ op: 'put voice', voice: { id, label: `Voice ${String(number)}`, parts } })) toVoice(id)
}

const { found: run, steps } = useLoad<RunView>(['build', 'job', 'jobs', 'shelf'])
const late = ref({ part: '', min: 0 })
/** The run sheet as it is planned: what is only supposed is no problem of the day. */
const planned = ref<RunView | null>(null)
watch(run, (now) => {
  if (!late.value.min) planned.value = now
})
/** The rule's sheet at once; where it is looked at, better ones as they are found. */
const loadRun = (job: string): Promise<void> =>
  steps(async () => {
    const value = await readRun(job, late.value.part, late.value.min, shows.value === 'run sheet')
    return { value, last: value.searched !== 'searching' }
  }, 400)
const look = (job: string): Promise<unknown> => Promise.all([load(() => readDay(job)), loadRun(job)])
async function suppose(part: string, min: number): Promise<void> {
  late.value = { part, min }
  await loadRun(props.job)
}
watch(shows, (now) => {
  if (now !== 'sound' && beside.value === 'voice') beside.value = 'problems'
  if (now === 'run sheet') void loadRun(props.job)
})
/** What stands against the day, its run sheet as it is planned among it. */
const against = computed(() => {
  const all = [...(found.value?.findings ?? []), ...(planned.value?.days ?? []).flatMap((d) => d.findings)]
  return all.sort((a, b) => Number(b.level === 'stop') - Number(a.level === 'stop'))
})

standing.follow('day', () => (found.value ? against.value : undefined))

watch(
  () => props.job,
  async (job) => {
    void look(job)
    await frame.open(job)
  },
  { immediate: true },
)
watch(
  () => frame.view?.version,
  (now, was) => {
    if (was !== undefined && now !== undefined) void look(props.job)
  },
)
const at = computed(() => found.value?.cells.find((c) => c.part === props.part && c.rig === props.rig))
const stops = computed(() => against.value.filter((f) => f.level === 'stop').length)

function toProblems(): void {
  beside.value = 'problems'
  if (window.matchMedia('(max-width: 760px)').matches) shows.value = 'cameras'
}
async function choose(part: string, rig: string, what: typeof beside.value = 'cell'): Promise<void> {
  beside.value = what
  if (part !== props.part || rig !== props.rig)
    await router.replace({ name: 'day', params: { job: props.job, part, rig } })
  await nextTick()
  // On a phone it stands above the table, out of sight.
  if (window.matchMedia('(max-width: 760px)').matches) side.value?.scrollIntoView()
}
/** What stands against the day is about a camera in a part of it: 'camera part'. */
async function toProblem(code: string, about: string): Promise<void> {
  if (code === 'day.two_places') {
    shows.value = 'people'
    return
  }
  if (code.startsWith('safe.')) {
    shows.value = 'safety'
    return
  }
  const [rig, part] = about.split(' ')
  if (code === 'day.no_time') {
    shows.value = 'run sheet'
    return
  }
  if (code === 'pool.single') {
    shows.value = 'gear'
    return
  }
  if (code.startsWith('sound.') || code.startsWith('audio.')) {
    shows.value = 'sound'
    if (rig === 'voice' && part) toVoice(part)
    return
  }
  if (code.startsWith('media.')) {
    shows.value = 'cards'
    return
  }
  shows.value = 'cameras'
  // What happens once stands under the table, with all of its cameras.
  if (code === 'day.angles') return
  if (rig && part) await choose(part, rig, code === 'day.change' ? 'change' : 'cell')
}

const cellNow = () => ({ rig: props.rig, part: props.part })
async function act(key: string): Promise<void> {
  const put = copied.value
  if (key === 'c' && at.value) copied.value = { ...at.value }
  else if (key === 'Delete' && at.value) await frame.edit({ op: 'plan build', ...cellNow(), build: null })
  else if (key === 'v' && put) {
    const edits: JobOperation[] = put.rig === props.rig ? [{ op: 'plan build', ...cellNow(), build: put.build }] : []
    if (put.rig !== props.rig && !at.value) return
    await frame.edit(...edits, {
      op: 'set cell',
      ...cellNow(),
      operator: put.operator,
      unattended: put.unattended,
      spotter: put.spotter,
    })
  } else if (key === 'x') await exchange()
  else if (key === 'Enter') beside.value = 'cell'
}
/** The build copied before and the one here change places, in their parts of the day. */
async function exchange(): Promise<void> {
  const one = copied.value
  const from = found.value?.cells.find((c) => c.rig === one?.rig && c.part === one.part && c.part !== props.part)
  const here = at.value
  if (!one || !from || !here || one.rig !== props.rig) return
  await frame.edit(
    { op: 'plan build', rig: from.rig, part: from.part, build: here.build },
    { op: 'plan build', ...cellNow(), build: from.build },
  )
}
const keys: KeyLine[] = [
  { keys: 'u', does: 'undo', run: () => frame.undo() },
  {
    keys: 'p',
    does: 'cameras, people, run sheet, cards, sound, gear, money',
    run: () => (shows.value = VIEWS[(VIEWS.indexOf(shows.value) + 1) % VIEWS.length] ?? 'cameras'),
  },
  { keys: 'w', does: 'what is wrong', run: () => (beside.value = 'problems') },
  { keys: '← → ↑ ↓', does: 'in the table: the cell beside', run: () => undefined, when: () => false },
  { keys: 'c v', does: 'in the table: copy a cell, put it here', run: () => undefined, when: () => false },
  { keys: 'x', does: 'in the table: exchange with the copied one', run: () => undefined, when: () => false },
  { keys: 'Del', does: 'in the table: not there', run: () => undefined, when: () => false },
]
</script>

<template>
  <FrameShell :job="job" :part="part" :rig="rig" place="day" :keys="keys" :findables="() => []" @imported="look(job)">
    <main class="whole-day">
      <header class="day-bar">
        <h1>The day</h1>
        <BButton v-for="v in VIEWS" :key="v" :aria-pressed="shows === v" @click="shows = v">{{ headed(v) }}</BButton>
        <BLink
          v-if="shows === 'cameras' || shows === 'people'"
          class="btn btn-secondary"
          :href="dayPaper(job, 'day')"
          target="_blank"
          >PDF</BLink
        >
        <BLink v-if="shows === 'cameras'" class="btn btn-secondary" :href="dayFile(job, 'day.ics')">Calendar</BLink>
        <template v-if="shows === 'cards'">
          <BButton :aria-pressed="!really" @click="really = false">As dealt</BButton>
          <BButton :aria-pressed="really" @click="really = true">As it is</BButton>
          <BLink v-if="!really" class="btn btn-secondary" :href="dayFile(job, 'cards.csv')">CSV</BLink>
        </template>
        <BLink v-if="shows === 'gear'" class="btn btn-secondary" :href="dayFile(job, 'gear.csv')">CSV</BLink>
        <span class="rest"></span>
        <BButton
          v-if="frame.view"
          :disabled="!frame.view.can_undo || frame.busy"
          :title="frame.view.can_undo ?? undefined"
          @click="frame.undo()"
          >Undo</BButton
        >
        <BButton :aria-pressed="beside === 'problems'" :class="{ 'has-stops': stops }" @click="toProblems">{{
          against.length ? counted(against.length, 'problem') : 'No problems'
        }}</BButton>
      </header>
      <p v-if="problem" class="trouble">{{ problem.message }}</p>
      <p v-else-if="!found" class="quiet">Laying out the day…</p>
      <p v-else-if="!found.parts.length || !found.rigs.length" class="quiet">
        A day needs parts and cameras first. Make them under
        <BLink :to="{ name: 'job', params: { job, part, rig } }">Job</BLink>.
      </p>
      <div v-else class="day-work">
        <GearTable v-if="shows === 'gear'" :job="job" :view="found" :version="frame.view?.version ?? 0" />
        <SoundTable
          v-else-if="shows === 'sound'"
          :job="job"
          :view="found"
          :sound="sound"
          :part="part"
          :voice="beside === 'voice' ? voiceId : ''"
          @voice="toVoice"
          @part="(p) => choose(p, rig, beside)"
          @add="addVoice"
        />
        <SafetySheets v-else-if="shows === 'safety'" :job="job" :version="frame.view?.version" />
        <MoneyTable
          v-else-if="shows === 'money'"
          :job="job"
          :part="part"
          :rig="rig"
          :version="frame.view?.version ?? 0"
        />
        <CustodyBoard
          v-else-if="shows === 'cards' && really"
          :job="job"
          :view="found"
          :part="part"
          :version="frame.view?.version ?? 0"
        />
        <RunSheet
          v-else-if="shows === 'run sheet'"
          :job="job"
          :view="found"
          :run="run"
          :part="part"
          :late="late"
          @late="(p, min) => suppose(p, min)"
        />
        <DayTable
          v-else
          :view="found"
          :part="part"
          :rig="rig"
          :shows="shows"
          :sheet="beside === 'change'"
          @cell="(p, r) => choose(p, r)"
          @change="(p, r) => choose(p, r, 'change')"
          @key="act"
        />
        <aside
          v-if="!(shows === 'cards' && really)"
          ref="side"
          class="day-side"
          :class="{ aside: shows !== 'cameras' && beside === 'problems' }"
        >
          <ChangeSheet
            v-if="beside === 'change' && rig !== NONE"
            :job="job"
            :part="part"
            :rig="rig"
            :version="frame.view?.version ?? 0"
            @close="beside = 'cell'"
          />
          <VoicePanel
            v-else-if="beside === 'voice' && sound && voice"
            :key="voice.id"
            :job="job"
            :view="found"
            :sound="sound"
            :voice="voice"
            :things="sound.things"
            @gone="beside = 'problems'"
            @noted="putSound"
          />
          <CellPanel
            v-else-if="beside === 'cell' && rig !== NONE"
            :view="found"
            :job="job"
            :part="part"
            :rig="rig"
            @change="beside = 'change'"
          />
          <section v-else class="day-problems" aria-label="What stands against the day">
            <p class="verdict" :class="stops ? 'stop' : against.length ? 'watch' : 'clear'">
              {{ stops ? counted(stops, 'Stop') : against.length ? 'No Stop' : 'The day holds' }}
            </p>
            <ul>
              <li v-for="f in against" :key="f.key">
                <button type="button" @click="toProblem(f.code, f.units[0] ?? '')">
                  <LevelMark :level="f.level" :size="16" />
                  <span
                    ><b>{{ f.title }}</b
                    >{{ f.text }}<small>{{ f.cures }}</small></span
                  >
                </button>
              </li>
            </ul>
            <p v-if="!against.length" class="quiet">
              Every change fits its gap, nobody is in two places, unattended cameras last, and there are cards for all.
            </p>
          </section>
        </aside>
      </div>
    </main>
  </FrameShell>
</template>

<style>
.whole-day {
  grid-area: bench / bench / foot / foot;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  background: var(--sheet);
  border-top: 1px solid var(--rule);
  min-height: 0;
}
.at-day .strips {
  display: none;
}
.day-work {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 336px;
  min-height: 0;
}
.day-problems li button {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: var(--gap-5);
  text-align: left;
  width: 100%;
  padding: var(--gap-5) 0;
  border-top: 1px solid var(--rule-2);
  font-size: var(--t-3);
  font-weight: 400;
}
.day-problems li b {
  display: block;
  font-size: var(--t-4);
  font-weight: 600;
}
.day-problems li small {
  display: block;
  color: var(--ink-2);
}
.day-problems .verdict {
  font: 700 var(--t-7) var(--text);
  padding: var(--gap-4) var(--gap-5);
  margin-bottom: var(--gap-4);
}
@media (max-width: 760px) {
  .whole-day {
    display: block;
  }
  .day-work {
    display: flex;
    flex-direction: column-reverse;
  }
  /* What was chosen comes first on a phone; the problems are one press away. */
  .day-side.aside {
    display: none;
  }
}
</style>
