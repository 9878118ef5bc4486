<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, ref, watch } from 'vue'
import { dayFile, dayPaper, readRunCures } from '../../api'
import type { DayView, RunCuresView, RunView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { clock, counted, fixed, weekday } from '../../lib/format'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'

/** A day's tasks timed back from its starts: who does what when as time, and as a list for the hand. */
const props = defineProps<{
  job: string
  view: DayView
  run: RunView | null
  part: string
  late: { part: string; min: number }
}>()
const emit = defineEmits<{ late: [part: string, min: number] }>()

const day = computed(() => props.run?.days.find((d) => d.parts.includes(props.part)) ?? props.run?.days[0] ?? null)
const parts = computed(() => props.view.parts.filter((p) => day.value?.parts.includes(p.id)))
const who = ref('')
const at = (iso: string): number => Date.parse(iso) / 60_000
const placed = computed(() => (day.value?.tasks ?? []).filter((t) => t.starts))
const missing = computed(() => (day.value?.tasks ?? []).filter((t) => !t.starts))
const frame = useFrame()
const { found: tried, loading: trying, steps, stop } = useLoad<RunCuresView>()
/** What would make it fit is asked for with every sheet on which something finds no time, when its search is over. */
watch(
  () => props.run,
  (run) => {
    stop()
    if (run?.searched === 'searching' || !run?.days.some((d) => d.tasks.some((t) => !t.starts))) return
    void steps(async () => {
      const value = await readRunCures(props.job, props.late.min ? props.late.part : '', props.late.min)
      return { value, last: !value.searching }
    }, 250)
  },
  { immediate: true },
)
const cures = computed(() => (tried.value?.cures ?? []).filter((c) => c.day === day.value?.day))
/** From the hour of the first task to the hour after the last. */
const span = computed(() => {
  const all = [
    ...placed.value.flatMap((t) => [at(t.starts ?? ''), at(t.ends ?? '')]),
    ...(day.value?.busy ?? []).flatMap((b) => [at(b.starts), at(b.ends)]),
  ]
  if (!all.length) return { from: 0, to: 60 }
  return { from: Math.floor(Math.min(...all) / 60) * 60, to: Math.ceil(Math.max(...all) / 60) * 60 }
})
const share = (min: number): number => ((min - span.value.from) / (span.value.to - span.value.from)) * 100
const hours = computed(() => {
  const every = span.value.to - span.value.from > 8 * 60 ? 120 : 60
  return Array.from({ length: 40 }, (_, i) => span.value.from + i * every).filter((m) => m <= span.value.to)
})
const hour = (min: number): string => {
  const first = placed.value[0]?.starts ?? day.value?.call ?? ''
  return clock(new Date(min * 60_000).toISOString().replace('Z', first.slice(19) || 'Z'))
}
const SEARCHED: Record<RunView['searched'], string> = {
  'by rule': 'by rule',
  searching: 'searching for a better one…',
  'best found': 'best that was found',
  proven: 'searched: nothing better exists',
}
const KINDS: Record<string, string> = {
  build: 'build',
  change: 'change',
  cards: 'cards',
  'line up': 'line up',
  close: 'close',
  'mic up': 'microphones on',
  'mic off': 'microphones off',
  swap: 'pack',
}
const sessions = computed(() => (props.run?.sessions ?? []).filter((x) => day.value?.parts.includes(x.part)))
const listed = computed(() => placed.value.filter((t) => !who.value || t.who.includes(who.value)))
const partOf = (id: string): string => props.view.parts.find((p) => p.id === id)?.label ?? ''
const people = computed(() => [
  { value: '', text: 'everybody' },
  ...(day.value?.people ?? []).map((p) => ({ value: p, text: p })),
])
const lateChoices = computed(() => parts.value.map((p) => ({ value: p.id, text: p.label })))
</script>

<template>
  <section class="run-sheet" aria-label="Run sheet">
    <p v-if="!run" class="quiet">Timing it back…</p>
    <template v-else-if="day">
      <header>
        <h2>
          {{ weekday(day.call) }}
          <small
            >crew there from {{ clock(day.call) }}<span class="searched">{{ SEARCHED[run.searched] }}</span></small
          >
        </h2>
        <label
          >What if
          <ChoiceField
            :model-value="late.part || lateChoices[0]?.value"
            :choices="lateChoices"
            aria-label="The part that ends late"
            :commit="(p: string) => emit('late', p, late.min)"
          />
        </label>
        <label
          >ends late by
          <NumberField
            :model-value="late.min"
            min="0"
            max="600"
            step="5"
            aria-label="Minutes late"
            :commit="(min: number) => emit('late', late.part || lateChoices[0]?.value || '', min)"
          />
          min
        </label>
      </header>
      <p v-if="day.stands_until && late.min" class="run-stands">
        What had begun by {{ clock(day.stands_until) }} stays as it was planned; the rest is dealt anew.
      </p>
      <p v-if="!run.carded" class="run-carded">
        Packs that are swapped meanwhile are not in it yet:
        <RouterLink :to="{ name: 'swaps', params: { job, part: day.parts[0] ?? part, rig: String($route.params.rig) } }"
          >plan the swaps</RouterLink
        >.
      </p>
      <p v-for="f in day.findings" :key="f.key" class="run-stop">{{ f.text }}</p>
      <div class="run-lanes" role="img" :aria-label="`Who does what, ${placed.length} tasks`">
        <div class="run-hours" aria-hidden="true">
          <span v-for="h in hours" :key="h" :style="{ left: `${share(h)}%` }">{{ hour(h) }}</span>
        </div>
        <div v-for="p in day.people" :key="p" class="lane">
          <b>{{ p }}</b>
          <span class="track">
            <i v-for="x in parts" :key="x.id" class="starts" :style="{ left: `${share(at(x.starts))}%` }"></i>
            <i
              v-for="b in day.busy.filter((x) => x.who === p)"
              :key="b.starts + b.label"
              class="works"
              :style="{ left: `${share(at(b.starts))}%`, width: `${share(at(b.ends)) - share(at(b.starts))}%` }"
              :title="`${b.label}, ${partOf(b.part)}`"
              >{{ b.label }}</i
            >
            <i
              v-for="t in placed.filter((x) => x.who.includes(p))"
              :key="t.label + t.kind + t.part + t.starts"
              class="does"
              :class="`k-${t.kind.replace(' ', '-')}`"
              :style="{
                left: `${share(at(t.starts ?? ''))}%`,
                width: `${share(at(t.ends ?? '')) - share(at(t.starts ?? ''))}%`,
              }"
              :title="`${clock(t.starts ?? '')} ${KINDS[t.kind]} ${t.label}, ${fixed(t.minutes, 1)} min`"
            ></i>
          </span>
        </div>
      </div>
      <div v-if="missing.length" class="run-missing">
        <h3>Does not fit</h3>
        <p v-for="t in missing" :key="t.label + t.kind + t.part">
          <b>{{ KINDS[t.kind] }}</b> {{ t.label }} <small>{{ t.what }}</small>
          <span>{{ fixed(t.minutes, 1) }} min by {{ clock(t.by) }}</span>
        </p>
        <p v-if="trying || run.searched === 'searching'" class="quiet" role="status">Trying what would do…</p>
        <section v-if="cures.length" class="run-cures" aria-label="What would do">
          <h3>What would do, tried</h3>
          <p v-for="c in cures" :key="c.label">
            <b>{{ c.label }}</b>
            <small>{{ c.left ? `${c.left} of ${c.before} still find no time` : 'then everything fits' }}</small>
            <BButton @click="frame.edit(c.operation)">Take it</BButton>
          </p>
        </section>
      </div>
      <section v-for="x in sessions" :key="x.part" class="run-session" :aria-label="`Subjects in ${x.label}`">
        <h3>
          {{ x.label }}: <b>{{ counted(x.takes.length, 'subject') }}</b>
          <small
            >{{ fixed(x.each_min, 1) }} min each, {{ fixed(x.left_min, 1) }} min left; no more, as {{ x.ends }}</small
          >
        </h3>
        <p>
          <template v-for="(t, n) in x.takes" :key="t"
            ><span v-for="p in x.pauses.filter((q) => q.after === n)" :key="p.what" class="run-pause"
              >{{ p.what }} of {{ p.cameras.join(', ') }}, {{ fixed(p.minutes, 0) }} min</span
            ><span
              ><b>{{ n + 1 }}</b> {{ clock(t) }}</span
            ></template
          >
        </p>
      </section>
      <p class="run-who">
        <label>List for <ChoiceField v-model="who" :choices="people" aria-label="Whose list" /></label>
        <BLink class="btn btn-secondary" :href="dayPaper(job, 'run', who)" target="_blank">PDF</BLink>
        <BLink class="btn btn-secondary" :href="dayFile(job, 'run.ics', who)">Calendar</BLink>
        <BLink class="btn btn-secondary" :href="dayFile(job, 'run.csv')">CSV</BLink>
      </p>
      <ol>
        <li v-for="t in listed" :key="t.label + t.kind + t.part + t.starts">
          <time>{{ clock(t.starts ?? '') }}</time>
          <span
            ><b>{{ KINDS[t.kind] }} {{ t.label }}</b> <small>{{ t.what }}</small></span
          >
          <span class="for">{{ t.who.join(' + ') }}</span>
          <span class="min">{{ fixed(t.minutes, 1) }}</span>
        </li>
      </ol>
    </template>
  </section>
</template>

<style>
.run-sheet {
  overflow: auto;
  padding: var(--gap-5) var(--gap-7) var(--gap-9);
  scrollbar-width: thin;
  display: grid;
  gap: var(--gap-5);
  align-content: start;
}
.run-sheet header {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4) var(--gap-7);
  align-items: center;
  font-size: var(--t-3);
}
.run-sheet header h2 {
  font: 700 var(--t-5) var(--text);
  margin-right: auto;
}
.run-sheet header h2 small {
  font-weight: 400;
  color: var(--ink-2);
}
.run-sheet header label,
.run-who {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
}
.run-sheet header input {
  width: 64px;
}
.searched {
  margin-left: var(--gap-5);
  color: var(--ink-3);
}
.run-carded,
.run-stands {
  font-size: var(--t-3);
  color: var(--ink-2);
}
.run-stop {
  background: var(--stop-wash);
  color: var(--stop);
  font-weight: 600;
  padding: var(--gap-4) var(--gap-5);
}
.run-lanes {
  position: relative;
  padding-top: 20px;
}
.run-hours {
  position: absolute;
  top: 0;
  left: 78px;
  right: 0;
  font: 400 var(--t-1) var(--figures);
  color: var(--ink-3);
}
.run-hours span {
  position: absolute;
  transform: translateX(-50%);
}
.run-hours span:last-child {
  transform: translateX(-100%);
}
.lane {
  display: grid;
  grid-template-columns: 78px 1fr;
  align-items: center;
  border-top: 1px solid var(--rule-2);
  font-size: var(--t-3);
}
.track {
  position: relative;
  height: 34px;
  overflow: hidden;
}
.track i {
  position: absolute;
  font-style: normal;
}
.track .starts {
  top: 0;
  bottom: 0;
  border-left: 1px dashed var(--ink-3);
}
.track .works {
  top: 7px;
  bottom: 7px;
  background: var(--mark-wash);
  color: var(--ink-2);
  font-size: var(--t-1);
  padding: 2px var(--gap-3) 0;
  overflow: hidden;
  white-space: nowrap;
}
.track .does {
  top: 3px;
  bottom: 3px;
  min-width: 2px;
  background: var(--ink-2);
}
.track .k-build,
.track .k-change {
  background: var(--ink);
}
.track .k-line-up {
  background: var(--mark);
}
.run-session h3 {
  font: 600 var(--t-4) var(--text);
}
.run-session h3 small {
  font-weight: 400;
  color: var(--ink-2);
}
.run-session p {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-6);
  font: 400 var(--t-3) var(--figures);
}
.run-pause {
  background: var(--watch-wash);
  color: var(--watch);
  padding: 0 var(--gap-4);
  font-family: var(--text);
}
.run-missing p {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-6);
  border-top: 1px solid var(--rule-2);
  padding: var(--gap-3) 0;
  font-size: var(--t-3);
}
.run-missing h3 {
  font: 600 var(--t-4) var(--text);
  color: var(--stop);
}
.run-missing p span {
  margin-left: auto;
  font-family: var(--figures);
}
.run-sheet ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
.run-sheet ol li {
  display: grid;
  grid-template-columns: 56px 1fr auto 44px;
  gap: var(--gap-5);
  align-items: baseline;
  padding: var(--gap-4) 0;
  border-top: 1px solid var(--rule-2);
  font-size: var(--t-4);
}
.run-sheet time {
  font: 700 var(--t-4) var(--figures);
}
.run-sheet li small {
  color: var(--ink-2);
}
.run-sheet .min {
  font-family: var(--figures);
  text-align: right;
}
@media (max-width: 760px) {
  .run-lanes {
    display: none;
  }
  .run-sheet ol li {
    grid-template-columns: 60px 1fr 44px;
    padding: var(--gap-6) 0;
    font-size: var(--t-5);
  }
  .run-sheet .for {
    grid-column: 2;
  }
}
.run-cures h3 {
  color: var(--ink);
}
.run-cures p {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: var(--gap-5);
  align-items: center;
}
@media (max-width: 760px) {
  .run-cures p {
    grid-template-columns: 1fr auto;
  }
  .run-cures small {
    grid-row: 2;
  }
}
</style>
