<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed } from 'vue'
import type { PackingView } from '../../api/schema.gen'
import { clock, fixed, grams, weekday } from '../../lib/format'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** A thing that goes along: why, when it is wanted first, where it goes; put elsewhere, left, or dealt again. */
type Thing = PackingView['things'][number]
const props = defineProps<{ job: string; part: string; rig: string; view: PackingView; thing: Thing; may: boolean }>()
const emit = defineEmits<{ close: [] }>()
const frame = useFrame()
const STAYS = '-'
const place = computed(() => (props.thing.left ? STAYS : props.thing.by_hand ? props.thing.planned : ''))
const places = computed(() => [
  { value: '', text: props.thing.group === 'people' ? 'with people' : 'as it is dealt' },
  ...props.view.cases.map((c) => ({ value: c.along.unit, text: `${c.along.unit}, ${c.title}` })),
  { value: STAYS, text: 'stays behind' },
])
const put = (to: string): Promise<boolean> =>
  to
    ? frame.pack({ op: 'put in case', thing: props.thing.id, case: to === STAYS ? '' : to })
    : frame.pack({ op: 'deal again', thing: props.thing.id })
const unit = computed(() => !props.thing.id.startsWith('+'))
const extra = computed(() => props.view.extras.find((e) => `+${e.id}` === props.thing.id))
const change = (what: Partial<NonNullable<typeof extra.value>>): Promise<boolean> | false =>
  changed((now) => ({ ...now, ...what }))
type Extra = PackingView['extras'][number]
/** Made from what it is when its turn comes: fast fingers lose nothing. */
function changed(make: (now: Extra) => Extra): Promise<boolean> | false {
  const shown = extra.value
  if (!shown) return false
  return frame.packFrom((job) => ({
    op: 'put extra',
    extra: make(job.pack?.extras?.find((e) => e.id === shown.id) ?? shown),
  }))
}
const SIDES = ['mm long', 'wide', 'high'] as const
/** A size is entered side by side; what was not said yet is as the first. */
function side(at: number, mm: number): Promise<boolean> | false {
  return changed((now) => {
    const size: [number, number, number] = [...(now.size_mm ?? [mm, mm, mm])]
    size[at] = mm
    return { ...now, size_mm: size }
  })
}
async function remove(): Promise<void> {
  if (extra.value && (await frame.pack({ op: 'remove extra', extra: extra.value.id }))) emit('close')
}
</script>

<template>
  <section class="thing-panel" :aria-label="thing.title">
    <header>
      <h2>{{ unit ? thing.id : thing.title }}</h2>
      <BButton @click="emit('close')">Close</BButton>
    </header>
    <p v-if="unit" class="what">{{ thing.title }}</p>
    <p v-if="thing.count > 1" class="what">{{ thing.count }} pieces</p>
    <dl>
      <dt>Mass</dt>
      <dd>{{ thing.mass_g === null ? 'not known' : `${grams(thing.mass_g)} g, ${thing.mass_from}` }}</dd>
      <dt>Packed</dt>
      <dd>
        {{
          thing.size_mm
            ? `${thing.size_mm.map((x) => fixed(x, 0)).join(' × ')} mm, ${thing.size_from}`
            : 'size not known'
        }}
      </dd>
      <template v-if="thing.wh !== null"
        ><dt>Energy</dt>
        <dd>{{ fixed(thing.wh, 0) }} Wh</dd></template
      >
      <dt>First</dt>
      <dd>
        {{
          thing.first
            ? `${weekday(thing.first)} ${clock(thing.first)}, ${thing.first_for}`
            : 'no part of the day waits for it'
        }}
      </dd>
      <template v-if="thing.hired_until"
        ><dt>Hired</dt>
        <dd>goes back by {{ thing.hired_until }}</dd></template
      >
    </dl>
    <label v-if="may">Goes into <ChoiceField :model-value="place" :choices="places" :commit="put" /> </label>
    <p v-else>{{ thing.left ? 'Stays behind.' : thing.planned ? `In ${thing.planned}.` : 'In no case.' }}</p>
    <h3>Goes along for</h3>
    <ul class="whys">
      <li v-for="why in thing.whys.slice(0, 12)" :key="why">{{ why }}</li>
    </ul>
    <BLink v-if="unit" :to="{ name: 'shelf', params: { job, part, rig }, query: { unit: thing.id } }"
      >On the Shelf: mass, size when packed</BLink
    >
    <div v-if="extra && may" class="extra-fields">
      <label
        >What <TextField :model-value="extra.label" maxlength="200" :commit="(v: string) => change({ label: v })"
      /></label>
      <label>Pieces <NumberField :model-value="extra.count" :commit="(v: number) => change({ count: v })" /></label>
      <label
        >g each
        <NumberField
          :model-value="extra.each_g"
          optional
          :commit="(v: number) => change({ each_g: v })"
          :clear="() => change({ each_g: null })"
      /></label>
      <label v-for="(name, at) in SIDES" :key="name"
        >{{ name }}
        <NumberField
          :model-value="extra.size_mm?.[at] ?? null"
          optional
          :commit="(v: number) => side(at, v)"
          :clear="() => change({ size_mm: null })"
      /></label>
      <label
        >What for <TextField :model-value="extra.note" maxlength="2000" :commit="(v: string) => change({ note: v })"
      /></label>
      <BButton @click="remove">Take it off the list</BButton>
    </div>
  </section>
</template>

<style>
.thing-panel header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
.thing-panel h2 {
  font: 700 var(--t-6) var(--figures);
}
.thing-panel .what {
  color: var(--ink-2);
}
.thing-panel dl {
  display: grid;
  grid-template-columns: 64px 1fr;
  gap: var(--gap-3) var(--gap-5);
  margin: var(--gap-6) 0;
}
.thing-panel dt {
  font-weight: 400;
  color: var(--ink-2);
}
.thing-panel dd {
  margin: 0;
}
.thing-panel label {
  display: block;
}
.thing-panel h3 {
  font: 600 var(--t-4) var(--text);
  margin-top: var(--gap-7);
}
.thing-panel .extra-fields {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4) var(--gap-6);
  margin-top: var(--gap-7);
}
.thing-panel .extra-fields input {
  max-width: 130px;
}
.thing-panel .whys {
  margin-bottom: var(--gap-6);
}
</style>
