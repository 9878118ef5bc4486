<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import type { ChoicesView, FrameView } from '../../api/schema.gen'
import {
  linesOf,
  OPEN_TABLES,
  rangeOf,
  sameLeaf,
  withLine,
  withoutRow,
  withRow,
  type Leaf,
  type OpenTable,
  type SettingLine,
} from '../../lib/settings'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** Every figure the checks of this job use: what it is, where it comes from, and how this job differs. */
const props = defineProps<{ view: FrameView; choices: ChoicesView }>()
const frame = useFrame()
const words = ref('')
const onlyOwn = ref(false)
const usual = computed(() => props.choices.defaults)
const settings = computed(() => props.view.job.settings ?? usual.value)
const lines = computed(() => linesOf(settings.value, usual.value, props.choices.settings))
const differs = (l: SettingLine): boolean => !sameLeaf(l.value, l.usual)
const shown = computed(() => {
  const asked = words.value.toLowerCase().split(/\s+/)
  const text = (l: SettingLine): string => `${l.name} ${l.info.bears_on} ${l.info.source}`.toLowerCase()
  return lines.value.filter((l) => (!onlyOwn.value || differs(l)) && asked.every((w) => text(l).includes(w)))
})
const own = computed(() => lines.value.filter(differs).length)

const change = (make: (now: typeof settings.value) => typeof settings.value): Promise<boolean> =>
  frame.editFrom((job) => ({ op: 'set settings', settings: make(job.settings ?? usual.value) }))
const set = (l: SettingLine, value: Leaf): Promise<boolean> => change((now) => withLine(now, l.path, value))
const setArms = (l: SettingLine, value: string): Promise<boolean> =>
  change((now) => withLine(now, l.path, Number(value)))
const toggle = (l: SettingLine, choice: string): Promise<boolean> => {
  const had = l.value as string[]
  return set(l, had.includes(choice) ? had.filter((c) => c !== choice) : [...had, choice])
}
const idOf = (l: SettingLine): string => `setting-${l.path.join('-').replaceAll(/[^\w-]/g, '_')}`

const TABLES: Record<OpenTable, { more: string; rows: string }> = {
  moves: { more: 'Add a kind of gimbal work', rows: 'Kinds of gimbal work' },
  grips: { more: 'Add a way to hold a rig', rows: 'Ways to hold a rig' },
}
const fresh = ref<Record<OpenTable, string>>({ moves: '', grips: '' })
const rowsOf = (table: OpenTable): string[] => Object.keys(settings.value[table] ?? {})
async function addRow(table: OpenTable): Promise<void> {
  const name = fresh.value[table].trim()
  if (!name || !(await change((now) => withRow(now, table, name)))) return
  fresh.value[table] = ''
  words.value = name
}
</script>

<template>
  <details class="settings">
    <summary>
      <h2 id="settings-head">Settings</h2>
      <span>{{ own ? `${own} of ${lines.length} changed in this job` : `all ${lines.length} at their default` }}</span>
    </summary>
    <div class="setting-bar">
      <TextField
        v-model="words"
        class="find-setting"
        aria-label="Find a setting"
        placeholder="Find: wind, swaps, hold"
      />
      <label><input v-model="onlyOwn" type="checkbox" class="form-check-input" /> only what this job changed</label>
      <form v-for="table in OPEN_TABLES" :key="table" @submit.prevent="addRow(table)">
        <TextField v-model="fresh[table]" :aria-label="TABLES[table].more" placeholder="Its name" />
        <BButton type="submit">{{ TABLES[table].more }}</BButton>
      </form>
    </div>
    <ul>
      <li v-for="l in shown" :key="l.path.join('.')" :class="{ own: differs(l) }">
        <label :for="idOf(l)">{{ l.name }}{{ l.info.unit ? `, ${l.info.unit}` : '' }}</label>
        <span v-if="Array.isArray(l.value)" class="ticks" role="group" :aria-label="l.name">
          <label v-for="c in l.info.choices" :key="c">
            <input
              type="checkbox"
              class="form-check-input"
              :checked="l.value.includes(c)"
              @click.prevent="toggle(l, c)"
            />
            {{ c }}
          </label>
        </span>
        <ChoiceField
          v-else-if="l.info.choices.length"
          :id="idOf(l)"
          :model-value="String(l.value)"
          :choices="l.info.choices"
          :commit="(value: string) => (typeof l.value === 'number' ? setArms(l, value) : set(l, value))"
        />
        <NumberField
          v-else-if="typeof l.value === 'number'"
          :id="idOf(l)"
          :model-value="l.value"
          step="any"
          :commit="(value: number) => set(l, value)"
        />
        <TextField
          v-else
          :id="idOf(l)"
          :model-value="l.value"
          @change="set(l, ($event.target as HTMLInputElement).value)"
        />
        <small
          >for {{ l.info.bears_on }}; {{ rangeOf(l.info) ? `${rangeOf(l.info)}; ` : ''
          }}{{ differs(l) ? 'set in this job' : l.info.source }}</small
        >
        <span v-if="differs(l)" class="usual">
          default {{ Array.isArray(l.usual) ? l.usual.join(', ') : (l.usual ?? 'none') }}
          <BButton v-if="l.usual !== null" @click="set(l, l.usual)">Use it</BButton>
        </span>
      </li>
      <li v-if="!shown.length">No setting matches.</li>
    </ul>
    <p v-for="table in OPEN_TABLES" :key="table" class="own-rows">
      {{ TABLES[table].rows }}:
      <span v-for="row in rowsOf(table)" :key="row">
        {{ row }}
        <BButton
          v-if="rowsOf(table).length > 1"
          :aria-label="`Remove ${row}`"
          @click="change((now) => withoutRow(now, table, row))"
          >Remove</BButton
        >
      </span>
    </p>
  </details>
</template>

<style>
.settings summary {
  display: flex;
  gap: var(--gap-7);
  align-items: baseline;
  cursor: pointer;
}
.settings summary span {
  color: var(--ink-2);
  font-size: var(--t-3);
}
.setting-bar,
.setting-bar form,
.own-rows,
.own-rows span {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--gap-4) var(--gap-7);
  font-size: var(--t-3);
}
.setting-bar form {
  flex-wrap: nowrap;
}
.own-rows {
  padding-top: var(--gap-5);
}
.own-rows span {
  gap: var(--gap-3);
}
.find-setting {
  max-width: 260px;
}
.settings ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(340px, 1fr));
  gap: 0 var(--gap-9);
  padding-top: var(--gap-6);
}
.settings li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 110px;
  gap: var(--gap-1) var(--gap-5);
  align-items: center;
  align-content: start;
  padding: var(--gap-3) 0;
  border-bottom: 1px solid var(--rule-2);
  font-size: var(--t-3);
}
.settings li.own > label {
  font-weight: 600;
  color: var(--mark);
}
.settings .ticks {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-5);
}
.settings small,
.settings .usual {
  grid-column: 1 / -1;
  color: var(--ink-2);
  font-size: var(--t-2);
}
</style>
