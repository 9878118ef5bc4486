<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, shallowRef, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { bringBack, bringFrameBack, readFrame, readJob, readRecord, type RecordAsk } from '../api'
import type { Problem } from '../api/client'
import type { JobView, JobRecordLine, JobRecordView } from '../api/schema.gen'
import ChoiceField from '../components/fields/ChoiceField.vue'
import { useLoad } from '../composables/useLoad'
import { clock, weekday } from '../lib/format'
import { useMe } from '../stores/me'

/** Everything that was done in a job, the latest first; what a rig or the job was can be looked at and brought back. */
const props = defineProps<{ job: string }>()
const route = useRoute()
const router = useRouter()
const me = useMe()
const { found, problem: unread, load, loading } = useLoad<JobRecordView>()
const trouble = shallowRef<Problem | null>(null)
const problem = computed(() => trouble.value ?? unread.value)
const known = shallowRef<JobView | null>(null)
const leads = computed(() => me.roleIn(props.job) === 'lead')
const told = ref('')

const KINDS: { value: JobRecordLine['kind'] | ''; text: string }[] = [
  { value: '', text: 'all of it' },
  { value: 'build', text: 'rigs' },
  { value: 'job', text: 'the job: days, cameras, plan, sound, money' },
  { value: 'cards', text: 'cards' },
  { value: 'sound', text: 'sound' },
  { value: 'swaps', text: 'swaps' },
  { value: 'pack', text: 'packing: out and back' },
  { value: 'log', text: 'the log, figures taken over' },
  { value: 'balance', text: 'balances' },
  { value: 'whole', text: 'the whole job replaced' },
  { value: 'crew', text: 'crew' },
]
const query = (name: string): string => (typeof route.query[name] === 'string' ? route.query[name] : '')
const asked = computed<RecordAsk>(() => ({
  ...(query('kind') ? { kind: query('kind') as JobRecordLine['kind'] } : {}),
  ...(query('who') ? { actor: query('who') } : {}),
  ...(query('rig') ? { rig: query('rig') } : {}),
}))
const narrow = (name: string, value: string): void => {
  void router.replace({ query: { ...route.query, [name]: value || undefined } })
}
watch(
  () => props.job,
  async (id) => {
    known.value = await readJob(id).catch(() => null)
  },
  { immediate: true },
)
watch(
  [() => props.job, asked],
  () => {
    void load(() => readRecord(props.job, asked.value))
  },
  { immediate: true },
)
async function more(): Promise<void> {
  const have = found.value
  const last = have?.lines.at(-1)
  if (!have || !last) return
  await load(async () => {
    const next = await readRecord(props.job, asked.value, last)
    return { ...next, lines: [...have.lines, ...next.lines] }
  })
}
async function back(line: JobRecordLine): Promise<void> {
  try {
    if (line.kind === 'whole') await bringBack(props.job, line.number)
    else await bringFrameBack(props.job, (await readFrame(props.job)).version, line.number)
    trouble.value = null
    told.value = 'It is as it was then. What was there before is in the history too.'
  } catch (error) {
    trouble.value = error as Problem
  }
  await load(() => readRecord(props.job, asked.value))
}

const camera = (rig: string | null): string => {
  const it = known.value?.rigs.find((r) => r.id === rig)
  return it ? `${String(it.number)} ${it.label}` : ''
}
const WHAT: Record<JobRecordLine['kind'], string> = {
  build: 'a rig that is gone',
  job: 'the job',
  cards: 'card',
  sound: 'sound',
  swaps: 'swap',
  pack: 'packing:',
  log: 'log:',
  balance: 'balance',
  whole: 'the whole job was replaced or removed',
  crew: 'crew',
}
const about = (line: JobRecordLine): string =>
  line.rig
    ? camera(line.rig)
    : ['cards', 'sound', 'swaps', 'pack', 'log'].includes(line.kind)
      ? `${WHAT[line.kind]} ${line.thing}`
      : WHAT[line.kind]
/** What the job is now need not be brought back. */
const latest = computed(() => found.value?.lines.find((line) => line.kind === 'job'))
/** Lines of one day of the clock together. */
const days = computed(() => {
  const all: { day: string; lines: JobRecordLine[] }[] = []
  for (const line of found.value?.lines ?? []) {
    const day = line.at.slice(0, 10)
    if (all.at(-1)?.day !== day) all.push({ day, lines: [] })
    all.at(-1)?.lines.push(line)
  }
  return all
})
</script>

<template>
  <main class="start record-page">
    <header>
      <h1>
        History <small>{{ known?.title ?? '' }}</small>
      </h1>
      <p>
        <RouterLink to="/jobs">All jobs</RouterLink> ·
        <RouterLink
          :to="{
            name: 'job',
            params: { job: props.job, part: known?.parts[0]?.id ?? '-', rig: known?.rigs[0]?.id ?? '-' },
          }"
          >The job</RouterLink
        >
        · <RouterLink :to="{ name: 'crew', params: { job: props.job } }">Crew</RouterLink>
      </p>
      <div class="narrow-by">
        <label
          >What
          <ChoiceField :model-value="query('kind')" :choices="KINDS" :commit="(v: string) => narrow('kind', v)" />
        </label>
        <label
          >Who
          <ChoiceField
            :model-value="query('who')"
            :choices="[{ value: '', text: 'everybody' }, ...(found?.actors ?? []).map((a) => ({ value: a, text: a }))]"
            :commit="(v: string) => narrow('who', v)"
          />
        </label>
        <label
          >Camera
          <ChoiceField
            :model-value="query('rig')"
            :choices="[
              { value: '', text: 'all' },
              ...(known?.rigs ?? []).map((r) => ({ value: r.id, text: camera(r.id) })),
            ]"
            :commit="(v: string) => narrow('rig', v)"
          />
        </label>
      </div>
      <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
      <p v-if="told" role="status">{{ told }}</p>
    </header>
    <p v-if="found && !found.lines.length" class="quiet">Nothing of this was done here yet.</p>
    <section v-for="d in days" :key="d.day" :aria-label="d.day">
      <h2>{{ weekday(d.day) }} {{ d.day }}</h2>
      <ol class="record">
        <li
          v-for="line in d.lines"
          :key="`${line.at}${line.kind}${line.thing}${line.number}`"
          :class="{ gone: line.gone }"
        >
          <time>{{ clock(line.at) }}</time>
          <b>{{ line.actor }}</b>
          <span class="about">{{ about(line) }}</span>
          <span class="what">{{ line.title }}<small v-if="line.gone"> taken back since</small></span>
          <RouterLink
            v-if="line.kind === 'build' && line.rig"
            class="btn btn-secondary"
            :to="{
              name: 'bench',
              params: { job: props.job, part: known?.parts[0]?.id ?? '-', rig: `${line.rig}~${line.thing}` },
              query: { was: String(line.number) },
            }"
            >Look at it</RouterLink
          >
          <BButton
            v-if="leads && (line.kind === 'whole' || (line.kind === 'job' && line !== latest))"
            @click="back(line)"
            >{{ line.kind === 'whole' ? 'Bring that job back' : 'Bring this back' }}</BButton
          >
        </li>
      </ol>
    </section>
    <p v-if="found?.more">
      <BButton :disabled="loading" @click="more">Earlier</BButton>
    </p>
  </main>
</template>

<style>
.record-page h1 small {
  font-weight: 400;
  color: var(--ink-2);
}
.record-page .narrow-by {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4) var(--gap-8);
}
.record-page .narrow-by label {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
}
.record-page h2 {
  font: 700 var(--t-4)/1.3 var(--text);
  margin: var(--gap-8) 0 var(--gap-3);
}
.record {
  list-style: none;
  margin: 0;
  padding: 0;
}
.record li {
  display: grid;
  grid-template-columns: 44px minmax(84px, 0.5fr) minmax(100px, 0.9fr) minmax(0, 3fr) 132px;
  gap: var(--gap-2) var(--gap-6);
  align-items: baseline;
  padding: var(--gap-3) 0;
  min-height: 38px;
  border-top: 1px solid var(--rule-2);
}
.record time {
  font: var(--t-3) / 1.4 var(--figures);
  color: var(--ink-2);
}
.record .about {
  color: var(--ink-2);
}
.record .btn {
  justify-self: end;
}
.record .gone .what {
  text-decoration: line-through;
  color: var(--ink-2);
}
.record .gone .what small {
  display: inline-block;
  margin-left: var(--gap-3);
}
@media (max-width: 760px) {
  .record li {
    grid-template-columns: 44px minmax(0, 1fr) auto;
  }
  .record .about {
    grid-column: 3;
  }
  .record .what {
    grid-column: 2 / -1;
  }
  .record .btn {
    grid-column: 2 / -1;
    justify-self: start;
    min-height: 44px;
  }
}
</style>
