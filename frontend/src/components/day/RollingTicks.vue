<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { ref } from 'vue'
import { noteAtSource, takeBackAtSource } from '../../api'
import { KEPT_HERE, type Problem } from '../../api/client'
import type { SoundView, SourceStepRequest, Voice } from '../../api/schema.gen'
import { clock } from '../../lib/format'
import TextField from '../fields/TextField.vue'

/** What was looked at and heard at every source of a voice: it counts as rolling when all four are done. */
const props = defineProps<{ job: string; sound: SoundView; voice: Voice }>()
const emit = defineEmits<{ noted: [view: SoundView] }>()
type Row = SoundView['rolling'][number]
const CHECKS = [
  ['runs', 'it runs'],
  ['locked', 'hold on, hand off'],
  ['heard', 'heard on headphones'],
  ['slated', 'slated by name'],
] as const
const refusal = ref<Problem | null>(null)
const files = ref<Record<string, string>>({})
const stepOf = (row: Row, act: string) => row.done.find((d) => d.act === act)
const kept = ref('')
async function sent(call: () => Promise<SoundView | null>): Promise<void> {
  try {
    const now = await call()
    if (now) emit('noted', now)
    kept.value = now ? '' : KEPT_HERE
    refusal.value = null
  } catch (error) {
    refusal.value = error as Problem
  }
}
function press(row: Row, act: SourceStepRequest['act']): Promise<void> {
  const there = stepOf(row, act)
  if (there) return sent(() => takeBackAtSource(props.job, there.id))
  const file = act === 'slated' ? (files.value[row.source] ?? '') : ''
  return sent(() => noteAtSource(props.job, { voice: row.voice, source: row.source, act, file }))
}
</script>

<template>
  <section class="rolling-ticks" aria-label="Before it counts as rolling">
    <h3>Before it counts as rolling</h3>
    <p v-if="refusal" class="trouble" role="alert">{{ refusal.message }}</p>
    <p v-if="kept" role="status">{{ kept }}</p>
    <div
      v-for="row in sound.rolling.filter((r) => r.voice === voice.id)"
      :key="row.source"
      class="rolling-row"
      :class="{ counts: row.counts }"
      role="group"
      :aria-label="`Rolling: ${row.source}`"
    >
      <p>
        <b>{{ row.source }}</b>
        <small>{{ row.counts ? `rolling${row.file ? `, ${row.file}` : ''}` : `${row.done.length} of 4` }}</small>
      </p>
      <span class="ticks">
        <BButton
          v-for="[act, says] in CHECKS"
          :key="act"
          :aria-pressed="!!stepOf(row, act)"
          :title="stepOf(row, act) ? `${clock(stepOf(row, act)!.at)}, ${stepOf(row, act)!.actor}` : undefined"
          @click="press(row, act)"
          >{{ says }}</BButton
        >
        <TextField
          v-if="!stepOf(row, 'slated')"
          v-model="files[row.source]"
          :aria-label="`File of ${row.source}`"
          placeholder="file"
        />
        <BButton v-if="row.done.length" @click="press(row, 'stopped')">Stopped</BButton>
      </span>
    </div>
  </section>
</template>

<style>
.rolling-ticks h3 {
  font: 600 var(--t-4) var(--text);
}
.rolling-row {
  border-top: 1px solid var(--rule-2);
  border-left: 3px solid transparent;
  padding: var(--gap-4) 0 var(--gap-4) var(--gap-4);
}
.rolling-row.counts {
  border-left-color: var(--mark);
}
.rolling-row p {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-5);
}
.rolling-row .ticks {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
}
.rolling-row .ticks input {
  width: 110px;
}
@media (max-width: 760px) {
  .rolling-row .ticks .btn {
    min-height: 48px;
  }
}
</style>
