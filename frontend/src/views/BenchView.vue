<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import BuildList from '../components/BuildList.vue'
import CallOuts from '../components/CallOuts.vue'
import CameraStrips from '../components/CameraStrips.vue'
import DayRibbon from '../components/DayRibbon.vue'
import FinderDialog, { type Findable } from '../components/FinderDialog.vue'
import FootFigures from '../components/FootFigures.vue'
import JobDialog from '../components/JobDialog.vue'
import KeysDialog from '../components/KeysDialog.vue'
import NoticeBar from '../components/NoticeBar.vue'
import PlaceStrap from '../components/PlaceStrap.vue'
import PortPicker from '../components/PortPicker.vue'
import RigDrawing from '../components/RigDrawing.vue'
import { useKeys, type KeyLine } from '../composables/useKeys'
import { useAppearance } from '../stores/appearance'
import { useBench } from '../stores/bench'
import { useJob } from '../stores/job'

const props = defineProps<{ job: string; part: string; rig: string }>()
const router = useRouter()
const frame = useJob()
const bench = useBench()
const appearance = useAppearance()
const list = ref<InstanceType<typeof BuildList> | null>(null)
const callouts = ref<InstanceType<typeof CallOuts> | null>(null)
const picking = ref<{ unit: string; port: string } | null>(null)
const finding = ref(false)
const keysShown = ref(false)
const jobShown = ref(false)
const side = ref<'build' | 'callouts'>('callouts')

watch(() => [props.job, props.part, props.rig] as const, async ([job, part, rig]) => {
  picking.value = null
  frame.partId = part
  frame.rigId = rig
  await Promise.all([frame.open(job), frame.look(job, part), bench.open({ job, part, rig })])
}, { immediate: true })

/** Where the last key press leads: fast presses count on from there, not from the screen that is still shown. */
let aim: { part: string; rig: string } | null = null
async function go(to: { part?: string; rig?: string }): Promise<void> {
  const mine = { part: props.part, rig: props.rig, ...aim, ...to }
  aim = mine
  await router.push({ name: 'bench', params: { job: props.job, ...mine } })
  if (aim === mine) aim = null
}
const selectedRow = computed(() => bench.row)

function pick(unit: string, port: string): void {
  bench.selected = unit
  picking.value = { unit, port }
}

async function closePicker(): Promise<void> {
  const was = picking.value
  picking.value = null
  await nextTick()
  if (!was) return
  const kept = bench.selected === was.unit ? `[data-port="${was.unit}/${was.port}"]` : `[data-unit="${bench.selected}"]`
  await list.value?.focusOn(kept)
}

async function imported(job: string): Promise<void> {
  frame.forget()
  jobShown.value = false
  if (job === props.job) {
    await Promise.all([frame.open(job), frame.look(job, props.part), bench.open({ job, part: props.part, rig: props.rig })])
  } else await router.push('/')
}

function slide(mm: number): void {
  const row = selectedRow.value
  if (row?.slides) void bench.slideBy(row.unit, mm)
}

function off(): void {
  const row = selectedRow.value
  if (row?.parent) void bench.edit({ op: 'detach', unit: row.unit })
}

const command = (event: KeyboardEvent, key: string, shift: boolean): boolean =>
  (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === key && event.shiftKey === shift

let numbering = ''
const lines: KeyLine[] = [
  { keys: '[ ]', does: 'part of the day before, after', when: (e) => e.key === '[' || e.key === ']', run: (k) => go({ part: frame.partBeside(aim?.part ?? props.part, k === '[' ? -1 : 1) }) },
  { keys: '1 … 9, 0', does: 'camera of that number; c and two digits for more', when: (e) => /^\d$/.test(e.key) && !e.ctrlKey && !e.metaKey, run: number },
  { keys: 'c', does: 'then the number of a camera', run: () => { numbering = 'c' } },
  { keys: 'b', does: 'to the build; ↑ ↓ walk parts and ports, Enter on a port lists what goes there', run: () => { side.value = 'build'; return list.value?.focusOn(`[data-unit="${bench.selected}"]`) } },
  { keys: 'f', does: 'to the call-outs; Enter opens one with its remedies, Enter on a remedy takes it', run: () => { side.value = 'callouts'; return callouts.value?.focusOn('.callout') } },
  { keys: ', .', does: 'slide the part 1 mm back, forward', when: (e) => e.key === ',' || e.key === '.', run: (k) => { slide(k === ',' ? -1 : 1) } },
  { keys: '< >', does: 'slide the part 10 mm back, forward', when: (e) => e.key === '<' || e.key === '>', run: (k) => { slide(k === '<' ? -10 : 10) } },
  { keys: 'r', does: 'turn the part', run: () => selectedRow.value?.parent && bench.edit({ op: 'turn', unit: bench.selected, steps: 1 }) },
  { keys: 'x', does: 'take the part off (also Delete)', when: (e) => (e.key === 'x' && !e.ctrlKey && !e.metaKey) || e.key === 'Delete', run: off },
  { keys: 'u', does: 'undo (also Ctrl Z)', when: (e) => (e.key === 'u' && !e.ctrlKey) || command(e, 'z', false), run: () => bench.undo() },
  { keys: 'U', does: 'redo (also Ctrl Shift Z)', when: (e) => e.key === 'U' || command(e, 'z', true), run: () => bench.redo() },
  { keys: '/', does: 'find anything', run: () => { finding.value = true } },
  { keys: 'n', does: 'day or night appearance', run: () => { appearance.toggle() } },
  { keys: '?', does: 'these keys', run: () => { keysShown.value = true } },
  { keys: 'Escape', does: 'close what is open', run: () => closePicker() },
]
useKeys(() => lines, () => finding.value || keysShown.value || jobShown.value)

function number(key: string): void {
  if (numbering) {
    numbering += key
    if (numbering.length < 3) return
  }
  const wanted = numbering ? Number(numbering.slice(1)) : key === '0' ? 10 : Number(key)
  numbering = ''
  const rig = frame.job?.rigs.find((r) => r.number === wanted)
  if (rig) void go({ rig: rig.id })
}

function findables(): Findable[] {
  const show = (unit: string) => (): void => { side.value = 'build'; bench.selected = unit; void list.value?.focusOn(`[data-unit="${unit}"]`) }
  return [
    ...(bench.view?.rows ?? []).map((r) => ({ kind: 'unit', name: r.unit, more: r.title, go: show(r.unit) })),
    ...(frame.job?.rigs ?? []).map((r) => ({ kind: 'camera', name: `${r.number} ${r.label}`, more: r.position, go: () => go({ rig: r.id }) })),
    ...(frame.job?.parts ?? []).map((p) => ({ kind: 'part of the day', name: p.label, more: `${p.starts.slice(0, 10)} ${p.starts.slice(11, 16)}`, go: () => go({ part: p.id }) })),
    ...(bench.view?.findings ?? []).filter((x) => x.level !== 'clear').map((x) => ({ kind: x.level, name: x.title, more: x.text, go: () => { side.value = 'callouts'; return callouts.value?.focusOn('.callout') } })),
    { kind: 'command', name: 'Undo', more: bench.view?.can_undo ?? 'nothing to undo', go: () => bench.undo() },
    { kind: 'command', name: 'Redo', more: bench.view?.can_redo ?? 'nothing to redo', go: () => bench.redo() },
    { kind: 'command', name: 'Strip to the bare body', more: 'takes everything off; can be undone', go: () => bench.edit({ op: 'strip' }) },
    { kind: 'command', name: 'Job file', more: 'save or read a job file', go: () => { jobShown.value = true } },
    { kind: 'command', name: 'Day or night appearance', more: '', go: () => { appearance.toggle() } },
  ]
}
</script>

<template>
  <div class="frame">
    <header class="head">
      <button type="button" class="job-name" title="Save or read a job file" @click="jobShown = true">{{ frame.job?.title ?? 'Lift Crate' }}</button>
      <DayRibbon @choose="go({ part: $event })" />
    </header>
    <PlaceStrap :counts="frame.strips?.counts ?? null" @find="finding = true" @keys="keysShown = true" />
    <CameraStrips @choose="go({ rig: $event })" />
    <NoticeBar />
    <main class="bench" :class="`show-${side}`">
      <div class="bench-bar">
        <div class="halves" role="tablist" aria-label="Beside the drawing">
          <button type="button" role="tab" :aria-selected="side === 'callouts'" @click="side = 'callouts'">Call-outs</button>
          <button type="button" role="tab" :aria-selected="side === 'build'" @click="side = 'build'">Build</button>
        </div>
        <h1 v-if="bench.view"><b>{{ bench.view.rig_label }}</b> {{ bench.view.build_label }}</h1>
        <button type="button" class="small-act" :disabled="!bench.view?.can_undo" :title="bench.view?.can_undo ?? 'Nothing to undo'" @click="bench.undo()">Undo</button>
        <button type="button" class="small-act" :disabled="!bench.view?.can_redo" :title="bench.view?.can_redo ?? 'Nothing to redo'" @click="bench.redo()">Redo</button>
      </div>
      <BuildList ref="list" @port="pick" />
      <RigDrawing v-if="bench.view" @port="pick" />
      <PortPicker v-if="picking" :unit="picking.unit" :port="picking.port" @close="closePicker" />
      <CallOuts v-show="!picking" ref="callouts" />
    </main>
    <FootFigures />
    <FinderDialog v-model="finding" :all="findables" />
    <KeysDialog v-model="keysShown" :lines="lines" />
    <JobDialog v-model="jobShown" :job="job" @imported="imported" />
  </div>
</template>
