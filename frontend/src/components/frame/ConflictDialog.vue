<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BModal } from 'bootstrap-vue-next/components/BModal'
import { computed, ref, watch } from 'vue'
import type { BenchView } from '../../api/schema.gen'
import { grams, hours } from '../../lib/format'
import { useBench } from '../../stores/bench'
import ElevationPanel from '../bench/ElevationPanel.vue'
import CountMarks from './CountMarks.vue'

/** An edit of a rig that somebody else has changed meanwhile: as it stands now, and as it would be with mine on top. */
const bench = useBench()
const beside = computed(() => (bench.problem?.code === 'edit.stale' ? bench.problem.beside : null))
const open = ref(false)
watch(beside, (now) => (open.value = now !== null), { immediate: true })
/** Closed in whatever way, an edit that was not taken again is left. */
function leave(): void {
  if (beside.value) bench.takeTheirs()
}
const sides = computed(() => {
  const it = beside.value
  if (!it) return []
  const all: { title: string; view: BenchView | null; lines: string[] }[] = [
    { title: 'Theirs, as it stands now', view: it.current, lines: it.since },
  ]
  if (bench.waiting?.kind === 'edit')
    all.push({ title: 'Mine on top of it', view: it.onTop, lines: it.mine ? [it.mine] : [] })
  return all
})
const side = (view: BenchView) => view.elevations.find((e) => e.view === 'side')
const flagged = (view: BenchView): Record<string, string> =>
  Object.fromEntries(view.rows.filter((r) => r.level === 'stop' || r.level === 'watch').map((r) => [r.unit, r.level]))
</script>

<template>
  <BModal
    v-model="open"
    title="Somebody changed this rig while you did"
    size="xl"
    no-footer
    class="conflict"
    @hidden="leave"
  >
    <div class="two-states">
      <section v-for="s in sides" :key="s.title" :aria-label="s.title">
        <h3>{{ s.title }}</h3>
        <ul>
          <li v-for="line in s.lines" :key="line">{{ line }}</li>
        </ul>
        <template v-if="s.view">
          <ElevationPanel
            v-if="side(s.view)"
            :drawing="side(s.view)!"
            selected=""
            :slides="{}"
            :flagged="flagged(s.view)"
          />
          <p class="state-sum">
            <CountMarks :counts="s.view.counts" />
            <span>{{ grams(s.view.figures.payload_g) }} g</span>
            <span>{{ hours(s.view.figures.hours) }} h</span>
          </p>
        </template>
        <p v-else class="cannot">{{ beside?.whyNot || 'It cannot be shown.' }}</p>
      </section>
    </div>
    <p class="choices">
      <BButton
        v-if="bench.waiting && (bench.waiting.kind !== 'edit' || beside?.onTop)"
        variant="primary"
        @click="bench.tryAgain()"
        >Mine again on top</BButton
      >
      <BButton @click="bench.takeTheirs()">Dismiss</BButton>
    </p>
  </BModal>
</template>

<style>
.conflict .two-states {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(280px, 1fr));
  gap: var(--gap-8);
}
.conflict h3 {
  font: 700 var(--t-5)/1.2 var(--text);
  margin: 0 0 var(--gap-3);
}
.conflict ul {
  min-height: 3em;
  margin: 0 0 var(--gap-4);
  padding: 0;
  list-style: none;
}
.conflict section .sheet-frame,
.conflict section figure {
  height: 260px;
  margin: 0;
  background: var(--sheet);
}
.conflict .state-sum {
  display: flex;
  gap: var(--gap-6);
  align-items: center;
  margin: var(--gap-4) 0 0;
  font-variant-numeric: tabular-nums;
}
.conflict .cannot {
  padding: var(--gap-6);
  background: var(--stop-wash);
  border-left: 5px solid var(--stop);
}
.conflict .choices {
  justify-content: flex-end;
  margin: var(--gap-8) 0 0;
}
</style>
