<script setup lang="ts">
import { BButton, BButtonGroup } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, defineAsyncComponent, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import BuildList from '../components/bench/BuildList.vue'
import CallOuts from '../components/bench/CallOuts.vue'
import FootFigures from '../components/bench/FootFigures.vue'
import RigDrawing from '../components/bench/RigDrawing.vue'
import ChoiceField from '../components/fields/ChoiceField.vue'
import type { Findable } from '../components/frame/FinderDialog.vue'
import FrameShell from '../components/frame/FrameShell.vue'
import type { KeyLine } from '../composables/useKeys'
import type { Choice } from '../lib/fields'
import { vTip } from '../lib/tip'
import { useBench } from '../stores/bench'

const AddAnything = defineAsyncComponent(() => import('../components/bench/AddAnything.vue'))
const ExchangePicker = defineAsyncComponent(() => import('../components/bench/ExchangePicker.vue'))
const LeaveOff = defineAsyncComponent(() => import('../components/bench/LeaveOff.vue'))
const HistoryPanel = defineAsyncComponent(() => import('../components/bench/HistoryPanel.vue'))
const ProposePicker = defineAsyncComponent(() => import('../components/bench/ProposePicker.vue'))
const PlacePicker = defineAsyncComponent(() => import('../components/bench/PlacePicker.vue'))
const PortPicker = defineAsyncComponent(() => import('../components/bench/PortPicker.vue'))

const props = defineProps<{ job: string; part: string; rig: string }>()
const router = useRouter()
const route = useRoute()
const bench = useBench()
const list = ref<InstanceType<typeof BuildList> | null>(null)
const callouts = ref<InstanceType<typeof CallOuts> | null>(null)
const drawing = ref<InstanceType<typeof RigDrawing> | null>(null)
const picking = ref<{ unit: string; port: string } | null>(null)
const placing = ref('')
const adding = ref(false)
const exchanging = ref('')
const proposing = ref(false)
const history = ref(false)
const leaving = ref(false)
const side = ref<'build' | 'callouts'>('callouts')

watch(
  () => [props.job, props.part, props.rig] as const,
  async ([job, part, rig]) => {
    closeAll()
    placing.value = typeof route.query.place === 'string' ? route.query.place : ''
    if (route.query.was) showHistory()
    await bench.open({ job, part, rig })
  },
  { immediate: true },
)

const selectedRow = computed(() => bench.row)
const here = computed(() => ({ job: props.job, part: props.part, rig: props.rig }))

function closeAll(): void {
  picking.value = null
  placing.value = exchanging.value = ''
  adding.value = proposing.value = history.value = leaving.value = false
}

function pick(unit: string, port: string): void {
  closeAll()
  bench.selected = unit
  picking.value = { unit, port }
}

function place(unit: string): void {
  closeAll()
  placing.value = unit
}

function add(): void {
  closeAll()
  adding.value = true
}

function leaveOff(): void {
  closeAll()
  leaving.value = true
}

function showHistory(): void {
  closeAll()
  history.value = true
}

function propose(): void {
  closeAll()
  proposing.value = true
}

function exchange(): void {
  closeAll()
  exchanging.value = bench.selected
}

async function closePicker(): Promise<void> {
  const was = picking.value
  const placed = placing.value || exchanging.value || (adding.value || proposing.value ? bench.selected : '')
  closeAll()
  if (route.query.place ?? route.query.was) void router.replace({ query: {} })
  await nextTick()
  if (placed) await list.value?.focusOn(`[data-unit="${bench.selected}"]`)
  if (!was) return
  const kept = bench.selected === was.unit ? `[data-port="${was.unit}/${was.port}"]` : `[data-unit="${bench.selected}"]`
  await list.value?.focusOn(kept)
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

const keys: KeyLine[] = [
  {
    keys: 'b',
    does: 'to the build; ↑ ↓ walk parts and ports, Enter on a port lists what goes there',
    run: () => {
      side.value = 'build'
      return list.value?.focusOn(`[data-unit="${bench.selected}"]`)
    },
  },
  {
    keys: 'f',
    does: 'to the call-outs; Enter opens one with its remedies, Enter on a remedy takes it',
    run: () => {
      side.value = 'callouts'
      return callouts.value?.focusOn('.callout')
    },
  },
  { keys: 'a', does: 'add anything: a few letters, ← → other places, Enter takes it', run: add },
  { keys: 'i', does: 'leave off: what each part costs and gives today', run: leaveOff },
  { keys: 'y', does: 'history of this build', run: showHistory },
  { keys: 'o', does: 'propose a whole build from what is free', run: propose },
  { keys: 'e', does: 'exchange the part or the body, keeping what still goes', run: exchange },
  {
    keys: 'w',
    does: 'where else the part can go',
    run: () => {
      if (selectedRow.value?.parent) place(bench.selected)
    },
  },
  {
    keys: ', .',
    does: 'slide the part 1 mm back, forward',
    when: (e) => e.key === ',' || e.key === '.',
    run: (k) => {
      slide(k === ',' ? -1 : 1)
    },
  },
  {
    keys: '< >',
    does: 'slide the part 10 mm back, forward',
    when: (e) => e.key === '<' || e.key === '>',
    run: (k) => {
      slide(k === '<' ? -10 : 10)
    },
  },
  {
    keys: 'r',
    does: 'turn the part',
    run: () => selectedRow.value?.parent && bench.edit({ op: 'turn', unit: bench.selected, steps: 1 }),
  },
  {
    keys: 'x',
    does: 'take the part off (also Delete)',
    when: (e) => (e.key === 'x' && !e.ctrlKey && !e.metaKey) || e.key === 'Delete',
    run: off,
  },
  {
    keys: 'u',
    does: 'undo (also Ctrl Z)',
    when: (e) => (e.key === 'u' && !e.ctrlKey) || command(e, 'z', false),
    run: () => bench.undo(),
  },
  {
    keys: 'U',
    does: 'redo (also Ctrl Shift Z)',
    when: (e) => e.key === 'U' || command(e, 'z', true),
    run: () => bench.redo(),
  },
  {
    keys: '+ −',
    does: 'draw nearer, farther',
    when: (e) => ['+', '=', '-'].includes(e.key) && !e.ctrlKey && !e.metaKey,
    run: (k) => {
      drawing.value?.nearer(k === '-' ? 1 / 1.25 : 1.25)
    },
  },
  {
    keys: 'z',
    does: 'fit the drawing to its frame',
    run: () => {
      drawing.value?.fit()
    },
  },
  {
    keys: 's',
    does: 'the rig in space, and back to the elevations',
    run: () => {
      drawing.value?.look()
    },
  },
  {
    keys: 'd',
    does: 'joints and dimension lines',
    run: () => {
      drawing.value?.toggleDimensions()
    },
  },
  { keys: 'v', does: 'compare with another build', run: () => router.push({ name: 'compare', params: here.value }) },
  { keys: 'l', does: 'every lens on this body', run: () => router.push({ name: 'lenses', params: here.value }) },
  { keys: 'p', does: 'build sheet', run: () => router.push({ name: 'sheet', params: here.value }) },
  { keys: 'Escape', does: 'close what is open', run: () => closePicker() },
]

function findables(): Findable[] {
  const show = (unit: string) => (): void => {
    side.value = 'build'
    bench.selected = unit
    void list.value?.focusOn(`[data-unit="${unit}"]`)
  }
  return [
    ...(bench.view?.rows ?? []).map((r) => ({ kind: 'unit', name: r.unit, more: r.title, go: show(r.unit) })),
    ...(bench.view?.findings ?? [])
      .filter((x) => x.level !== 'clear')
      .map((x) => ({
        kind: x.level,
        name: x.title,
        more: x.text,
        go: () => {
          side.value = 'callouts'
          return callouts.value?.focusOn('.callout')
        },
      })),
    { kind: 'command', name: 'Undo', more: bench.view?.can_undo ?? 'nothing to undo', go: () => bench.undo() },
    { kind: 'command', name: 'Redo', more: bench.view?.can_redo ?? 'nothing to redo', go: () => bench.redo() },
    { kind: 'command', name: 'Leave off', more: 'what each part costs and gives today', go: leaveOff },
    { kind: 'command', name: 'History', more: 'who changed this build, and when', go: showHistory },
    { kind: 'command', name: 'Propose a build', more: 'from what is free and what is wanted', go: propose },
    {
      kind: 'command',
      name: 'Strip to the bare body',
      more: 'takes everything off; can be undone',
      go: () => bench.edit({ op: 'strip' }),
    },
    ...(bench.view?.holders ?? []).map((unit) => ({
      kind: 'command',
      name: `Hold it by ${unit}`,
      more: unit === bench.view?.held_by ? 'as it is now' : 'what carries the rig',
      go: () => bench.edit({ op: 'hold', unit }),
    })),
    {
      kind: 'command',
      name: 'Build sheet',
      more: 'print it in build order',
      go: () => router.push({ name: 'sheet', params: here.value }),
    },
    {
      kind: 'command',
      name: 'Lenses',
      more: 'every lens of the pool on this body',
      go: () => router.push({ name: 'lenses', params: here.value }),
    },
    {
      kind: 'command',
      name: 'Compare',
      more: 'with another build or rig',
      go: () => router.push({ name: 'compare', params: here.value }),
    },
  ]
}

type Use = '' | 'static' | 'walking' | 'running' | 'vehicle'
const uses = computed<Choice<Use>[]>(() => [
  { value: '', text: bench.view?.use ? 'as usual' : `${bench.view?.use_now ?? ''}, as usual` },
  { value: 'static', text: 'static' },
  { value: 'walking', text: 'walking' },
  { value: 'running', text: 'running' },
  { value: 'vehicle', text: 'on a vehicle' },
])
const carry = (use: Use) => bench.edit({ op: 'carry', use: use === '' ? null : use })
</script>

<template>
  <FrameShell
    :job="job"
    :part="part"
    :rig="rig"
    place="bench"
    :keys="keys"
    :findables="findables"
    @imported="bench.open(here)"
  >
    <main class="bench" :class="`show-${side}`">
      <div class="bench-bar">
        <BButtonGroup class="halves" role="tablist" aria-label="Beside the drawing">
          <BButton role="tab" :aria-selected="side === 'callouts'" @click="side = 'callouts'">Call-outs</BButton>
          <BButton role="tab" :aria-selected="side === 'build'" @click="side = 'build'">Build</BButton>
        </BButtonGroup>
        <h1>
          <b>{{ bench.view?.rig_label ?? 'The Bench' }}</b> {{ bench.view?.build_label }}
          <small v-if="bench.view && !bench.view.planned" class="not-planned">not planned now</small>
        </h1>
        <label v-if="bench.view" class="carried">
          <ChoiceField
            :model-value="(bench.view.use ?? '') as Use"
            aria-label="How the rig is carried"
            :choices="uses"
            :commit="carry"
          />
        </label>
        <label v-if="bench.view?.held_in_doubt" class="carried"
          >held by
          <ChoiceField
            :model-value="bench.view.held_by"
            aria-label="What holds the rig"
            :choices="bench.view.holders"
            :commit="(unit: string) => bench.edit({ op: 'hold', unit })"
          />
        </label>
        <BButton variant="primary" @click="add">Add</BButton>
        <BButton @click="propose">Propose</BButton>
        <BLink class="btn btn-secondary" :to="{ name: 'lenses', params: here }">Lenses</BLink>
        <BLink class="btn btn-secondary" :to="{ name: 'compare', params: here }">Compare</BLink>
        <BLink class="btn btn-secondary" :to="{ name: 'sheet', params: here }">Build sheet</BLink>
        <BButton
          v-tip="bench.view?.can_undo ?? 'Nothing to undo'"
          :disabled="!bench.view?.can_undo"
          aria-label="Undo"
          @click="bench.undo()"
        >
          ↶
        </BButton>
        <BButton
          v-tip="bench.view?.can_redo ?? 'Nothing to redo'"
          :disabled="!bench.view?.can_redo"
          aria-label="Redo"
          @click="bench.redo()"
        >
          ↷
        </BButton>
      </div>
      <BuildList ref="list" @port="pick" @where="place" @exchange="exchange" />
      <RigDrawing v-if="bench.view" ref="drawing" :place="here" @port="pick" />
      <PortPicker v-if="picking" :unit="picking.unit" :port="picking.port" @close="closePicker" />
      <PlacePicker v-else-if="placing" :unit="placing" @close="closePicker" />
      <AddAnything v-else-if="adding" @close="closePicker" />
      <ExchangePicker v-else-if="exchanging" :unit="exchanging" @close="closePicker" />
      <HistoryPanel v-else-if="history" :was="Number(route.query.was) || undefined" @close="closePicker" />
      <LeaveOff v-else-if="leaving" @close="closePicker" />
      <ProposePicker v-else-if="proposing" @close="closePicker" />
      <CallOuts
        v-show="!picking && !placing && !adding && !exchanging && !proposing && !history && !leaving"
        ref="callouts"
      />
    </main>
    <template #foot><FootFigures /></template>
  </FrameShell>
</template>

<style>
.not-planned {
  display: block;
  color: var(--mark);
  font: 400 var(--t-2) var(--text);
}
.bench-bar {
  grid-area: bar;
  border-bottom: 1px solid var(--rule-2);
  min-height: 36px;
  display: flex;
  gap: var(--gap-4);
  align-items: center;
  padding: var(--gap-4) var(--gap-6);
  background: var(--sheet);
}
.bench-bar h1 {
  flex: 1;
  font: 400 var(--t-6)/1.2 var(--text);
  min-width: 64px;
}
.halves {
  display: none;
}
@media (max-width: 760px) {
  .bench-bar {
    order: 1;
    flex-wrap: wrap;
    padding: var(--gap-4) var(--gap-6);
    position: sticky;
    top: 0;
    z-index: 4;
    border-bottom: 1px solid var(--rule-2);
  }
  .bench-bar .btn {
    min-height: 42px;
    padding: var(--gap-4) var(--gap-7);
    font-size: var(--t-4);
  }
  .bench-bar h1 {
    order: -1;
    flex: 1 1 100%;
    font-size: var(--t-5);
  }
  .halves {
    display: flex;
    flex: 1;
  }
  .halves button {
    flex: 1;
    min-height: 42px;
    text-align: center;
    border: 1px solid var(--rule);
    background: var(--lift);
  }
  .halves button[aria-selected='true'] {
    background: var(--ink);
    color: var(--ground);
  }
}
.carried {
  font-size: var(--t-2);
  color: var(--ink-2);
  display: flex;
  gap: var(--gap-4);
  align-items: center;
}
.carried select {
  max-width: 160px;
}
.bench-bar a.btn {
  text-decoration: none;
  color: inherit;
}
@media (max-width: 760px) {
  .carried,
  .bench-bar a.btn {
    display: none;
  }
}
</style>
