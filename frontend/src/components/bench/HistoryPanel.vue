<script setup lang="ts">
import { watch } from 'vue'
import { readHistory } from '../../api'
import type { HistoryView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { useBench } from '../../stores/bench'
import { useJob } from '../../stores/job'
import PickerFrame from './PickerFrame.vue'

/** Who did what to this build, and when, the latest first. */
const emit = defineEmits<{ close: [] }>()
const bench = useBench()
const job = useJob()
const { found, problem, load } = useLoad<HistoryView>()
watch(
  () => [job.place, bench.saved?.version],
  () => {
    const here = job.place
    if (here) void load(() => readHistory(here))
  },
  { immediate: true },
)
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
    <p v-if="found && !found.edits.length" class="quiet">Nothing was changed here yet.</p>
    <ol class="edits">
      <li v-for="e in found?.edits ?? []" :key="`${e.version}${e.kind}${e.at}`" tabindex="0" data-rove>
        <b>{{ e.title }}</b>
        <small
          >{{ e.actor }}, {{ e.at.slice(0, 16).replace('T', ' ') }}{{ e.kind === 'edit' ? '' : `, ${e.kind}` }}</small
        >
      </li>
    </ol>
  </PickerFrame>
</template>

<style>
.edits {
  list-style: none;
  padding: var(--gap-3) var(--gap-7);
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
