<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { dropDrill, endDrill, keepDrill, lookAtDrill, readPractice } from '../api'
import type { Problem } from '../api/client'
import type { DrillRequest, DrillView, PracticeView, ResultView } from '../api/schema.gen'
import DrillBalance from '../components/drill/DrillBalance.vue'
import DrillEnd from '../components/drill/DrillEnd.vue'
import DrillMarks from '../components/drill/DrillMarks.vue'
import DrillOrder from '../components/drill/DrillOrder.vue'
import TextField from '../components/fields/TextField.vue'
import FrameShell from '../components/frame/FrameShell.vue'
import type { KeyLine } from '../composables/useKeys'
import { useLoad } from '../composables/useLoad'
import { NONE } from '../lib/places'
import { useFrame } from '../stores/frame'
import { useMe } from '../stores/me'

/** Practice on the camera that is chosen, in the part of the day that is chosen; its number makes the drill. */
type Kind = DrillRequest['kind']
const props = defineProps<{ job: string; part: string; rig: string }>()
const frame = useFrame()
const me = useMe()
const may = computed(() => ['lead', 'keeper'].includes(me.roleIn(props.job) ?? ''))
const KINDS: readonly { kind: Kind; label: string; what: string }[] = [
  { kind: 'balance', label: 'Balance', what: 'hung out of balance' },
  { kind: 'wrong link', label: 'Wrong link', what: 'what leaves a device without power, or kills it' },
  { kind: 'faults', label: 'Faults', what: 'what is wrong or forgotten' },
  { kind: 'late day', label: 'Late day', what: 'what first, with too little time' },
  { kind: 'orientation', label: 'Borrowed body', what: 'where everything is on it' },
]
const { found: practice, load, show } = useLoad<PracticeView>([])
const kind = ref<Kind>('balance')
const seed = ref(1)
const typed = ref('1')
const view = ref<DrillView | null>(null)
const result = ref<ResultView | null>(null)
const problem = ref<Problem | null>(null)
const busy = ref(false)
const moves = ref<NonNullable<DrillRequest['moves']>>([])
const marks = ref<string[]>([])
const hints = ref(0)
const balance = useTemplateRef<InstanceType<typeof DrillBalance>>('balance')
const rigged = useTemplateRef<InstanceType<typeof DrillMarks>>('rigged')

const keptUnder = computed(
  () => `lift-crate-drill ${props.job} ${kind.value} ${props.part} ${props.rig} ${String(seed.value)}`,
)
/** What was done so far is on this device: a drill that is left goes on where it was. */
function remember(): void {
  sessionStorage.setItem(
    keptUnder.value,
    JSON.stringify({ moves: moves.value, marks: marks.value, hints: hints.value }),
  )
}
function recall(): void {
  const was = JSON.parse(sessionStorage.getItem(keptUnder.value) ?? '{}') as Partial<DrillRequest>
  moves.value = was.moves ?? []
  marks.value = was.marks ?? []
  hints.value = was.hints ?? 0
}
const asked = (): DrillRequest => ({
  kind: kind.value,
  part: props.part,
  rig: props.rig,
  seed: seed.value,
  moves: moves.value,
  marks: marks.value,
  hints: hints.value,
})
let last = 0
let first = true
/** What the last answer was to: what failed after it was not done, and a hint that never came costs nothing. */
let answered = { moves: moves.value, hints: 0 }
async function look(ask = false): Promise<void> {
  const mine = ++last
  const sent = asked()
  busy.value = true
  problem.value = null
  try {
    const next = await lookAtDrill(props.job, { ...sent, ask })
    if (mine !== last) return
    view.value = next
    answered = { moves: sent.moves ?? [], hints: sent.hints ?? 0 }
  } catch (error) {
    if (mine !== last) return
    const p = error as Problem
    // Who comes here from a camera on no gimbal finds what that camera can be practised with.
    if (first && kind.value === 'balance' && p.status === 422) kind.value = 'faults'
    else problem.value = p
    if (view.value) {
      moves.value = answered.moves
      hints.value = answered.hints
      remember()
    }
  } finally {
    first = false
    if (mine === last) busy.value = false
  }
}
async function begin(): Promise<void> {
  result.value = null
  view.value = null
  if (props.rig === NONE) return
  recall()
  await look()
}
function fresh(): void {
  sessionStorage.removeItem(keptUnder.value)
  void begin()
}
watch(
  () => [props.job, props.part, props.rig, kind.value, seed.value],
  () => {
    typed.value = String(seed.value)
    void begin()
  },
  { immediate: true },
)
watch(
  () => props.job,
  (job) => {
    void load(() => readPractice(job))
    void frame.open(job)
  },
  { immediate: true },
)
async function move(slide: DrillView['slides'][number]['name'], reading: number): Promise<void> {
  moves.value = [...moves.value, { slide, reading }]
  // What is counted on the screen is kept, also when the page is gone before the answer comes.
  remember()
  await look()
}
function mark(unit: string): void {
  const at = marks.value.indexOf(unit)
  // What rests on a task that is taken out of the order goes with it.
  if (at >= 0)
    marks.value = kind.value === 'late day' ? marks.value.slice(0, at) : marks.value.filter((u) => u !== unit)
  else marks.value = [...marks.value, unit]
  remember()
}
async function hint(): Promise<void> {
  hints.value += 1
  remember()
  await look(true)
}
async function end(): Promise<void> {
  busy.value = true
  problem.value = null
  try {
    result.value = await endDrill(props.job, asked())
    sessionStorage.removeItem(keptUnder.value)
    show(await readPractice(props.job))
  } catch (error) {
    problem.value = error as Problem
  } finally {
    busy.value = false
  }
}
function number(): void {
  const n = Math.round(Number(typed.value))
  if (n >= 1 && n <= 9999) seed.value = n
  else typed.value = String(seed.value)
}
const title = ref('')
async function keep(): Promise<void> {
  problem.value = null
  try {
    const which = { kind: kind.value, part: props.part, rig: props.rig, seed: seed.value }
    show(await keepDrill(props.job, { ...which, title: title.value.trim() }))
    title.value = ''
  } catch (error) {
    problem.value = error as Problem
  }
}
async function drop(id: number): Promise<void> {
  show(await dropDrill(props.job, id))
}
function toKept(k: PracticeView['kept'][number]): void {
  kind.value = k.kind
  seed.value = k.seed
  if (k.part !== props.part || k.rig !== props.rig) window.location.assign(`/${props.job}/drill/${k.part}/${k.rig}`)
}
const mean = computed(() => {
  const all = practice.value?.played ?? []
  return KINDS.flatMap(({ kind: k, label }) => {
    const mine = all.filter((p) => p.kind === k)
    const recent = mine.slice(0, 5)
    if (!recent.length) return []
    const points = recent.reduce((sum, p) => sum + p.points, 0) / recent.length
    return [{ label, count: mine.length, points: Math.round(points), won: mine.filter((p) => p.won).length }]
  })
})
const keys: KeyLine[] = [
  { keys: 'q', does: 'let go: tilt level', run: () => balance.value?.choose(0) },
  { keys: 'w', does: 'let go: lens up', run: () => balance.value?.choose(1) },
  { keys: 'e', does: 'let go: roll', run: () => balance.value?.choose(2) },
  { keys: 'r', does: 'let go: pan', run: () => balance.value?.choose(3) },
  { keys: 'v', does: 'from another side', run: () => rigged.value?.turn() },
  { keys: 'h', does: 'a hint', run: () => void hint() },
  { keys: 'Enter', does: 'finish it', run: () => (result.value ? undefined : void end()) },
  { keys: 'n', does: 'the next number', run: () => (seed.value = (seed.value % 9999) + 1) },
]
</script>

<template>
  <FrameShell :job="job" :part="part" :rig="rig" place="drill" :keys="keys" :findables="() => []" @imported="begin()">
    <main class="drilling">
      <header class="day-bar">
        <h1>Drill</h1>
        <BButton
          v-for="k in KINDS"
          :key="k.kind"
          :aria-pressed="kind === k.kind"
          :title="k.what"
          @click="kind = k.kind"
          >{{ k.label }}</BButton
        >
        <form class="drill-number" @submit.prevent="number">
          <label
            >Number <BFormInput v-model="typed" inputmode="numeric" aria-label="Number of the drill" @change="number"
          /></label>
          <BButton @click="seed = (seed % 9999) + 1">Next</BButton>
        </form>
      </header>
      <div class="drill-work">
        <section class="drill-play" aria-label="The drill" :aria-busy="busy">
          <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
          <p v-if="rig === NONE" class="quiet">A drill is played on a camera of this job. Make one under Job.</p>
          <p v-else-if="!view && !problem" class="quiet">Making the drill…</p>
          <template v-if="view">
            <h2>{{ view.title }}</h2>
            <p class="drill-task">{{ view.task }}</p>
            <p v-if="view.caution" class="caution">{{ view.caution }}</p>
            <p v-if="view.hint && !result" class="drill-hint">{{ view.hint }}</p>
            <DrillEnd v-if="result" :result="result" />
            <template v-else>
              <DrillBalance
                v-if="view.kind === 'balance'"
                ref="balance"
                :view="view"
                :moves="moves.length"
                @move="move"
              />
              <DrillMarks
                v-else-if="view.kind === 'faults' || view.kind === 'wrong link'"
                ref="rigged"
                :view="view"
                :marks="marks"
                @mark="mark"
              />
              <DrillOrder v-else-if="view.kind === 'late day'" :view="view" :order="marks" @put="mark" />
              <ul v-else class="drill-things">
                <li v-for="t in view.things" :key="t.id">
                  <button type="button" :aria-pressed="marks.includes(t.id)" @click="mark(t.id)">
                    <i aria-hidden="true"></i>
                    <span
                      ><b>{{ t.plain }}</b> <small>{{ t.technical }}{{ t.known ? '' : ', not entered yet' }}</small>
                      <small>{{ t.why }}</small></span
                    >
                  </button>
                </li>
              </ul>
            </template>
            <div class="drill-acts">
              <BButton v-if="!result" variant="primary" :disabled="busy" @click="end">Finish</BButton>
              <BButton v-if="!result" :disabled="busy" @click="hint"
                >Hint, 10 points{{ hints ? ` (${String(hints)})` : '' }}</BButton
              >
              <BButton @click="fresh">{{ result ? 'Once more' : 'From the start' }}</BButton>
              <BButton v-if="result" @click="seed = (seed % 9999) + 1">Next number</BButton>
            </div>
          </template>
        </section>
        <aside class="drill-side">
          <h2>Put up for the crew</h2>
          <ul v-if="practice?.kept.length">
            <li v-for="k in practice.kept" :key="k.id">
              <button type="button" @click="toKept(k)">
                <b>{{ k.title }}</b> <small>{{ k.kind }}, number {{ k.seed }}, {{ k.actor }}</small>
              </button>
              <BButton v-if="may" size="sm" :aria-label="`Take down ${k.title}`" @click="drop(k.id)">Take down</BButton>
            </li>
          </ul>
          <p v-else class="quiet">None. Any number of any camera can be put up under a name.</p>
          <form v-if="may" class="drill-keep" @submit.prevent="keep">
            <TextField v-model="title" aria-label="Name of this drill" placeholder="Name of this drill" />
            <BButton type="submit" :disabled="!title.trim()">Put up</BButton>
          </form>
          <h2>My practice</h2>
          <ul v-if="mean.length" class="drill-mean">
            <li v-for="m in mean" :key="m.label">
              <b>{{ m.label }}</b> <strong>{{ m.points }}</strong>
              <small>mean of the last five; {{ m.won }} of {{ m.count }} won</small>
            </li>
          </ul>
          <p v-else class="quiet">Nothing played yet.</p>
        </aside>
      </div>
    </main>
  </FrameShell>
</template>

<style>
.drill-number {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
}
.drill-number label {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
}
.drill-number input {
  width: 76px;
  font: 600 var(--t-4) var(--figures);
}
.drill-work {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 280px;
}
.drill-play {
  padding: var(--gap-6) var(--gap-7);
}
.drill-play h2 {
  font: 700 var(--t-6) var(--text);
  margin: 0;
}
.drill-task {
  margin: 0 0 var(--gap-4);
  font-size: var(--t-5);
}
.drill-hint {
  border-left: 4px solid var(--mark);
  padding: var(--gap-3) var(--gap-6);
  background: var(--mark-wash);
}
.drill-acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-5);
  margin-top: var(--gap-7);
}
.drill-acts .btn {
  min-height: 44px;
  min-width: 110px;
}
.drill-side {
  border-left: 1px solid var(--rule);
  padding: var(--gap-6) var(--gap-7);
  background: var(--sheet);
}
.drill-side h2 {
  font: 700 var(--t-4) var(--text);
  margin: var(--gap-6) 0 var(--gap-3);
}
.drill-side ul,
.drill-things {
  list-style: none;
  padding: 0;
}
.drill-side li button:not(.btn) {
  border: 0;
  background: none;
  color: inherit;
  text-align: left;
  padding: 0;
  min-height: 40px;
}
.drill-side small,
.drill-things small {
  display: block;
  color: var(--ink-3);
}
.drill-keep {
  display: flex;
  gap: var(--gap-4);
}
.drill-mean strong {
  float: right;
  font: 700 var(--t-6) var(--figures);
}
.drill-things button {
  display: flex;
  gap: var(--gap-6);
  width: 100%;
  text-align: left;
  border: 0;
  border-bottom: 1px solid var(--rule);
  background: none;
  color: inherit;
  padding: var(--gap-5) 0;
}
.drill-things i {
  flex: 0 0 22px;
  height: 22px;
  border: 2px solid var(--ink-2);
}
.drill-things button[aria-pressed='true'] i {
  background: var(--mark);
  border-color: var(--mark);
}
@media (max-width: 1000px) {
  .drill-work {
    grid-template-columns: minmax(0, 1fr);
  }
  .drill-side {
    border-left: 0;
    border-top: 1px solid var(--rule);
  }
}
</style>
