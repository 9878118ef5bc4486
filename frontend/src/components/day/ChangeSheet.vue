<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, ref, watch } from 'vue'
import { dayPaper, readChange } from '../../api'
import type { ChangeSheetView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { counted, fixed } from '../../lib/format'
import { useFrame } from '../../stores/frame'
import CountMarks from '../frame/CountMarks.vue'
import FrameTrouble from '../frame/FrameTrouble.vue'

/** The sheet of one change: what comes off and goes on, in order, by whom; what to do again, what is lost, what else it could be. */
const props = defineProps<{ job: string; part: string; rig: string; version: number }>()
const emit = defineEmits<{ close: [] }>()
const frame = useFrame()
const { found, problem, load } = useLoad<ChangeSheetView>(['build', 'job', 'jobs', 'shelf'])
const two = ref(false)
watch(
  () => [props.job, props.part, props.rig, props.version] as const,
  ([job, part, rig]) => load(() => readChange(job, part, rig)),
  { immediate: true },
)
watch(found, (now) => {
  if (now) two.value = now.fits === 'with two' || now.fits === 'no'
})

const ACTS: Record<string, string> = {
  fetch: 'fetch',
  unplug: 'pull',
  'take off': 'off',
  'put on': 'on',
  'plug in': 'plug',
  set: 'set',
  balance: 'balance',
  recalibrate: 'calibrate',
}
const tasks = computed(() => {
  const all = [...(found.value?.tasks ?? [])]
  return two.value ? all.sort((a, b) => a.starts - b.starts || a.who - b.who) : all
})
const whole = computed(() => (two.value ? found.value?.two_min : found.value?.alone_min) ?? 0)
/** Everything is drawn on one scale, so that what sticks out of the gap is seen to. */
const scale = computed(() => Math.max(whole.value, Math.min(found.value?.gap_min ?? 0, whole.value * 2), 0.1))
const share = (min: number): string => `${fixed((min / scale.value) * 100, 2)}%`
const FITS: Record<string, string> = {
  easily: 'fits easily',
  tight: 'fits, with nothing to spare',
  'with two': 'fits with two pairs of hands',
  no: 'does not fit',
}
async function take(build: string): Promise<void> {
  if (await frame.edit({ op: 'plan build', rig: props.rig, part: props.part, build })) emit('close')
}
</script>

<template>
  <section class="change-sheet" aria-label="Change">
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <template v-else-if="found">
      <header>
        <h2>
          {{ found.label }}: {{ found.before_build }} → {{ found.after_build }}
          <small>{{ found.before }} to {{ found.after }}</small>
        </h2>
        <BLink class="btn btn-secondary" :href="dayPaper(job, 'changes')" target="_blank">PDF of all</BLink>
        <BButton @click="emit('close')">Close</BButton>
      </header>
      <p class="sum" :class="found.fits.replace(' ', '-')">
        <b>{{ fixed(whole, 1) }}</b> of {{ fixed(found.gap_min, 0) }} min <span>{{ FITS[found.fits] }}</span>
      </p>
      <p class="hands">
        <BButton :aria-pressed="!two" @click="two = false">one, {{ fixed(found.alone_min, 1) }} min</BButton>
        <BButton :aria-pressed="two" @click="two = true">two, {{ fixed(found.two_min, 1) }} min</BButton>
        <small v-if="found.slowest"
          >slowest: {{ found.slowest.unit }}, {{ fixed(found.slowest.minutes, 1) }} ({{ found.slowest.kind }})</small
        >
      </p>
      <p v-if="found.beforehand.length" class="ready">
        <b>Ready beforehand</b> {{ counted(found.beforehand.length, 'thing') }}:
        {{ found.beforehand.map((t) => `${t.unit} on ${t.where}`).join('; ') }}
      </p>
      <ol>
        <li v-for="(t, i) in tasks" :key="i" :class="[t.act.replace(' ', '-'), two && t.who ? 'second' : 'first']">
          <span class="act">{{ ACTS[t.act] ?? t.act }}</span>
          <span class="unit">{{ t.unit }}</span>
          <span class="where">{{ t.where }}</span>
          <span class="min">{{ fixed(t.minutes, 1) }}</span>
          <span class="run" aria-hidden="true"
            ><i :style="{ left: share(two ? t.starts : t.alone_at), width: share(t.minutes) }"></i
            ><u v-if="found.gap_min < scale" :style="{ left: share(found.gap_min) }"></u
          ></span>
          <span v-if="two" class="visually-hidden">{{ t.who ? 'second pair of hands' : 'first pair of hands' }}</span>
        </li>
      </ol>
      <dl>
        <template v-for="a in found.again" :key="a.what">
          <dt>{{ a.what }} again</dt>
          <dd>{{ a.why }}</dd>
        </template>
        <template v-for="l in found.lost" :key="l.what">
          <dt>without {{ l.what }}</dt>
          <dd>{{ l.instead ? `instead: ${l.instead}` : 'nothing stands in for it' }}</dd>
        </template>
        <dt v-if="found.stays.length">stays on</dt>
        <dd v-if="found.stays.length">{{ found.stays.join(', ') }}</dd>
      </dl>
      <h3>Into what else</h3>
      <ul class="instead">
        <li v-for="x in found.instead" :key="x.build" :class="{ chosen: x.chosen }">
          <span
            ><b>{{ x.label }}</b> <small>{{ x.stays ? 'do not change' : x.chosen ? 'as planned' : '' }}</small></span
          >
          <span v-if="x.refused" class="refused">{{ x.refused }}</span>
          <span v-else
            >{{ fixed(x.alone_min, 1) }} min<template v-if="x.alone_min">
              · two {{ fixed(x.two_min, 1) }}</template
            ></span
          >
          <CountMarks :counts="x.counts" />
          <BButton v-if="!x.chosen && !x.refused" @click="take(x.build)">Take it</BButton>
        </li>
      </ul>
      <FrameTrouble />
    </template>
    <p v-else class="quiet">Counting…</p>
  </section>
</template>

<style>
.change-sheet {
  display: grid;
  gap: var(--gap-5);
  align-content: start;
}
.change-sheet header {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-5);
  align-items: start;
}
.change-sheet h2 {
  font: 700 var(--t-5)/1.2 var(--text);
}
.change-sheet h2 small {
  display: block;
  font-weight: 400;
  font-size: var(--t-3);
  color: var(--ink-2);
}
.change-sheet h3 {
  font: 600 var(--t-4) var(--text);
}
.change-sheet .sum {
  font-size: var(--t-4);
}
.change-sheet .sum b {
  font: 700 var(--t-7) var(--figures);
}
.change-sheet .sum span {
  display: block;
  font-weight: 600;
}
.change-sheet .sum.no {
  color: var(--stop);
}
.change-sheet .sum.with-two {
  color: var(--watch);
}
.change-sheet .hands {
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-4);
  align-items: center;
}
.change-sheet .hands small {
  color: var(--ink-2);
}
.change-sheet .ready {
  font-size: var(--t-3);
  border-left: 4px solid var(--rule);
  padding-left: var(--gap-5);
}
.change-sheet ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
.change-sheet ol li {
  display: grid;
  grid-template-columns: 62px auto 1fr auto;
  column-gap: var(--gap-4);
  align-items: baseline;
  padding: var(--gap-2) 0;
  border-top: 1px solid var(--rule-2);
  font-size: var(--t-3);
}
.change-sheet .act {
  font-weight: 600;
  color: var(--ink-2);
}
.change-sheet .where {
  font-size: var(--t-2);
  color: var(--ink-3);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.change-sheet .min {
  font-family: var(--figures);
}
.change-sheet .run {
  position: relative;
  grid-column: 1 / -1;
  height: 5px;
  background: var(--rule-2);
}
.change-sheet .run i {
  position: absolute;
  top: 0;
  bottom: 0;
  min-width: 2px;
  background: var(--mark);
}
.change-sheet .second .run i {
  background: var(--ink-3);
}
.change-sheet .run u {
  position: absolute;
  top: -3px;
  bottom: -3px;
  border-left: 2px solid var(--stop);
}
.change-sheet dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: var(--gap-2) var(--gap-6);
  margin: 0;
  font-size: var(--t-3);
}
.change-sheet dt {
  font-weight: 600;
}
.change-sheet dd {
  margin: 0;
  color: var(--ink-2);
}
.change-sheet .instead li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: var(--gap-1) var(--gap-5);
  padding: var(--gap-4) 0;
  border-top: 1px solid var(--rule-2);
  align-items: center;
  font-size: var(--t-3);
}
.change-sheet .instead .chosen {
  border-left: 4px solid var(--mark);
  padding-left: var(--gap-5);
}
.change-sheet .refused {
  grid-column: 1 / -1;
  color: var(--ink-3);
}
</style>
