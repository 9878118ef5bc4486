<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import type { LogView } from '../../api/schema.gen'
import { clock, counted, weekday } from '../../lib/format'

/** Figures as they are counted with and as they were read: each with its readings, and what it changes. */
type Proposal = LogView['proposals'][number]
const props = defineProps<{ view: LogView; may: (p: Proposal) => boolean; busy: boolean }>()
const emit = defineEmits<{ take: [proposal: Proposal] }>()
const key = (p: Proposal): string => `${p.of} ${p.thing}`
const open = ref('')
const waiting = computed(() => props.view.proposals.filter((p) => !p.taken))
const done = computed(() => props.view.proposals.filter((p) => p.taken))
const said = (value: number, p: Proposal): string =>
  `${p.of === 'health' ? `${(value * 100).toFixed(1)} %` : String(Number(value.toPrecision(3)))}${p.unit ? ` ${p.unit}` : ''}`
const spread = (p: Proposal): string =>
  p.of === 'health' ? `${(p.spread * 100).toFixed(1)} %` : `${String(Number(p.spread.toPrecision(2)))} ${p.unit}`
/** A strip from a low to a high figure: where it was, where it is read to be, and every reading. */
function strip(p: Proposal) {
  const points = [p.first, p.now || p.first, p.value + 2 * p.spread, p.value - 2 * p.spread]
  const readings = p.of === 'minutes' ? [] : p.runs.map((r) => r.value)
  const all = [...points, ...readings]
  const low = Math.min(...all)
  const width = Math.max(...all) - low || 1
  const at = (v: number): number => 6 + (188 * (v - low)) / width
  return {
    now: at(p.now || p.first),
    value: at(p.value),
    low: at(p.value - p.spread),
    high: at(p.value + p.spread),
    runs: readings.map(at),
  }
}
const changes = (p: Proposal): number => p.comes.length + p.goes.length + p.differs.length
</script>

<template>
  <section class="learnt" aria-label="What the figures learn">
    <h2>What the figures learn</h2>
    <p v-if="!view.proposals.length" class="quiet">
      Nothing yet. Note the charge left at every swap, hours until a pack was empty, watts, minutes that a card or a
      changeover took: each brings a figure nearer to what it really is.
    </p>
    <article v-for="p in waiting" :key="key(p)" :class="{ open: open === key(p) }">
      <button type="button" :aria-expanded="open === key(p)" @click="open = open === key(p) ? '' : key(p)">
        <b>{{ p.title }}</b>
        <strong
          >{{ said(p.value, p) }} <small>± {{ spread(p) }}</small></strong
        >
        <small v-if="p.now">counted with {{ said(p.now, p) }}</small>
        <small v-else>not counted with until now</small>
      </button>
      <svg viewBox="0 0 200 22" role="img" :aria-label="`${p.title}: ${said(p.now, p)} to ${said(p.value, p)}`">
        <line x1="4" x2="196" y1="12" y2="12" class="axis" />
        <rect :x="strip(p).low" :width="Math.max(1, strip(p).high - strip(p).low)" y="8" height="8" class="band" />
        <circle v-for="(x, i) in strip(p).runs" :key="i" :cx="x" cy="12" r="2.6" class="reading" />
        <path :d="`M${String(strip(p).now)} 3 v18`" class="was" />
        <path :d="`M${String(strip(p).value)} 2 v20`" class="is" />
      </svg>
      <p class="effect">
        <template v-if="!p.tried">Trying what it changes…</template>
        <template v-else-if="!changes(p)">Changes nothing that is planned.</template>
      </p>
      <ul v-if="changes(p)" class="effects">
        <li v-for="t in p.comes" :key="`c${t}`"><b>comes</b> {{ t }}</li>
        <li v-for="t in p.goes" :key="`g${t}`"><b>goes</b> {{ t }}</li>
        <li v-for="t in p.differs" :key="`d${t}`">{{ t }}</li>
      </ul>
      <div v-if="open === key(p)" class="data">
        <p class="formula">{{ p.working.formula }}<br />{{ p.working.numbers }}</p>
        <ul>
          <li v-for="r in p.runs" :key="r.at + r.text">
            {{ weekday(r.at) }} {{ clock(r.at) }} {{ r.text
            }}<template v-if="p.of === 'health'">: {{ r.value.toFixed(2) }}</template>
          </li>
        </ul>
      </div>
      <BButton v-if="may(p)" variant="primary" size="sm" :disabled="busy" @click="emit('take', p)"
        >Count with {{ said(p.value, p) }}</BButton
      >
    </article>
    <p v-if="done.length" class="quiet">
      Near enough as it is: {{ done.map((p) => `${p.title} ${said(p.value, p)}`).join(', ') }}.
    </p>
    <template v-if="view.taken.length">
      <h3>Taken over</h3>
      <ul class="taken">
        <li v-for="t in view.taken" :key="t.at + t.thing">
          {{ weekday(t.at) }} {{ clock(t.at) }} {{ t.of }} {{ t.thing }}: {{ Number(t.before.toPrecision(4)) }} to
          {{ Number(t.value.toPrecision(4)) }}, {{ t.by }}
        </li>
      </ul>
    </template>
    <template v-if="view.faults.length">
      <h3>{{ counted(view.faults.length, 'open fault') }}</h3>
      <ul class="taken">
        <li v-for="f in view.faults" :key="f.unit + f.at">
          <b>{{ f.unit }}</b> {{ f.kind }}, {{ f.text || 'no words yet' }}; {{ weekday(f.at) }} {{ clock(f.at) }},
          {{ f.by }}<template v-if="f.job">, {{ f.job }}</template>
        </li>
      </ul>
    </template>
    <template v-if="view.promises.length">
      <h3>Promised and agreed</h3>
      <ul class="taken">
        <li v-for="x in view.promises" :key="x.id">{{ x.kind }}: {{ x.text }}</li>
      </ul>
    </template>
  </section>
</template>

<style>
.learnt {
  padding: var(--gap-6) var(--gap-7);
}
.learnt h2 {
  font: 700 var(--t-5) var(--text);
}
.learnt h3 {
  font: 700 var(--t-4) var(--text);
  color: var(--ink);
  padding: 0;
  margin: var(--gap-7) 0 var(--gap-3);
}
.learnt article {
  border-top: 1px solid var(--rule);
  padding: var(--gap-5) 0 var(--gap-6);
}
.learnt article > button:not(.btn) {
  width: 100%;
  border: 0;
  background: none;
  color: inherit;
  text-align: left;
  padding: 0;
  display: grid;
  grid-template-columns: 1fr auto;
}
.learnt strong {
  font: 700 var(--t-6) var(--figures);
  grid-row: span 2;
}
.learnt strong small {
  font-size: var(--t-3);
  font-weight: 400;
}
.learnt article > button:not(.btn) > small {
  color: var(--ink-3);
}
.learnt svg {
  width: 100%;
  height: 26px;
}
.learnt .axis {
  stroke: var(--rule);
}
.learnt .band {
  fill: var(--mark-wash);
}
.learnt .reading {
  fill: none;
  stroke: var(--ink-2);
}
.learnt .was {
  stroke: var(--ink-3);
  stroke-dasharray: 2 2;
}
.learnt .is {
  stroke: var(--mark);
  stroke-width: 2;
}
.learnt .effects,
.learnt .taken,
.learnt .data ul {
  padding-left: var(--gap-8);
  margin-bottom: var(--gap-4);
  font-size: var(--t-3);
}
.learnt .effect {
  margin: 0;
  color: var(--ink-3);
  font-size: var(--t-3);
}
.learnt .formula {
  font: var(--t-2) var(--figures);
  overflow-wrap: anywhere;
}
</style>
