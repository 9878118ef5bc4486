<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, onMounted, ref } from 'vue'
import { copyAtStation, noteFromStation, readStation, takeCardFromReader } from '../../api'
import type { Problem } from '../../api/client'
import type { CustodyView, StationView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { fixed } from '../../lib/format'

/** The copy station: what every reader does, asked again while one of them works. */
const props = defineProps<{ job: string; drives: readonly string[]; when: string }>()
const emit = defineEmits<{ noted: [view: CustodyView] }>()
const { found, problem, steps, show: put } = useLoad<StationView>()
const refusal = ref<Problem | null>(null)
type Reader = StationView['readers'][number]
const works = (view: StationView): boolean => view.readers.some((r) => r.doing === 'copying' || r.doing === 'comparing')
const look = (): Promise<void> =>
  steps(async () => {
    const value = await readStation(props.job)
    return { value, last: !works(value) }
  }, 1000)
onMounted(look)
/** Readers with no card in them. */
const free = computed(() => (found.value?.readers ?? []).filter((r) => r.doing === 'empty').map((r) => r.number))
function show(view: StationView): void {
  put(view)
  refusal.value = null
  if (works(view)) void look()
}
defineExpose({ free, show })
async function act(call: () => Promise<StationView>): Promise<void> {
  try {
    show(await call())
  } catch (error) {
    refusal.value = error as Problem
  }
}
async function note(reader: number): Promise<void> {
  try {
    emit('noted', await noteFromStation(props.job, reader, props.when || null))
    await look()
  } catch (error) {
    refusal.value = error as Problem
  }
}
/** Writing is half of the work; how far it is read again the station does not tell. */
const share = (r: Reader): number => (r.doing === 'done' ? 1 : r.gb > 0 ? r.done_gb / r.gb / 2 : 0)
const SAYS: Record<Reader['doing'], string> = {
  empty: 'empty',
  ready: 'ready',
  copying: 'copying to',
  comparing: 'comparing with',
  done: 'copied and compared:',
  failed: 'failed:',
}
</script>

<template>
  <section class="copy-station" aria-label="Copy station">
    <h2>
      Copy station <small v-if="found">{{ found.name }}</small>
    </h2>
    <p v-if="problem" class="quiet">{{ problem.message }}</p>
    <p v-if="refusal" class="trouble" role="alert">{{ refusal.message }}</p>
    <div v-for="r in found?.readers ?? []" :key="r.number" class="reader" :class="r.doing">
      <b>{{ r.number }}</b>
      <span v-if="r.doing === 'empty'" class="quiet">empty</span>
      <template v-else>
        <span
          ><b>{{ r.card }}</b> {{ SAYS[r.doing] }} {{ r.doing === 'failed' ? r.why : r.drive }}
          <small
            >{{ fixed(r.done_gb, 0) }} of {{ fixed(r.gb, 0) }} GB at {{ fixed(r.mb_s, 0) }} MB/s
            <code v-if="r.checksum">{{ r.checksum }}</code></small
          ><i
            role="progressbar"
            :aria-valuenow="Math.round(share(r) * 100)"
            aria-valuemin="0"
            aria-valuemax="100"
            :aria-label="`Reader ${r.number}`"
            ><u :style="{ width: `${fixed(share(r) * 100, 1)}%` }"></u></i
        ></span>
        <span class="reader-acts">
          <template v-if="['ready', 'done', 'failed'].includes(r.doing)">
            <BButton v-if="['done', 'failed'].includes(r.doing) && !r.noted" variant="primary" @click="note(r.number)"
              >Note it</BButton
            >
            <BButton v-for="d in drives" :key="d" @click="act(() => copyAtStation(job, r.number, d))"
              >Copy to {{ d }}</BButton
            >
          </template>
          <BButton @click="act(() => takeCardFromReader(job, r.number))">{{
            r.doing === 'copying' || r.doing === 'comparing' ? 'Stop' : 'Give back'
          }}</BButton>
        </span>
      </template>
    </div>
  </section>
</template>

<style>
.copy-station {
  display: grid;
  gap: var(--gap-4);
}
.copy-station h2 {
  font: 600 var(--t-4) var(--text);
}
.copy-station h2 small {
  font-weight: 400;
  color: var(--ink-2);
}
.reader {
  display: grid;
  grid-template-columns: 24px minmax(0, 1fr);
  gap: var(--gap-5);
  align-items: center;
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-4) 0;
}
.reader.failed > span:first-of-type {
  color: var(--stop);
}
.reader small {
  color: var(--ink-2);
}
.reader i {
  display: block;
  height: 5px;
  background: var(--rule-2);
  margin-top: var(--gap-3);
}
.reader u {
  display: block;
  height: 100%;
  background: var(--mark);
}
.reader small {
  display: block;
}
.reader-acts {
  grid-column: 2;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
}
</style>
