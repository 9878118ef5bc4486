<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, ref, watch } from 'vue'
import { logFile, noteEntry, noteSwap, readLog, takeBackEntry, takeFigure } from '../api'
import { KEPT_HERE, type Problem } from '../api/client'
import type { EntryRequest, LogView as Log, MadeRequest } from '../api/schema.gen'
import FrameShell from '../components/frame/FrameShell.vue'
import LogBefore from '../components/log/LogBefore.vue'
import LogLearnt from '../components/log/LogLearnt.vue'
import LogPad from '../components/log/LogPad.vue'
import LogTape from '../components/log/LogTape.vue'
import LogWeather from '../components/log/LogWeather.vue'
import type { KeyLine } from '../composables/useKeys'
import { useLoad } from '../composables/useLoad'
import { counted } from '../lib/format'
import { entryId, isNow, TAPS, type LogLine, NOT_SENT } from '../lib/log'
import { useFrame } from '../stores/frame'
import { useMe } from '../stores/me'
import { useOutbox } from '../stores/outbox'

/** What was planned beside what happened; what the figures learn from it; the weather. */
const props = defineProps<{ job: string; part: string; rig: string }>()
const frame = useFrame()
const me = useMe()
const outbox = useOutbox()
const role = computed(() => me.roleIn(props.job))
const may = computed(() => role.value === 'lead' || role.value === 'keeper' || role.value === 'operator')
const keeps = computed(() => me.me?.house === 'lead' || me.me?.house === 'keeper')
const { found, problem, steps, show } = useLoad<Log>(['build', 'job', 'shelf', 'log', 'swaps', 'cards'])
const load = (): Promise<void> =>
  steps(async () => {
    const value = await readLog(props.job, props.part)
    return { value, last: !value.searching }
  }, 700)
watch(
  () => [props.job, props.part],
  () => {
    void load()
    void frame.open(props.job)
  },
  { immediate: true },
)

const camera = ref('')
const corrects = ref<LogLine | null>(null)
const settles = ref<LogLine | null>(null)
const pad = ref<InstanceType<typeof LogPad> | null>(null)
const busy = ref(false)
const said = ref('')
const refusal = ref<Problem | null>(null)
const cameras = computed(() => (frame.view?.job.rigs ?? []).map((r) => ({ id: r.id, label: r.label ?? r.id })))
const names = computed(() => Object.fromEntries(cameras.value.map((c) => [c.id, c.label])))
/** Labels that are likely: what is in the camera that is chosen, else in any. */
const units = computed(() => {
  const rigs = (frame.view?.job.rigs ?? []).filter((r) => !camera.value || r.id === camera.value)
  const all = rigs.flatMap((r) =>
    (r.builds ?? []).flatMap((b) => [
      b.body,
      ...(b.joints ?? []).map((j) => j.child),
      ...(b.links ?? []).map((k) => k.cable),
    ]),
  )
  const packs = (found.value?.lines ?? []).flatMap((l) => [l.pack_in, l.pack_out]).filter(Boolean)
  return [...new Set([...all, ...packs])].sort()
})
const from = computed(
  () => (frame.view?.job.parts ?? []).find((p) => p.id === props.part)?.starts ?? found.value?.starts ?? '',
)
/** Noted here and not sent yet. */
const unsent = computed(() =>
  outbox.row.filter((n) => n.method === 'POST' && n.url.startsWith(`/api/jobs/${props.job}/log/entries`) && n.body),
)
const unsentSwaps = computed(() =>
  outbox.row.filter((n) => n.method === 'POST' && n.url.startsWith(`/api/jobs/${props.job}/swaps/made`) && n.body),
)
const lines = computed<LogLine[]>(() => {
  const entries = unsent.value.map((n) => {
    const e = JSON.parse(n.body ?? '{}') as EntryRequest
    return {
      ...NOT_SENT,
      id: e.id ?? n.key,
      kind: e.kind,
      at: e.at ?? n.at,
      rig: e.rig ?? '',
      unit: e.unit ?? '',
      text: e.kind === 'set' ? (e.text ?? '') : [e.what, e.value, e.who, e.text].filter(Boolean).join(' '),
    } satisfies LogLine
  })
  const swaps = unsentSwaps.value.map((n) => {
    const m = JSON.parse(n.body ?? '{}') as MadeRequest
    return {
      ...NOT_SENT,
      source: 'swap',
      id: n.key,
      kind: 'swap',
      at: m.at ?? n.at,
      text: [`${m.slot}:`, m.pack_in, m.pack_out ? `for ${m.pack_out}` : ''].filter(Boolean).join(' '),
      slot: m.slot,
      pack_in: m.pack_in,
    } satisfies LogLine
  })
  return [...(found.value?.lines ?? []), ...entries, ...swaps].sort((a, b) => Date.parse(a.at) - Date.parse(b.at))
})
const happened = computed(() => lines.value.filter((l) => l.source !== 'plan' && !l.taken_back_by).length)
const waiting = computed(() => found.value?.proposals.filter((p) => !p.taken).length ?? 0)

const SIDES = ['tape', 'before', 'learnt', 'weather'] as const
const SIDE: Record<(typeof SIDES)[number], string> = {
  tape: 'Log',
  before: 'Before rolling',
  learnt: 'What it teaches',
  weather: 'Weather',
}
const phone = window.matchMedia('(max-width: 1000px)').matches
const side = ref<(typeof SIDES)[number]>(phone ? 'tape' : 'learnt')

/** True where it was noted; what could not be sent is kept, and counts as noted here. */
async function doing(call: () => Promise<Log | null>, told: string): Promise<boolean> {
  refusal.value = null
  busy.value = true
  try {
    const now = await call()
    said.value = now ? told : KEPT_HERE
    if (now) {
      show(now)
      void load()
    }
    return true
  } catch (error) {
    said.value = ''
    refusal.value = error as Problem
    return false
  } finally {
    busy.value = false
  }
}
async function note(entry: EntryRequest): Promise<void> {
  const ok = await doing(() => noteEntry(props.job, props.part, entry), 'Noted.')
  if (!ok) return
  pad.value?.noted()
  corrects.value = settles.value = null
}
const partLabel = computed(() => frame.view?.job.parts?.find((p) => p.id === props.part)?.label ?? props.part)
const waitingHere = computed(() => lines.value.filter((l) => l.by === NOT_SENT.by))
async function setBefore(r: Log['to_set'][number]): Promise<void> {
  const entry = { ...bare('set'), rig: r.rig, unit: r.unit, what: props.part, text: r.text }
  await doing(() => noteEntry(props.job, props.part, entry), 'Set.')
}
async function weather(readings: { what: string; value: number }[]): Promise<void> {
  for (const r of readings)
    if (!(await doing(() => noteEntry(props.job, props.part, { ...bare('weather'), ...r }), 'Weather noted.'))) return
}
const bare = (kind: EntryRequest['kind']): EntryRequest => ({ id: entryId(), kind, at: stamp() })
/** Now where now is on this day, else where the part begins. */
function stamp(): string | null {
  const view = found.value
  if (!view) return null
  return isNow(view, new Date()) ? null : from.value || null
}
async function made(line: LogLine, left: number | null): Promise<void> {
  await doing(async () => {
    const now = await noteSwap(props.job, props.part, {
      slot: line.slot,
      at: stamp() === null ? new Date().toISOString() : line.at,
      pack_in: line.pack_in,
      pack_out: line.pack_out || null,
      charge_left: left,
    })
    return now && readLog(props.job, props.part)
  }, 'Swap noted.')
}
async function swapped(swap: MadeRequest): Promise<void> {
  const ok = await doing(async () => {
    const now = await noteSwap(props.job, props.part, swap)
    return now && readLog(props.job, props.part)
  }, 'Swap noted.')
  if (ok) pad.value?.noted()
}
async function take(p: Log['proposals'][number]): Promise<void> {
  const version = frame.view?.version
  if (version === undefined) return
  const body = { of: p.of, thing: p.thing, value: p.value, version }
  if (await doing(() => takeFigure(props.job, props.part, body), `Counting with it: ${p.title}.`))
    await frame.open(props.job)
}
const mayTake = (p: Log['proposals'][number]): boolean => (p.of === 'minutes' ? role.value === 'lead' : keeps.value)
const keys: KeyLine[] = [
  { keys: 's', does: 'note: swap of a pack', run: () => void pad.value?.tapSwap() },
  ...TAPS.map((t) => ({
    keys: t.key,
    does: `note: ${t.label.toLowerCase()}`,
    run: () => void pad.value?.tap(t.kind),
  })),
  {
    keys: 'w',
    does: 'the weather',
    run: () => (side.value = side.value === 'weather' ? 'learnt' : 'weather'),
  },
]
</script>

<template>
  <FrameShell :job="job" :part="part" :rig="rig" place="log" :keys="keys" :findables="() => []" @imported="load()">
    <main class="logging">
      <header class="day-bar">
        <h1>
          Log <small v-if="found">{{ counted(happened, 'line') }} beside the plan</small>
        </h1>
        <BButton
          v-for="s in SIDES"
          :key="s"
          :class="{ 'only-narrow': s === 'tape' }"
          :aria-pressed="side === s"
          @click="side = s"
          >{{ SIDE[s] }}<template v-if="s === 'learnt' && waiting">{{ ` ${waiting}` }}</template></BButton
        >
        <BLink class="btn btn-secondary" :href="logFile(job, part, 'report.pdf')" target="_blank">Report</BLink>
        <BLink class="btn btn-secondary" :href="logFile(job, part, 'log.csv')">CSV</BLink>
        <span class="rest"></span>
        <span v-if="said" class="quiet" role="status">{{ said }}</span>
      </header>
      <p v-if="refusal" class="trouble" role="alert">{{ refusal.message }}</p>
      <p v-if="problem && !found" class="trouble">{{ problem.message }}</p>
      <p v-else-if="!found" class="quiet">Reading the log…</p>
      <div v-else class="log-work" :class="`shows-${side}`">
        <div class="log-left">
          <LogPad
            v-if="may"
            ref="pad"
            :view="found"
            :cameras="cameras"
            :units="units"
            :camera="camera"
            :from="from"
            :cards="{ name: 'day', params: { job, part, rig }, query: { shows: 'cards' } }"
            :corrects="corrects"
            :settles="settles"
            :busy="busy"
            @note="note"
            @swap="swapped"
            @camera="camera = $event"
            @leave="((corrects = null), (settles = null))"
          />
          <LogTape
            :lines="lines"
            :names="names"
            :camera="camera"
            :may="may"
            :busy="busy"
            @made="made"
            @correct="((settles = null), (corrects = $event))"
            @settle="((corrects = null), (settles = $event))"
            @back="doing(() => takeBackEntry(job, part, $event.id), 'Taken back.')"
          />
        </div>
        <div class="log-right">
          <LogBefore
            v-if="side === 'before'"
            :rows="found.to_set"
            :waiting="waitingHere"
            :part="partLabel"
            :camera="camera"
            :may="may"
            :busy="busy"
            @set="setBefore"
            @back="doing(() => takeBackEntry(job, part, $event), 'Taken back.')"
          />
          <LogWeather v-else-if="side === 'weather'" :job="job" :part="part" :may="may" :busy="busy" @note="weather" />
          <LogLearnt v-else :view="found" :may="mayTake" :busy="busy" @take="take" />
        </div>
      </div>
    </main>
  </FrameShell>
</template>

<style>
.log-work {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 380px;
}
.log-right {
  border-left: 1px solid var(--rule);
  background: var(--sheet);
}
@media (min-width: 1001px) {
  .logging .only-narrow {
    display: none;
  }
}
@media (max-width: 1000px) {
  .log-work {
    grid-template-columns: minmax(0, 1fr);
  }
  .log-right {
    border-left: 0;
  }
  .log-work.shows-tape .log-right,
  .log-work:not(.shows-tape) .log-left {
    display: none;
  }
}
</style>
