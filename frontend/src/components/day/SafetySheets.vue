<script setup lang="ts">
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { ref, watch } from 'vue'
import { readSafety, safetyFile } from '../../api'
import type { SafetyView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { clock, counted, fixed, weekday } from '../../lib/format'
import LevelMark from '../frame/LevelMark.vue'
import PermissionTable from './PermissionTable.vue'

/** What applies to every position, to be signed on paper; how long everybody is there, at work and waiting. */
const props = defineProps<{ job: string; version: number | undefined }>()
const { found, problem, load } = useLoad<SafetyView>(['build', 'job', 'shelf'])
watch(
  () => [props.job, props.version],
  () => void load(() => readSafety(props.job)),
  { immediate: true },
)
const open = ref('')
/** Hours of a day on one scale, from call to end, the longest stretch on it. */
const share = (p: SafetyView['people'][number], at: string): number =>
  (100 * (Date.parse(at) - Date.parse(p.starts))) / Math.max(1, Date.parse(p.ends) - Date.parse(p.starts))
</script>

<template>
  <section class="safety" aria-label="Safety">
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <p v-else-if="!found" class="quiet">Reading the plan…</p>
    <template v-else>
      <p class="caution">
        Local codes, the venue and licensed people decide. This is worked out from the plan.
        <BLink class="btn btn-secondary btn-sm" :href="safetyFile(job)" target="_blank">Sheets to sign</BLink>
      </p>
      <PermissionTable :view="found" />
      <article v-for="s in found.sheets" :key="s.rig">
        <h2>
          {{ s.label }} <small>{{ s.position }}</small>
        </h2>
        <p v-if="!s.lines.length" class="quiet">Nothing applies here.</p>
        <ul>
          <li v-for="l in s.lines" :key="l.finding.code + l.finding.text">
            <button
              type="button"
              :aria-expanded="open === s.rig + l.finding.text"
              @click="open = open === s.rig + l.finding.text ? '' : s.rig + l.finding.text"
            >
              <LevelMark :level="l.finding.level" /> <b>{{ l.finding.title }}</b> {{ l.finding.text }}
              <small
                >{{ l.parts.join(', ') }}{{ l.sign.length ? `. By name on paper: ${l.sign.join(', ')}` : '' }}</small
              >
              <template v-if="open === s.rig + l.finding.text">
                <small>Why: {{ l.finding.why }}</small>
                <small>What helps: {{ l.finding.cures }}</small>
              </template>
            </button>
          </li>
        </ul>
      </article>
      <h2>People</h2>
      <ol class="safety-people">
        <li v-for="p in found.people" :key="p.who + p.starts">
          <b>{{ p.who }}</b>
          <span>{{ weekday(p.starts) }} {{ clock(p.starts) }} to {{ clock(p.ends) }}</span>
          <strong>{{ fixed(p.there_h, 1) }} h</strong>
          <i aria-hidden="true"
            ><i
              :style="{
                left: `${share(p, p.stretch_from)}%`,
                width: `${(100 * p.stretch_h) / Math.max(0.1, p.there_h)}%`,
              }"
            ></i
          ></i>
          <small
            >{{ fixed(p.worked_h, 1) }} h at work, {{ fixed(p.stretch_h, 1) }} h without a break,
            {{ counted(p.breaks, 'break') }}, {{ fixed(p.water_l, 1) }} l of water</small
          >
          <small v-for="f in p.findings" :key="f.code"><LevelMark :level="f.level" /> {{ f.text }}</small>
        </li>
      </ol>
    </template>
  </section>
</template>

<style>
.safety {
  padding: var(--gap-6) var(--gap-7);
  max-width: 980px;
}
.safety h2 {
  font: 700 var(--t-5) var(--text);
  margin: var(--gap-8) 0 var(--gap-3);
}
.safety h2 small {
  color: var(--ink-3);
  font-weight: 400;
}
.safety ul,
.safety ol {
  list-style: none;
  padding: 0;
  margin: 0;
}
.safety ul button {
  width: 100%;
  border: 0;
  border-bottom: 1px solid var(--rule-2);
  background: none;
  color: inherit;
  text-align: left;
  padding: var(--gap-4) 0;
  min-height: 40px;
}
.safety small {
  display: block;
  color: var(--ink-3);
}
.safety-people li {
  display: grid;
  grid-template-columns: 140px 190px 80px 1fr;
  gap: var(--gap-2) var(--gap-6);
  align-items: center;
  border-bottom: 1px solid var(--rule-2);
  padding: var(--gap-4) 0;
}
.safety-people strong {
  font: 700 var(--t-5) var(--figures);
}
.safety-people > li > i {
  position: relative;
  display: block;
  height: 10px;
  background: var(--rule-2);
}
.safety-people i i {
  position: absolute;
  top: 0;
  height: 10px;
  background: var(--mark);
}
.safety-people small {
  grid-column: 1 / -1;
}
@media (max-width: 760px) {
  .safety-people li {
    grid-template-columns: 1fr auto;
  }
  .safety-people > li > i {
    grid-column: 1 / -1;
  }
}
</style>
