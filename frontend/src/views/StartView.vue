<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { archiveJob, bringBack, copyJob, countJob, listJobs, loadDemo, makeJob, readJob, removeJob } from '../api'
import type { Problem } from '../api/client'
import type { JobCounts, JobsView } from '../api/schema.gen'
import ChoiceField from '../components/fields/ChoiceField.vue'
import TextField from '../components/fields/TextField.vue'
import CountMarks from '../components/frame/CountMarks.vue'
import JobFilePanel from '../components/frame/JobFilePanel.vue'
import OutboxLine from '../components/frame/OutboxLine.vue'
import TryAs from '../components/frame/TryAs.vue'
import { useAgain } from '../composables/useAgain'
import { useLoad } from '../composables/useLoad'
import { clock, weekday } from '../lib/format'
import { NONE } from '../lib/places'
import { useJob } from '../stores/job'
import { useMe } from '../stores/me'

type JobLine = JobsView['jobs'][number]

const router = useRouter()
const frame = useJob()
const me = useMe()
const { found, problem: unread, load, show } = useLoad<JobsView>()
const trouble = shallowRef<Problem | null>(null)
const problem = computed(() => trouble.value ?? unread.value)
const counts = ref<Record<string, JobCounts>>({})
const away = ref(false)
const asking = ref('')

const busy = ref(false)

/** On the clock of whoever reads it. */
const tomorrow = new Date(Date.now() + 86_400_000).toLocaleDateString('sv-SE')
const made = ref({ title: '', day: tomorrow, like: '' })
const copied = ref<{ of: string; title: string; day: string } | null>(null)
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC'

const counted = computed(() => [
  { value: '', text: 'the usual settings' },
  ...(found.value?.jobs ?? []).map((j) => ({ value: j.id, text: `settings of ${j.title}` })),
])
const here = computed(() => (found.value?.jobs ?? []).filter((j) => away.value || !j.archived))
const archived = computed(() => (found.value?.jobs ?? []).filter((j) => j.archived).length)

async function start(): Promise<void> {
  await load(listJobs)
  await count()
}
/** A list without counts is still a list. */
async function count(): Promise<void> {
  for (const job of found.value?.jobs ?? []) {
    if (job.archived || counts.value[job.id]) continue
    try {
      counts.value = { ...counts.value, [job.id]: await countJob(job.id) }
    } catch {
      return
    }
  }
}
onMounted(start)
useAgain(() => busy.value || start())

/** A job opens where most of it is right; one without cameras at its days. */
async function openJob(id: string): Promise<void> {
  frame.forget()
  const [job, seen] = await Promise.all([readJob(id), countJob(id)])
  const part = job.parts.find((p) => p.id === seen.calmest) ?? job.parts[0]
  const rig = job.rigs.find((r) => part && r.plan[part.id])
  await router.push({
    name: part && rig ? 'bench' : 'job',
    params: { job: id, part: part?.id ?? NONE, rig: rig?.id ?? NONE },
  })
}

/** One thing at a time: a button that is pressed twice does it once. */
async function once(doing: () => Promise<void>): Promise<void> {
  if (busy.value) return
  busy.value = true
  try {
    await doing()
    trouble.value = null
  } catch (error) {
    trouble.value = error as Problem
  } finally {
    busy.value = false
  }
}

const change = (call: () => Promise<JobsView>, opens = false): Promise<void> =>
  once(async () => {
    const next = await call()
    asking.value = ''
    copied.value = null
    show(next)
    if (opens && next.made) await openJob(next.made)
    else void count()
  })

async function back(job: string, id: number): Promise<void> {
  await change(async () => {
    await bringBack(job, id)
    return listJobs()
  })
}

const days = (j: JobLine): string => {
  if (!j.starts || !j.ends) return 'no day yet'
  const [from, to] = [weekday(j.starts), weekday(j.ends)]
  return from === to ? `${from} ${j.starts.slice(0, 4)}` : `${from} to ${to} ${j.ends.slice(0, 4)}`
}
</script>

<template>
  <main class="start">
    <header>
      <h1>Jobs</h1>
      <p v-if="me.me?.signed_in && !me.me.open">
        <RouterLink to="/me">{{ me.name }}</RouterLink>
      </p>
      <p><RouterLink to="/devices">Devices</RouterLink></p>
      <TryAs />
      <p v-if="problem" class="trouble" role="alert">
        {{ problem.message }} <BButton v-if="!found" size="lg" @click="start">Retry</BButton>
      </p>
    </header>
    <OutboxLine />
    <template v-if="found">
      <p v-if="!found.jobs.length" class="hello">
        No job here yet. Make one with a title and a day; all else has a default that you can change. Or look at the
        demo: an opera staged at night in a dry dock, four cameras with real problems.
      </p>
      <ul v-else class="jobs">
        <li v-for="j in here" :key="j.id" :class="{ put: j.archived }">
          <button type="button" class="open" @click="once(() => openJob(j.id))">
            <b>{{ j.title }}</b>
            <span>{{ days(j) }}</span>
            <span>{{ j.cameras }} {{ j.cameras === 1 ? 'camera' : 'cameras' }}</span>
            <CountMarks v-if="counts[j.id]" :counts="{ notes: 0, ...counts[j.id]! }" />
            <small>changed {{ weekday(j.changed) }} {{ clock(j.changed) }}</small>
          </button>
          <div class="acts">
            <BButton @click="copied = { of: j.id, title: `${j.title} (copy)`, day: tomorrow }">Copy</BButton>
            <BButton @click="change(() => archiveJob(j.id, !j.archived))">
              {{ j.archived ? 'Take out of the archive' : 'Archive' }}
            </BButton>
            <BButton @click="asking = j.id">Remove</BButton>
          </div>
          <p v-if="asking === j.id" class="ask-line" role="alert">
            Remove {{ j.title }}? Its gear goes back in stock. You can bring the job back at any time.
            <BButton variant="warning" @click="change(() => removeJob(j.id))">Remove it</BButton>
            <BButton @click="asking = ''">Keep it</BButton>
          </p>
          <form
            v-if="copied?.of === j.id"
            class="ask-line"
            @submit.prevent="change(() => copyJob(j.id, copied!.title, copied!.day), true)"
          >
            <label>Title <TextField v-model="copied.title" required /></label>
            <label>First day <input v-model="copied.day" class="form-control" type="date" required /></label>
            <BButton type="submit" variant="primary">Copy</BButton>
            <BButton @click="copied = null">Cancel</BButton>
          </form>
        </li>
      </ul>
      <BButton v-if="archived" @click="away = !away">
        {{ away ? 'Hide the archive' : `Show ${archived} archived` }}
      </BButton>

      <section v-if="me.me?.house === 'lead'" class="ways">
        <form class="way" @submit.prevent="change(() => makeJob(made.title, made.day, zone, made.like), true)">
          <h2>New job</h2>
          <label>Title <TextField v-model="made.title" required maxlength="200" /></label>
          <label>First day <input v-model="made.day" class="form-control" type="date" required /></label>
          <label v-if="found.jobs.length"
            >Counts with
            <ChoiceField v-model="made.like" :choices="counted" aria-describedby="made-like" />
            <small id="made-like">Limits and minutes, with what their logs taught.</small></label
          >
          <BButton type="submit" size="lg" variant="primary">Make it</BButton>
        </form>
        <div class="way">
          <h2>From a file</h2>
          <JobFilePanel @imported="(job) => once(() => openJob(job))" />
        </div>
        <div v-if="!found.jobs.some((j) => j.id === 'dry-dock-opera')" class="way">
          <h2>Look at the demo</h2>
          <p>Its gear comes on the shelf beside yours. Remove the job when you have seen enough.</p>
          <BButton size="lg" @click="change(loadDemo, true)">Open the demo</BButton>
        </div>
      </section>

      <section v-if="found.removed.length" class="gone">
        <h2>Removed</h2>
        <p v-for="r in found.removed" :key="r.id">
          {{ r.title }} <small>{{ weekday(r.at) }} {{ clock(r.at) }}</small>
          <BButton @click="back(r.job, r.id)">Bring back</BButton>
        </p>
      </section>
    </template>
  </main>
</template>

<style>
.start {
  max-width: 980px;
  margin: 0 auto;
  padding: var(--gap-9);
  display: grid;
  gap: var(--gap-8);
}
.start h1 {
  font: 700 var(--t-7) var(--text);
}
.start h2 {
  font: 600 var(--t-5) var(--text);
}
.hello {
  max-width: 62ch;
  font-size: var(--t-5);
}
.jobs li {
  display: grid;
  grid-template-columns: 1fr auto;
  align-items: center;
  gap: var(--gap-4) var(--gap-7);
  background: var(--sheet);
  border-top: 4px solid var(--rule);
  margin-bottom: var(--gap-5);
  padding-right: var(--gap-6);
}
.jobs li.put {
  opacity: 0.75;
}
.jobs .open {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 1.6fr) 90px 110px;
  gap: 0 var(--gap-7);
  align-items: baseline;
  padding: var(--gap-6) var(--gap-7);
}
.jobs .open:hover b {
  color: var(--mark);
}
.jobs b {
  font: 700 var(--t-6)/1.2 var(--text);
}
.jobs small,
.gone small {
  grid-column: 1 / -1;
  color: var(--ink-2);
  font-size: var(--t-2);
}
.jobs .acts {
  display: flex;
  gap: var(--gap-4);
}
.ask-line {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-6);
  align-items: end;
  padding: var(--gap-6) var(--gap-7);
  background: var(--lift);
}
.ways {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
  gap: var(--gap-8);
}
.way {
  display: grid;
  gap: var(--gap-5);
  align-content: start;
  padding: var(--gap-7);
  background: var(--lift);
  border: 1px solid var(--rule);
}
.way label,
.ask-line label {
  display: grid;
  gap: var(--gap-2);
  font-size: var(--t-3);
}
.way .btn {
  justify-self: start;
}
.gone p {
  display: flex;
  gap: var(--gap-6);
  align-items: baseline;
  padding: var(--gap-2) 0;
}
@media (max-width: 760px) {
  .start {
    padding: var(--gap-7);
  }
  .jobs li {
    grid-template-columns: 1fr;
    padding: 0 0 var(--gap-6);
  }
  .jobs .open {
    grid-template-columns: 1fr auto;
  }
  .jobs .acts {
    padding-left: var(--gap-7);
  }
  .jobs .acts .btn {
    min-height: 42px;
  }
}
</style>
