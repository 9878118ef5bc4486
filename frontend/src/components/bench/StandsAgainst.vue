<script setup lang="ts">
import type { Operation, Place } from '../../api'
import type { FindingView } from '../../api/schema.gen'
import { useBench } from '../../stores/bench'
import LevelMark from '../frame/LevelMark.vue'
import WorkingView from '../frame/WorkingView.vue'
import RemedyList from './RemedyList.vue'

/** Problems of a rig in one regard: each opens to its working and the fixes that work, which are taken here. */
const props = defineProps<{ what: string; findings: readonly FindingView[]; place: Place }>()
const emit = defineEmits<{ taken: [] }>()
const opened = defineModel<string>({ required: true })
const bench = useBench()

const capital = (words: string): string => words.slice(0, 1).toUpperCase() + words.slice(1)

async function take(operations: Operation[]): Promise<void> {
  await bench.open(props.place)
  if (!(await bench.edit(...operations))) return
  opened.value = ''
  emit('taken')
}
</script>

<template>
  <section class="balance-side">
    <h2>{{ findings.length ? `${capital(what)} problems` : `No ${what} problems` }}</h2>
    <div v-for="f in findings" :key="f.key" :class="f.level">
      <button
        type="button"
        class="callout"
        :class="f.level"
        :aria-expanded="opened === f.key"
        @click="opened = opened === f.key ? '' : f.key"
      >
        <LevelMark :level="f.level" :size="16" /><span class="title">{{ f.title }}</span
        ><span class="text">{{ f.text }}</span>
      </button>
      <div v-if="opened === f.key" class="detail">
        <p class="why">{{ f.why }}</p>
        <WorkingView v-for="w in f.working" :key="w.formula" :working="w" />
        <RemedyList v-if="f.level === 'stop' || f.level === 'watch'" :finding="f" :place="place" @take="take" />
      </div>
    </div>
    <p class="caution"><slot /></p>
  </section>
</template>

<style>
.balance-side {
  border-left: 1px solid var(--rule);
  overflow-y: auto;
}
.balance-side h2 {
  font: 600 var(--t-5) var(--text);
  padding: var(--gap-6) var(--gap-7);
  background: var(--lift);
}
.balance-side .callout {
  border-bottom: 1px solid var(--rule-2);
}
.balance-side .stop .title {
  color: var(--stop);
}
.balance-side .watch .title {
  color: var(--watch);
}
.balance-side .caution {
  padding: var(--gap-7);
}
</style>
