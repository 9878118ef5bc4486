<script setup lang="ts">
import { computed } from 'vue'
import { clockOf } from '../../lib/format'
import { PLACES } from '../../lib/places'
import { useJob } from '../../stores/job'
import { useLive, type Looker } from '../../stores/live'
import { useOutbox } from '../../stores/outbox'

/** Who else looks at this job and where, and what was done last by somebody else; or that nothing is heard any more. */
const live = useLive()
const outbox = useOutbox()
const job = useJob()
function where(who: Looker): string {
  const rig = job.job?.rigs.find((r) => r.id === who.rig.split('~')[0])
  const part = job.job?.parts.find((p) => p.id === who.part)
  const place = PLACES.find((p) => p.name === who.place)
  return [
    rig && (rig.id === job.camera ? 'on this camera too' : `on ${String(rig.number)} ${rig.label}`),
    part && part.id !== job.partId && `in ${part.label}`,
    place && place.name !== 'bench' && `at ${place.label}`,
  ]
    .filter(Boolean)
    .join(', ')
}
const rigOf = computed(() => {
  const it = live.news
  return it?.kind === 'build' ? job.job?.rigs.find((r) => it.thing in r.builds) : undefined
})
const WHAT = {
  build: '',
  job: 'the job',
  jobs: 'the job was put in, taken away or replaced',
  shelf: 'shelf',
  cards: 'card',
  sound: 'sound',
  swaps: 'swap',
  balance: 'a balance was noted',
  pack: 'packing',
  log: 'log',
  crew: '',
} as const
const news = computed(() => {
  const it = live.news
  if (!it || it.kind === 'crew') return ''
  const about = rigOf.value ? `${String(rigOf.value.number)} ${rigOf.value.label}` : WHAT[it.kind]
  const thing = ['cards', 'sound', 'swaps', 'shelf', 'pack', 'log'].includes(it.kind) ? it.thing : ''
  return [[it.actor, about, thing].filter(Boolean).join(' · '), it.title].filter(Boolean).join(': ')
})
</script>

<template>
  <p v-if="live.lostSince" class="live-line lost" role="status" aria-live="assertive">
    <b>No connection since {{ clockOf(live.lostSince) }}.</b> What you see is as
    {{ live.keptAt ? `this device kept it at ${clockOf(live.keptAt)}` : 'it was told last' }}.
    {{
      outbox.keeps
        ? 'What you note is kept here and sent later'
        : 'This device cannot keep notes: write down what you note'
    }}; a change of a rig or of the job is not saved.
  </p>
  <p v-else-if="live.keptAt" class="live-line lost" role="status">
    Not from the server: this is as this device kept it at {{ clockOf(live.keptAt) }}.
  </p>
  <p v-else-if="live.others.length || news" class="live-line">
    <span v-if="live.others.length" class="who-else">
      <span v-for="who in live.others" :key="who.tab"
        ><b>{{ who.name === 'bench' ? 'another window' : who.name }}</b> {{ where(who) }}</span
      >
    </span>
    <span class="news" aria-live="polite">{{ news }}</span>
  </p>
</template>

<style>
.live-line {
  display: flex;
  gap: var(--gap-4) var(--gap-8);
  margin: 0;
  padding: var(--gap-2) var(--gap-7);
  font-size: var(--t-2);
  color: var(--ink-2);
  border-bottom: 1px solid var(--rule-2);
}
.live-line.lost {
  display: block;
  padding: var(--gap-4) var(--gap-7);
  font-size: var(--t-3);
  color: var(--ink);
  background: var(--stop-wash);
  border-left: 5px solid var(--stop);
}
.live-line .who-else {
  flex: none;
  max-width: 60%;
  display: flex;
  gap: var(--gap-6);
  overflow: hidden;
  white-space: nowrap;
}
.live-line .news {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  text-align: right;
}
@media (max-width: 760px) {
  .live-line:not(.lost) {
    display: block;
    padding: var(--gap-3) var(--gap-6);
  }
  .live-line .who-else {
    max-width: none;
    flex-wrap: wrap;
    white-space: normal;
  }
  .live-line .news {
    display: block;
    text-align: left;
    white-space: normal;
  }
}
@media print {
  .live-line {
    display: none;
  }
}
</style>
