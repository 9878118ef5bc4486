<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { computed, ref } from 'vue'
import type { ChargingPlan, ChoicesView, FrameView } from '../../api/schema.gen'
import type { Choice } from '../../lib/fields'
import { counted, fixed } from '../../lib/format'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** Who swaps packs and how far they walk, where chargers stand and when there is mains, what runs on packs in no rig. */
const props = defineProps<{ view: FrameView }>()
const frame = useFrame()
const plan = computed<ChargingPlan>(() => props.view.job.charging ?? {})
const parts = computed(() => props.view.job.parts ?? [])
const rigs = computed(() => props.view.job.rigs ?? [])
const chargers = computed(() => plan.value.chargers ?? [])
const boxes = computed(() => plan.value.boxes ?? [])
const stock = computed(() => frame.choices ?? { chargers: [], powered: [] })
const choices = (units: ChoicesView['bodies']): Choice[] =>
  units.map((u) => ({ value: u.id, text: `${u.id} ${u.title}` }))

const set = (change: Partial<ChargingPlan>): Promise<boolean> =>
  frame.editFrom((job) => ({ op: 'set charging', charging: { ...job.charging, ...change } }))
/** null: as the plan of the venue tells it. */
const walk = (rig: string, min: number | null): Promise<boolean> =>
  frame.editFrom((job) => {
    const others = Object.entries(job.charging?.walk_min ?? {}).filter(([of]) => of !== rig)
    const walk_min = Object.fromEntries(min === null ? others : [...others, [rig, min]])
    return { op: 'set charging', charging: { ...job.charging, walk_min } }
  })
const named = (event: Event): string => (event.target as HTMLInputElement).value

const people = (typed: string): Promise<boolean> => {
  const names = typed
    .split(',')
    .map((n) => n.trim())
    .filter(Boolean)
  return set({ people: names, hands: Math.max(plan.value.hands ?? 1, names.length) })
}

type Charger = NonNullable<ChargingPlan['chargers']>[number]
type Box = NonNullable<ChargingPlan['boxes']>[number]
const charger = (i: number, change: Partial<Charger>): Promise<boolean> =>
  frame.editFrom((job) => ({
    op: 'set charging',
    charging: {
      ...job.charging,
      chargers: (job.charging?.chargers ?? []).map((c, k) => (k === i ? { ...c, ...change } : c)),
    },
  }))
const box = (i: number, change: Partial<Box>): Promise<boolean> =>
  frame.editFrom((job) => ({
    op: 'set charging',
    charging: {
      ...job.charging,
      boxes: (job.charging?.boxes ?? []).map((b, k) => (k === i ? { ...b, ...change } : b)),
    },
  }))

type Outlet = NonNullable<ChargingPlan['outlets']>[number]
const outlet = (i: number, change: Partial<Outlet>): Promise<boolean> =>
  frame.editFrom((job) => ({
    op: 'set charging',
    charging: {
      ...job.charging,
      outlets: (job.charging?.outlets ?? []).map((o, k) => (k === i ? { ...o, ...change } : o)),
    },
  }))
const loads = computed(() => Object.fromEntries(props.view.outlets.map((o) => [o.place, o])))
/** Where chargers stand whose sockets are not said yet. */
const places = computed(() =>
  [...new Set(chargers.value.map((c) => c.place ?? ''))].filter(
    (p) => p && !(plan.value.outlets ?? []).some((o) => o.place === p),
  ),
)
const newCharger = ref('')
const newBox = ref('')
async function addCharger(): Promise<void> {
  const unit = newCharger.value || stock.value.chargers.find((c) => !chargers.value.some((x) => x.unit === c.id))?.id
  const [first, last] = [parts.value[0], parts.value.at(-1)]
  const open = first && last ? [{ starts: first.starts, ends: last.ends }] : []
  if (unit && (await set({ chargers: [...chargers.value, { unit, place: '', open, indoors: true }] })))
    newCharger.value = ''
}
async function addBox(): Promise<void> {
  const unit = newBox.value || stock.value.powered[0]?.id
  if (unit && (await set({ boxes: [...boxes.value, { unit, label: '', parts: [], walk_min: 0 }] }))) newBox.value = ''
}
/** Both ends without a zone: on the job's own clock. */
const onJobClock = (m: { starts: string; ends: string }) => ({
  starts: m.starts.slice(0, 16),
  ends: m.ends.slice(0, 16),
})
function mains(i: number, k: number, end: 'starts' | 'ends', event: Event): Promise<boolean> {
  const open = (chargers.value[i]?.open ?? []).map((m, at) =>
    at === k ? onJobClock({ ...m, [end]: named(event) }) : m,
  )
  return charger(i, { open })
}
</script>

<template>
  <div class="charging">
    <div class="charging-row">
      <label
        >People who swap
        <NumberField
          :model-value="plan.hands ?? 1"
          min="1"
          max="99"
          step="1"
          :commit="(hands: number) => set({ hands })"
        />
      </label>
      <label class="wide"
        >Their names
        <TextField
          :model-value="(plan.people ?? []).join(', ')"
          placeholder="Loader, Runner"
          @change="people(named($event))"
        />
      </label>
      <label
        >A swap takes, min
        <NumberField
          :model-value="plan.swap_min ?? 2"
          min="0.1"
          step="any"
          :commit="(swap_min: number) => set({ swap_min })"
        />
      </label>
      <label
        >Quiet before a moment, min
        <NumberField
          :model-value="plan.quiet_before_min ?? 10"
          min="0"
          step="any"
          :commit="(quiet_before_min: number) => set({ quiet_before_min })"
        />
      </label>
      <label
        >and after it, min
        <NumberField
          :model-value="plan.quiet_after_min ?? 5"
          min="0"
          step="any"
          :commit="(quiet_after_min: number) => set({ quiet_after_min })"
        />
      </label>
    </div>
    <div v-if="rigs.length" class="charging-row">
      <label v-for="r in rigs" :key="r.id"
        >Walk to {{ r.label }}, min
        <NumberField
          :model-value="plan.walk_min?.[r.id] ?? null"
          optional
          min="0"
          step="any"
          placeholder="from the plan"
          :commit="(min: number) => walk(r.id, min)"
          :clear="() => walk(r.id, null)"
        />
      </label>
    </div>
    <h3>Chargers</h3>
    <div v-for="(c, i) in chargers" :key="c.unit" class="charging-row one">
      <b class="unit">{{ c.unit }}</b>
      <label
        >Where it stands
        <TextField :model-value="c.place" @change="charger(i, { place: named($event) })" />
      </label>
      <BFormCheckbox :model-value="c.indoors ?? true" @update:model-value="charger(i, { indoors: $event === true })"
        >indoors</BFormCheckbox
      >
      <span v-for="(m, k) in c.open ?? []" :key="k" class="mains">
        mains
        <input
          v-for="end in ['starts', 'ends'] as const"
          :key="end"
          class="form-control"
          type="datetime-local"
          :aria-label="`Mains of ${c.unit} ${end === 'starts' ? 'from' : 'until'}`"
          :value="m[end].slice(0, 16)"
          @change="mains(i, k, end, $event)"
        />
        <BButton @click="charger(i, { open: (c.open ?? []).filter((_, at) => at !== k) })">Remove</BButton>
      </span>
      <BButton
        v-if="parts.length"
        @click="charger(i, { open: [...(c.open ?? []), { starts: parts.at(-1)!.starts, ends: parts.at(-1)!.ends }] })"
        >Add mains hours</BButton
      >
      <BButton @click="set({ chargers: chargers.filter((_, at) => at !== i) })">Remove {{ c.unit }}</BButton>
    </div>
    <form v-if="stock.chargers.length" class="charging-row" @submit.prevent="addCharger">
      <ChoiceField
        :model-value="newCharger || stock.chargers[0]?.id"
        aria-label="A charger in stock"
        :choices="choices(stock.chargers)"
        @update:model-value="newCharger = $event ?? ''"
      />
      <BButton type="submit">Add a charger</BButton>
    </form>
    <p v-else-if="frame.choices" class="quiet">
      No charger in stock. Enter one on the Shelf; without one every pack must last the day.
    </p>
    <h3>Mains sockets where chargers stand</h3>
    <div v-for="(o, i) in plan.outlets ?? []" :key="o.place" class="charging-row one">
      <b class="unit">{{ o.place || 'no name' }}</b>
      <label
        >Sockets
        <NumberField
          :model-value="o.sockets"
          min="1"
          max="99"
          step="1"
          :aria-label="`Sockets at ${o.place}`"
          :commit="(sockets: number) => outlet(i, { sockets })"
        />
      </label>
      <label
        >Circuit, A
        <NumberField
          :model-value="o.amps ?? 10"
          min="0.5"
          step="any"
          :aria-label="`Circuit at ${o.place}, A`"
          :commit="(amps: number) => outlet(i, { amps })"
        />
      </label>
      <span v-if="loads[o.place]" class="load" :class="{ over: !loads[o.place]?.fits }"
        >{{ counted(loads[o.place]?.chargers.length ?? 0, 'charger') }},
        <b>{{ fixed(loads[o.place]?.load_a ?? 0, 1) }} A</b>
        {{
          loads[o.place]?.fits
            ? 'at full rate'
            : 'at full rate: too much for it; charge one after the other, or elsewhere'
        }}</span
      >
      <BButton @click="set({ outlets: (plan.outlets ?? []).filter((_, at) => at !== i) })"
        >Remove sockets of {{ o.place }}</BButton
      >
    </div>
    <div v-if="places.length" class="charging-row">
      <BButton
        v-for="p in places"
        :key="p"
        @click="set({ outlets: [...(plan.outlets ?? []), { place: p, sockets: 2, amps: 10 }] })"
        >Sockets at {{ p }}</BButton
      >
    </div>
    <p v-else-if="!(plan.outlets ?? []).length" class="quiet">Say where a charger stands to enter its sockets.</p>
    <h3>On packs, but in no rig: lights, recorders</h3>
    <div v-for="(b, i) in boxes" :key="b.unit" class="charging-row one">
      <b class="unit">{{ b.unit }}</b>
      <label>Called <TextField :model-value="b.label" @change="box(i, { label: named($event) })" /></label>
      <label
        >Walk, min
        <NumberField
          :model-value="b.walk_min ?? 0"
          min="0"
          step="any"
          :commit="(walk_min: number) => box(i, { walk_min })"
        />
      </label>
      <BFormCheckbox
        v-for="p in parts"
        :key="p.id"
        :model-value="b.parts?.includes(p.id) ?? false"
        @update:model-value="
          box(i, { parts: $event ? [...(b.parts ?? []), p.id] : (b.parts ?? []).filter((x) => x !== p.id) })
        "
        >{{ p.label }}</BFormCheckbox
      >
      <BButton @click="set({ boxes: boxes.filter((_, at) => at !== i) })">Remove {{ b.unit }}</BButton>
    </div>
    <form v-if="stock.powered.length" class="charging-row" @submit.prevent="addBox">
      <ChoiceField
        :model-value="newBox || stock.powered[0]?.id"
        aria-label="A thing that draws power"
        :choices="choices(stock.powered)"
        @update:model-value="newBox = $event ?? ''"
      />
      <BButton type="submit">Add a light or recorder</BButton>
    </form>
  </div>
</template>

<style>
.charging-row {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-6) var(--gap-8);
  align-items: end;
  padding: var(--gap-4) 0;
}
.charging-row.one {
  border-top: 1px solid var(--rule-2);
}
.charging-row label {
  display: grid;
  gap: var(--gap-2);
  font-size: var(--t-3);
}
.charging-row label.wide {
  flex: 1 1 200px;
}
.charging-row input[type='number'] {
  width: 92px;
}
.charging h3,
.charging > .quiet {
  padding: var(--gap-6) 0 0;
}
.charging .load b {
  font: 600 var(--t-4) var(--figures);
}
.charging .load.over {
  color: var(--stop);
}
.mains {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
  align-items: center;
  font-size: var(--t-3);
}
.mains .form-control {
  width: 190px;
}
</style>
