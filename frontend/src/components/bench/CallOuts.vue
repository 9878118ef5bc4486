<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Operation } from '../../api'
import type { FindingView } from '../../api/schema.gen'
import { useRoving } from '../../composables/useRoving'
import { useBench } from '../../stores/bench'
import { useJob } from '../../stores/job'
import LevelMark from '../frame/LevelMark.vue'
import WorkingView from '../frame/WorkingView.vue'
import RemedyList from './RemedyList.vue'

const bench = useBench()
const job = useJob()
const panel = ref<HTMLElement | null>(null)
const { onKeydown, focusOn } = useRoving(panel)
const opened = ref('')
const place = computed(() => ({ job: job.job?.id ?? '', part: job.partId, rig: job.rigId }))
const counts = computed(() => bench.view?.counts ?? { stops: 0, watches: 0, notes: 0 })
const asked = ref(false)
/** The checks that passed are shown when asked for, and by themselves when nothing else is to be said. */
const withClear = computed(() => asked.value || (!counts.value.stops && !counts.value.watches))
const verdict = computed(() => {
  const { stops, watches } = counts.value
  const word = (n: number, one: string, many: string): string => (n === 1 ? `1 ${one}` : `${n} ${many}`)
  if (stops)
    return {
      level: 'stop',
      text: word(stops, 'Stop', 'Stops'),
      more: watches ? word(watches, 'Watch', 'Watches') : 'must not go out',
    }
  if (watches) return { level: 'watch', text: word(watches, 'Watch', 'Watches'), more: 'check before it goes out' }
  return { level: 'clear', text: 'Clear', more: 'no problems' }
})
/** The list stays that of the saved rig while a remedy is tried; the verdict above follows what is tried. */
const shown = computed(() => (bench.saved?.findings ?? []).filter((f) => f.level !== 'clear'))
const clear = computed(() => (bench.saved?.findings ?? []).filter((f) => f.level === 'clear'))

function open(finding: FindingView): void {
  bench.tryNothing()
  const unit = finding.units.find((u) => bench.view?.rows.some((r) => r.unit === u))
  if (unit) bench.selected = unit
  if (opened.value === finding.key) {
    opened.value = ''
    return
  }
  opened.value = finding.key
}

async function take(operations: Operation[]): Promise<void> {
  if (await bench.edit(...operations)) {
    opened.value = ''
    await focusOn()
  }
}

watch(
  () => [job.partId, job.rigId],
  () => {
    opened.value = ''
  },
)
defineExpose({ focusOn })
</script>

<template>
  <section ref="panel" class="callouts" aria-label="Call-outs" @keydown="onKeydown">
    <h2 v-if="bench.view" class="verdict" :class="verdict.level" aria-live="polite">
      <LevelMark :level="verdict.level" :size="30" /><span>{{ verdict.text }}</span
      ><small>{{ verdict.more }}</small>
    </h2>
    <p v-if="bench.view?.sees" class="sees">{{ bench.view.sees }}</p>
    <ul>
      <li v-for="f in shown" :key="f.key" :class="f.level">
        <button type="button" class="callout" data-rove :aria-expanded="opened === f.key" @click="open(f)">
          <LevelMark :level="f.level" :size="16" />
          <span class="title">{{ f.title }}</span>
          <span class="text">{{ f.text }}</span>
        </button>
        <div v-if="opened === f.key" class="detail">
          <p class="why">{{ f.why }}</p>
          <WorkingView v-for="w in f.working" :key="w.formula" :working="w" />
          <RemedyList
            v-if="f.level === 'stop' || f.level === 'watch'"
            :finding="f"
            :place="place"
            @take="take"
            @look="bench.tryOut"
            @away="bench.tryNothing"
          />
        </div>
      </li>
    </ul>
    <button
      v-if="clear.length && (counts.stops || counts.watches)"
      type="button"
      class="ask"
      data-rove
      @click="asked = !asked"
    >
      {{ asked ? 'Hide' : 'Show' }} {{ clear.length }} checks that are clear
    </button>
    <ul v-if="withClear" class="cleared">
      <li v-for="f in clear" :key="f.key"><LevelMark level="clear" :size="14" /> {{ f.text }}</li>
    </ul>
  </section>
</template>

<style>
.callouts li {
  border-bottom: 1px solid var(--rule-2);
}
.cleared li {
  padding: var(--gap-4) var(--gap-7);
  font-size: var(--t-2);
  color: var(--ink-2);
}
@media (max-width: 760px) {
  .callouts {
    order: 2;
    border: 0;
    overflow: visible;
  }
  .show-build .callouts {
    display: none;
  }
}
.sees {
  padding: var(--gap-4) var(--gap-7);
  font: 400 var(--t-2) var(--figures);
  letter-spacing: -0.03em;
  color: var(--ink-2);
  border-bottom: 1px solid var(--rule-2);
  background: var(--lift);
}
</style>
