<script setup lang="ts">
import { defineAsyncComponent, onBeforeUnmount, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { findInJob } from '../../api'
import { useKeys, type KeyLine } from '../../composables/useKeys'
import { needsCamera, NONE, PLACES, placeRoute, type PlaceName } from '../../lib/places'
import { vTip } from '../../lib/tip'
import { useAppearance } from '../../stores/appearance'
import { useBench } from '../../stores/bench'
import { useJob } from '../../stores/job'
import { useLive } from '../../stores/live'
import { ROLES, useMe } from '../../stores/me'
import { useStanding } from '../../stores/standing'
import CameraStrips from './CameraStrips.vue'
import DayRibbon from './DayRibbon.vue'
import FinderDialog, { type Findable } from './FinderDialog.vue'
import FoldedLine from './FoldedLine.vue'
import LiveLine from './LiveLine.vue'
import NoticeBar from './NoticeBar.vue'
import OutboxLine from './OutboxLine.vue'
import PlaceStrap from './PlaceStrap.vue'

/** Dialogs come when they are first asked for. */
const ConflictDialog = defineAsyncComponent(() => import('./ConflictDialog.vue'))
const JobDialog = defineAsyncComponent(() => import('./JobDialog.vue'))
const KeysDialog = defineAsyncComponent(() => import('./KeysDialog.vue'))

const props = defineProps<{
  job: string
  part: string
  rig: string
  place: PlaceName
  keys: KeyLine[]
  findables: () => Findable[]
}>()
const emit = defineEmits<{ imported: [job: string] }>()
const router = useRouter()
const frame = useJob()
const appearance = useAppearance()
const me = useMe()
const live = useLive()
const standing = useStanding()
const bench = useBench()
watch(
  () => [props.job, frame.job, frame.strips],
  () => standing.look(props.job),
  { immediate: true },
)
const finding = ref(false)
const keysShown = ref(false)
const jobShown = ref(false)
/** Once open, a dialog stays: it closes by its own way. */
const keysAsked = ref(false)
const jobAsked = ref(false)
watch([keysShown, jobShown], ([keys, job]) => {
  keysAsked.value ||= keys
  jobAsked.value ||= job
})

watch(
  () => [props.job, props.part, props.rig] as const,
  async ([job, part, rig]) => {
    frame.partId = part
    frame.rigId = rig
    await Promise.all([frame.open(job), part === NONE ? null : frame.look(job, part)])
    if (!frame.job && frame.problem?.code === 'job.unknown') await router.replace('/jobs')
  },
  { immediate: true },
)
const nowhere = (name: string): string => (name === NONE ? '' : name)
watch(
  () => [props.job, props.part, props.rig, props.place] as const,
  ([job, part, rig, place]) => {
    live.look({ job, part: nowhere(part), rig: nowhere(rig), place })
  },
  { immediate: true },
)
onBeforeUnmount(live.leave)

interface Aim {
  part: string
  rig: string
  place: PlaceName
}
/** Where the last key press leads: fast presses count on from there, not from the screen that is still shown. */
let aim: Aim | null = null
async function go(to: Partial<Aim>): Promise<void> {
  const mine = { part: props.part, rig: props.rig, place: props.place, ...aim, ...to }
  if (mine.rig === NONE) {
    await frame.opened()
    mine.rig = frame.job?.rigs[0]?.id ?? NONE
    if (mine.rig === NONE && needsCamera(mine.place)) mine.place = 'job'
  }
  aim = mine
  await router.push(placeRoute(mine.place, { job: props.job, part: mine.part, rig: mine.rig }))
  if (aim === mine) aim = null
}

/** What is not on this screen: found by the server, and gone to where it is. */
async function beyond(words: string): Promise<Findable[]> {
  const { found } = await findInJob(props.job, props.part, words)
  return found.map((f) => ({
    kind: f.kind,
    name: f.name,
    more: f.more,
    go: () =>
      f.unit
        ? router.push({
            ...placeRoute('shelf', { job: props.job, part: props.part, rig: props.rig }),
            query: { unit: f.unit },
          })
        : go({ place: f.place, part: f.part ? f.part : props.part, rig: f.rig ? f.rig : props.rig }),
  }))
}

async function imported(job: string): Promise<void> {
  frame.forget()
  jobShown.value = false
  if (job === props.job) {
    await Promise.all([frame.open(job), frame.look(job, props.part)])
    emit('imported', job)
  } else await router.push('/jobs')
}

/** A key that waits for the next one: c for a camera of two digits, g for a place. */
let waiting = ''
function digit(key: string): void {
  if (waiting === 'g') {
    waiting = ''
    const place = PLACES.find((p) => p.number === Number(key))
    if (place) void go({ place: place.name })
    return
  }
  if (waiting) {
    waiting += key
    if (waiting.length < 3) return
  }
  const wanted = waiting ? Number(waiting.slice(1)) : key === '0' ? 10 : Number(key)
  waiting = ''
  void camera(wanted)
}

/** Keys pressed before the job has come wait for it, and keep their order. */
async function camera(number: number): Promise<void> {
  await frame.opened()
  const rig = frame.job?.rigs.find((r) => r.number === number)
  if (rig) await go({ rig: rig.id })
}

async function partBeside(step: -1 | 1): Promise<void> {
  await frame.opened()
  await go({ part: frame.partBeside(aim?.part ?? props.part, step) })
}

function neighbour(step: 1 | -1): void {
  const at = PLACES.findIndex((p) => p.name === (aim?.place ?? props.place))
  const next = PLACES[Math.min(Math.max(at + step, 0), PLACES.length - 1)]
  if (next) void go({ place: next.name })
}

const common: KeyLine[] = [
  {
    keys: '[ ]',
    does: 'part of the day before, after',
    when: (e) => e.key === '[' || e.key === ']',
    run: (k) => partBeside(k === '[' ? -1 : 1),
  },
  {
    keys: '1 … 9, 0',
    does: 'camera of that number; c and two digits for more',
    when: (e) => /^\d$/.test(e.key) && !e.ctrlKey && !e.metaKey,
    run: digit,
  },
  {
    keys: 'c',
    does: 'then the number of a camera',
    run: () => {
      waiting = 'c'
    },
  },
  {
    keys: 'g',
    does: `then a place: ${PLACES.map((p) => `${String(p.number)} ${p.label}`).join(', ')}`,
    run: () => {
      waiting = 'g'
    },
  },
  {
    keys: 'j k',
    does: 'place below, above on the strap',
    when: (e) => e.key === 'j' || e.key === 'k',
    run: (k) => {
      neighbour(k === 'j' ? 1 : -1)
    },
  },
  {
    keys: '/',
    does: 'find anything',
    run: () => {
      finding.value = true
    },
  },
  {
    keys: 'n',
    does: 'day or night appearance',
    run: () => {
      appearance.toggle()
    },
  },
  {
    keys: '?',
    does: 'these keys',
    run: () => {
      keysShown.value = true
    },
  },
]
const all = (): KeyLine[] => [...props.keys, ...common]
useKeys(all, () => finding.value || keysShown.value || jobShown.value)

function everything(): Findable[] {
  return [
    ...props.findables(),
    ...(frame.job?.rigs ?? []).map((r) => ({
      kind: 'camera',
      name: `${String(r.number)} ${r.label}`,
      more: r.position,
      go: () => go({ rig: r.id }),
    })),
    ...(frame.job?.parts ?? []).map((p) => ({
      kind: 'part of the day',
      name: p.label,
      more: `${p.starts.slice(0, 10)} ${p.starts.slice(11, 16)}`,
      go: () => go({ part: p.id }),
    })),
    ...PLACES.map((p) => ({ kind: 'place', name: p.label, more: p.what, go: () => go({ place: p.name }) })),
    {
      kind: 'command',
      name: 'Crew',
      more: 'who works on this job, as what',
      go: () => router.push(`/crew/${props.job}`),
    },
    {
      kind: 'command',
      name: 'History of the job',
      more: 'who did what, and when; bring an earlier state back',
      go: () => router.push(`/history/${props.job}`),
    },
    { kind: 'command', name: 'All jobs', more: 'open, make, copy or remove a job', go: () => router.push('/jobs') },
    {
      kind: 'command',
      name: 'Job file',
      more: 'save or read a job file',
      go: () => {
        jobShown.value = true
      },
    },
    {
      kind: 'command',
      name: 'Day or night appearance',
      more: '',
      go: () => {
        appearance.toggle()
      },
    },
  ]
}
</script>

<template>
  <div class="frame" :class="`at-${place}`">
    <header class="head">
      <button v-tip="'Save or read a job file'" type="button" class="job-name" @click="jobShown = true">
        {{ frame.job?.title ?? 'Lift Crate' }}
      </button>
      <DayRibbon @choose="go({ part: $event })" />
    </header>
    <PlaceStrap
      :place="place"
      :counts="{ ...standing.counts, ...(frame.strips ? { ...frame.strips.places, bench: frame.strips.counts } : {}) }"
      @go="go({ place: $event })"
      @find="finding = true"
      @keys="keysShown = true"
      @crew="router.push(`/crew/${job}`)"
    />
    <CameraStrips @choose="go({ rig: $event })" />
    <FoldedLine />
    <div class="notices" role="region" aria-label="Notices">
      <LiveLine />
      <OutboxLine />
      <NoticeBar />
      <ConflictDialog v-if="bench.problem?.code === 'edit.stale'" />
      <p v-if="me.roleIn(job) && me.roleIn(job) !== 'lead'" class="as-role" role="note">
        {{ me.name }}, {{ me.roleIn(job) }}: {{ ROLES.find((r) => r.value === me.roleIn(job))?.may }}.
      </p>
    </div>
    <slot />
    <slot name="foot" />
    <FinderDialog v-model="finding" :all="everything" :more="beyond" />
    <KeysDialog
      v-if="keysShown || keysAsked"
      v-model="keysShown"
      :lines="all()"
      :title="`Keys of ${PLACES.find((p) => p.name === place)?.label ?? 'this screen'}`"
    />
    <JobDialog v-if="jobShown || jobAsked" v-model="jobShown" :job="job" @imported="imported" />
  </div>
</template>

<style>
.notices {
  grid-area: notice;
}
.as-role {
  margin: 0;
  padding: var(--gap-2) var(--gap-7);
  font-size: var(--t-2);
  color: var(--ink-2);
  border-bottom: 1px solid var(--rule-2);
}
.frame {
  display: grid;
  height: 100dvh;
  grid-template:
    'strap head' auto 'strap strips' auto 'strap notice' auto 'strap bench' minmax(0, 1fr)
    'strap foot' auto / 62px minmax(0, 1fr);
}
.head {
  grid-area: head;
  display: flex;
  align-items: stretch;
  gap: var(--gap-8);
  padding: var(--gap-5) var(--gap-7) 0;
}
.job-name {
  flex: none;
  max-width: 132px;
  font: 700 var(--t-5)/1.12 var(--text);
  align-self: center;
  padding: var(--gap-3) 0;
}
.job-name:hover {
  color: var(--mark);
}
@media (max-width: 760px) {
  .frame {
    height: auto;
    min-height: 100dvh;
    grid-template: 'head' auto 'strips' auto 'notice' auto 'bench' 1fr / minmax(0, 1fr);
  }
  .frame {
    padding-bottom: 52px;
  }
  .frame:has(> .foot) {
    padding-bottom: 118px;
  }
  .head {
    display: block;
    padding: var(--gap-4) var(--gap-6) 0;
  }
  .job-name {
    max-width: none;
    padding: 0 0 var(--gap-3);
  }
}
@media print {
  .head {
    display: none !important;
  }
  .frame {
    display: block;
    height: auto;
  }
  .at-swaps .head {
    display: none;
  }
}
</style>
