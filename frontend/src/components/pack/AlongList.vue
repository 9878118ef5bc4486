<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { computed, ref } from 'vue'
import type { PackingView } from '../../api/schema.gen'
import { fixed, weekday, clock } from '../../lib/format'
import { freshId } from '../../lib/ids'
import { useFrame } from '../../stores/frame'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** Everything that goes along, by what it belongs with; more can be added that is no unit of the shelf. */
type Thing = PackingView['things'][number]
const props = defineProps<{ view: PackingView; thing: string; may: boolean }>()
const emit = defineEmits<{ choose: [thing: string] }>()
const frame = useFrame()
const words = ref('')
const fits = (t: Thing): boolean => {
  const text = `${t.id} ${t.title} ${t.kind} ${t.group} ${t.planned} ${t.whys.join(' ')}`.toLowerCase()
  return words.value
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word))
}
const groups = computed(() => {
  const found = new Map<string, Thing[]>()
  for (const t of props.view.things.filter(fits))
    found.set(t.group || 'more', [...(found.get(t.group || 'more') ?? []), t])
  return [...found].sort(([a], [b]) => a.localeCompare(b))
})
const kg = (things: readonly Thing[]): number => things.reduce((sum, t) => sum + (t.mass_g ?? 0), 0) / 1000
const where = (t: Thing): string => (t.left ? 'stays' : t.planned || (t.group === 'people' ? 'with people' : 'no case'))
const more = ref({
  label: '',
  count: 1,
  each_g: null as number | null,
  l: null as number | null,
  w: null as number | null,
  h: null as number | null,
})
async function add(): Promise<void> {
  const { label, count, each_g, l, w, h } = more.value
  const { id } = freshId(
    'extra',
    props.view.extras.map((e) => e.id),
  )
  const size_mm: [number, number, number] | null = l && w && h ? [l, w, h] : null
  if (await frame.pack({ op: 'put extra', extra: { id, label: label.trim(), count, each_g, size_mm, note: '' } }))
    more.value = { label: '', count: 1, each_g: null, l: null, w: null, h: null }
}
</script>

<template>
  <section class="along-list" aria-label="What goes along">
    <BFormInput
      v-model="words"
      type="search"
      placeholder="Find: label, kind, camera, case"
      aria-label="Find in the list"
    />
    <table v-for="[group, things] in groups" :key="group">
      <caption>
        {{
          group
        }}
        <small>{{ things.length }}, {{ fixed(kg(things), 1) }} kg</small>
      </caption>
      <tbody>
        <tr v-for="t in things" :key="t.id" :class="{ chosen: t.id === thing, left: t.left }">
          <th scope="row">
            <button type="button" @click="emit('choose', t.id)">{{ t.id.startsWith('+') ? t.title : t.id }}</button>
          </th>
          <td>{{ t.id.startsWith('+') ? (t.count > 1 ? `${t.count} pieces` : '') : t.title }}</td>
          <td class="kg">{{ t.mass_g === null ? '?' : fixed(t.mass_g / 1000, 2) }}</td>
          <td class="when">{{ t.first ? `${weekday(t.first)} ${clock(t.first)}` : '' }}</td>
          <td :class="{ none: where(t) === 'no case' }">{{ where(t) }}{{ t.by_hand ? ', by hand' : '' }}</td>
        </tr>
      </tbody>
    </table>
    <form v-if="may" class="more-along" @submit.prevent="add">
      <h2>Something without a label</h2>
      <label>What <TextField v-model="more.label" placeholder="tape, ladder, snacks" /></label>
      <label>Pieces <NumberField v-model="more.count" /></label>
      <label>g each <NumberField v-model="more.each_g" optional /></label>
      <label>mm long <NumberField v-model="more.l" optional /></label>
      <label>wide <NumberField v-model="more.w" optional /></label>
      <label>high <NumberField v-model="more.h" optional /></label>
      <BButton type="submit" variant="primary" :disabled="!more.label.trim()">Add</BButton>
    </form>
  </section>
</template>

<style>
.along-list {
  overflow-y: auto;
  padding: var(--gap-6) var(--gap-7) var(--gap-9);
}
.along-list table {
  width: 100%;
  table-layout: fixed;
  margin-top: var(--gap-6);
}
.along-list caption {
  caption-side: top;
  font: 700 var(--t-4) var(--text);
  color: var(--ink);
  padding: 0;
}
.along-list td,
.along-list th {
  padding: 1px var(--gap-5) 1px 0;
  border-top: 1px solid var(--rule-2);
  text-align: left;
  vertical-align: baseline;
}
.along-list th button {
  font: 600 var(--t-3) var(--figures);
  min-height: 28px;
  text-align: left;
}
.along-list th {
  width: 28%;
  overflow-wrap: anywhere;
}
.along-list .kg {
  width: 64px;
  text-align: right;
  font-family: var(--figures);
}
.along-list .when {
  width: 118px;
  white-space: nowrap;
}
.along-list td:last-child {
  width: 128px;
}
.along-list .none {
  color: var(--stop);
  font-weight: 600;
}
.along-list tr.left td {
  color: var(--ink-3);
}
.along-list tr.chosen {
  background: var(--mark-wash);
}
.more-along {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: var(--gap-5);
  margin-top: var(--gap-8);
}
.more-along h2 {
  width: 100%;
  font: 700 var(--t-4) var(--text);
}
.more-along label {
  font-size: var(--t-2);
}
.more-along label:not(:first-of-type) input {
  width: 78px;
}
@media (max-width: 760px) {
  .along-list .when {
    display: none;
  }
}
</style>
