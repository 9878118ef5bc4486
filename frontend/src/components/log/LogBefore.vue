<script setup lang="ts">
import { computed } from 'vue'
import type { LogView } from '../../api/schema.gen'
import { clock } from '../../lib/format'
import type { LogLine } from '../../lib/log'

/** What is to be set before this part of the day rolls, camera by camera; what differs from before stands first. */
type Row = LogView['to_set'][number]
const props = defineProps<{
  rows: readonly Row[]
  waiting: readonly LogLine[]
  part: string
  camera: string
  may: boolean
  busy: boolean
}>()
const emit = defineEmits<{ set: [row: Row]; back: [entry: string] }>()
/** Ticked here and not sent yet. */
const unsent = (r: Row): boolean =>
  props.waiting.some((l) => l.kind === 'set' && l.rig === r.rig && l.unit === r.unit && l.text === r.text)
const ticked = (r: Row): boolean => !!r.entry || unsent(r)
const differs = (r: Row): boolean => r.was !== r.text
const cameras = computed(() => {
  const shown = props.rows.filter((r) => !props.camera || r.rig === props.camera)
  return [...new Set(shown.map((r) => r.rig))].map((rig) => {
    const own = shown.filter((r) => r.rig === rig)
    return {
      rig,
      label: own[0]?.label ?? rig,
      rows: [...own].sort((a, b) => Number(differs(b)) - Number(differs(a))),
      left: own.filter((r) => !ticked(r)).length,
    }
  })
})
function press(r: Row): void {
  if (r.entry) emit('back', r.entry)
  else if (!unsent(r)) emit('set', r)
}
</script>

<template>
  <section class="log-before" aria-label="To set before rolling">
    <h2>To set before {{ part }} rolls</h2>
    <p v-if="!cameras.length" class="quiet">Nothing is set in the builds of this part.</p>
    <template v-for="c in cameras" :key="c.rig">
      <h3>
        {{ c.label }} <small>{{ c.left ? `${c.left} to set` : 'all set' }}</small>
      </h3>
      <ul>
        <li v-for="r in c.rows" :key="r.unit + r.text" :class="{ same: !differs(r) }">
          <button type="button" :aria-pressed="ticked(r)" :disabled="!may || busy || unsent(r)" @click="press(r)">
            <i aria-hidden="true"></i>
            <span>
              <b>{{ r.text }}</b>
              <small>{{ r.unit ? `${r.unit} ${r.title}` : 'to be kept in the camera' }}</small>
              <small v-if="r.was && differs(r)">before: {{ r.was }}</small>
              <small v-else-if="r.was">as before</small>
              <small v-if="r.at">{{ clock(r.at) }}, {{ r.by }}</small>
              <small v-else-if="unsent(r)">not sent yet</small>
            </span>
          </button>
        </li>
      </ul>
    </template>
  </section>
</template>

<style>
.log-before {
  padding: var(--gap-6) var(--gap-7);
}
.log-before h2 {
  font: 700 var(--t-5) var(--text);
}
.log-before h3 {
  font: 700 var(--t-4) var(--text);
  margin: var(--gap-6) 0 0;
}
.log-before small {
  color: var(--ink-3);
  font-weight: 400;
}
.log-before ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.log-before li button {
  display: flex;
  gap: var(--gap-5);
  width: 100%;
  min-height: 44px;
  padding: var(--gap-4) 0;
  border: 0;
  border-bottom: 1px solid var(--rule-2);
  background: none;
  color: inherit;
  text-align: left;
}
.log-before li i {
  flex: 0 0 22px;
  height: 22px;
  border: 2px solid var(--ink-2);
}
.log-before li button[aria-pressed='true'] i {
  background: var(--mark);
  border-color: var(--mark);
}
.log-before li.same b {
  font-weight: 400;
}
.log-before span small {
  display: block;
}
</style>
