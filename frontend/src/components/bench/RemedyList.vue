<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BProgress } from 'bootstrap-vue-next/components/BProgress'
import { computed, watch } from 'vue'
import { readRemedies, type Operation, type Place } from '../../api'
import type { FindingView, RemediesView, RemedyView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import LevelMark from '../frame/LevelMark.vue'
import EffectLine from './EffectLine.vue'

const props = defineProps<{ finding: FindingView; place: Place }>()
const emit = defineEmits<{ take: [operations: Operation[]]; look: [operations: Operation[]]; away: [] }>()

const { found, problem: trouble, loading, steps, stop, show } = useLoad<RemediesView>()
const remedies = computed(() => found.value?.remedies ?? null)

function inOrder(a: RemedyView, b: RemedyView): number {
  const at = a.rank.findIndex((x, i) => x !== b.rank[i])
  return at < 0 ? 0 : (a.rank[at] ?? 0) - (b.rank[at] ?? 0)
}

function merged(before: readonly RemedyView[], more: readonly RemedyView[], most: number): RemedyView[] {
  return [...new Map([...before, ...more].map((r) => [r.title, r])).values()].sort(inOrder).slice(0, most)
}

/** A long search is answered in steps; the best so far is shown meanwhile. */
watch(
  () => props.finding,
  (finding) => {
    show(null)
    void steps(async (before) => {
      const step = await readRemedies(props.place, finding.key, before?.tried ?? 0)
      const value = { ...step, remedies: merged(before?.remedies ?? [], step.remedies, step.most) }
      return { value, last: step.tried >= step.of }
    })
  },
  { immediate: true },
)
</script>

<template>
  <h3>Fixes that work</h3>
  <p v-if="trouble" class="trouble">{{ trouble.message }}</p>
  <p v-else-if="remedies === null" class="quiet">Trying what is on the shelf…</p>
  <p v-else-if="!remedies.length && !loading" class="quiet">
    Nothing on the shelf helps now. Usual cures: {{ finding.cures }}
  </p>
  <p v-if="loading && found" class="searching" role="status">
    <BProgress :value="found.tried" :max="found.of" /> {{ found.tried }} of {{ found.of }} tried
    <BButton data-rove @click="stop">Stop searching</BButton>
  </p>
  <template v-for="(r, i) in remedies ?? []" :key="r.title">
    <p v-if="r.exchanges && !remedies?.[i - 1]?.exchanges" class="exchanges">
      <LevelMark level="stop" :size="13" /> Exchanges one Stop for another
    </p>
    <button
      type="button"
      class="remedy"
      data-rove
      @click="emit('take', r.operations as Operation[])"
      @focus="emit('look', r.operations as Operation[])"
      @blur="emit('away')"
    >
      <span class="what">{{ r.title }}</span>
      <span v-if="!r.clears" class="eases">helps, does not clear it</span>
      <EffectLine :effect="r.effect" />
    </button>
  </template>
</template>

<style>
.searching {
  display: flex;
  gap: var(--gap-5);
  align-items: center;
  padding: var(--gap-3) var(--gap-6);
  font-size: var(--t-3);
}
.searching progress {
  accent-color: var(--mark);
  width: 90px;
}
.exchanges {
  margin: 0.6rem 0 0.2rem;
  font-size: var(--t-2);
  color: var(--ink-2);
  display: flex;
  gap: 0.35rem;
  align-items: center;
}
</style>
