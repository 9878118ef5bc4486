<script setup lang="ts">
import { computed, onUnmounted, ref, watch } from 'vue'
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { RouterLink } from 'vue-router'
import { noteEntry, readHistory } from '../../api'
import { KEPT_HERE, type Problem } from '../../api/client'
import type { HistoryView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { clock, weekday } from '../../lib/format'
import { entryId } from '../../lib/log'
import { useBench } from '../../stores/bench'
import { useJob } from '../../stores/job'
import TextField from '../fields/TextField.vue'
import PickerFrame from './PickerFrame.vue'

/** Who did what to this build, and when, the latest first. */
const props = defineProps<{ was?: number | undefined }>()
const emit = defineEmits<{ close: [] }>()
const bench = useBench()
const job = useJob()
const { found, problem, load } = useLoad<HistoryView>(['build', 'job'])
watch(
  () => [job.place, bench.saved?.version],
  () => {
    const here = job.place
    if (here) void load(() => readHistory(here))
  },
  { immediate: true },
)

/** The edit after which the rig is looked at; it is looked at as it is now again when this is left. */
const shown = ref<number | null>(null)
async function look(version: number): Promise<void> {
  if (shown.value === version || version === bench.saved?.version) {
    shown.value = null
    bench.tryNothing()
    return
  }
  shown.value = version
  await bench.lookBack(version)
}
async function back(version: number): Promise<void> {
  if (await bench.bringBack(version)) shown.value = null
}
const why = ref('')
const trouble = ref('')
async function keep(): Promise<void> {
  const here = job.place
  const now = bench.saved
  if (!here || !now) return
  trouble.value = ''
  try {
    const told = await noteEntry(here.job, here.part, {
      id: entryId(),
      kind: 'version',
      rig: job.camera,
      text: why.value.trim(),
      what: now.build,
      number: now.version,
    })
    why.value = ''
    if (!told) trouble.value = KEPT_HERE
    else await load(() => readHistory(here))
  } catch (error) {
    trouble.value = (error as Problem).message
  }
}
const opening = computed(() => (bench.saved && props.was ? props.was : null))
watch(opening, (now) => (now ? void look(now) : undefined), { immediate: true })
onUnmounted(() => {
  if (shown.value !== null) bench.tryNothing()
})
</script>

<template>
  <PickerFrame
    label="History of this build"
    unit="History"
    what="who did what, and when"
    :more="undefined"
    :problem="problem"
    :working="found ? null : 'Reading…'"
    @close="emit('close')"
  >
    <form v-if="bench.saved && job.place" class="keep-build" @submit.prevent="keep">
      <TextField v-model="why" aria-label="Why this build is kept" placeholder="Why it is kept as it is now" />
      <BButton type="submit" :disabled="!why.trim()">Keep</BButton>
    </form>
    <p v-if="trouble" class="trouble">{{ trouble }}</p>
    <ol v-if="found?.kept.length" class="edits" aria-label="Kept">
      <li v-for="k in found.kept" :key="`${k.version}${k.at}`">
        <button type="button" data-rove :aria-pressed="shown === k.version" @click="look(k.version)">
          <b>{{ k.reason }}</b>
          <small
            >kept by {{ k.actor }}, {{ weekday(k.at) }} {{ clock(k.at)
            }}{{ k.version === bench.saved?.version ? ', as it is now' : '' }}</small
          >
        </button>
        <BButton v-if="shown === k.version" variant="primary" @click="back(k.version)">Bring this back</BButton>
      </li>
    </ol>
    <p v-if="found && !found.edits.length" class="quiet">Nothing was changed here yet.</p>
    <ol class="edits">
      <li v-for="e in found?.edits ?? []" :key="`${e.version}${e.kind}${e.at}`">
        <button type="button" data-rove :aria-pressed="shown === e.version" @click="look(e.version)">
          <b>{{ e.title }}</b>
          <small
            >{{ e.actor }}, {{ weekday(e.at) }} {{ clock(e.at) }}{{ e.kind === 'do' ? '' : `, ${e.kind}`
            }}{{ e.version === bench.saved?.version ? ', as it is now' : '' }}</small
          >
        </button>
        <BButton v-if="shown === e.version" variant="primary" @click="back(e.version)">Bring this back</BButton>
      </li>
    </ol>
    <p v-if="job.place" class="all-of-it">
      <RouterLink :to="{ name: 'history', params: { job: job.place.job }, query: { rig: job.camera } }"
        >All that was ever done to this camera</RouterLink
      >
    </p>
  </PickerFrame>
</template>

<style>
.keep-build {
  display: flex;
  gap: var(--gap-4);
  padding: var(--gap-3) var(--gap-7);
}
.edits {
  list-style: none;
  padding: var(--gap-3) var(--gap-7);
}
.edits button:not(.btn) {
  width: 100%;
  text-align: left;
}
.edits button[aria-pressed='true'] {
  padding-left: var(--gap-4);
  border-left: 4px solid var(--mark);
}
.edits .btn {
  margin-top: var(--gap-4);
}
.all-of-it {
  padding: var(--gap-4) var(--gap-7);
}
.edits li {
  padding: var(--gap-4) 0;
  border-bottom: 1px solid var(--rule-2);
}
.edits b {
  font-weight: 500;
  display: block;
}
.edits small {
  color: var(--ink-2);
}
</style>
