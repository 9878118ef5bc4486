<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed } from 'vue'
import type { PackingView } from '../../api/schema.gen'
import { counted, fixed } from '../../lib/format'
import { useFrame } from '../../stores/frame'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'
import LevelMark from '../frame/LevelMark.vue'

/** What stands against the packing and what cures it; minutes to rolling, who carries what, what the carrier allows. */
const props = defineProps<{ view: PackingView; may: boolean }>()
const emit = defineEmits<{ about: [units: readonly string[]] }>()
const frame = useFrame()
const against = computed(() => props.view.findings.filter((f) => f.level !== 'clear'))
const stops = computed(() => against.value.filter((f) => f.level === 'stop').length)
const verdict = computed(() =>
  stops.value
    ? counted(stops.value, 'Stop')
    : props.view.left.length
      ? `${String(props.view.left.length)} in no case`
      : against.value.some((f) => f.level === 'watch')
        ? 'No Stop'
        : 'All packed',
)
const free = computed(() => [
  { value: '', text: 'take a case along…' },
  ...props.view.free
    .filter((c) => !c.taken)
    .map((c) => ({ value: c.unit, text: `${c.unit}, ${c.title}, ${fixed(c.litres, 0)} l` })),
])
const take = (unit: string): Promise<boolean> | boolean =>
  unit ? frame.pack({ op: 'put case', case: { unit } }) : true
const carrier = (change: Partial<PackingView['carrier']>): Promise<boolean> => changed((now) => ({ ...now, ...change }))
type Carrier = PackingView['carrier']
/** Made from what it is when its turn comes: fast fingers lose nothing. */
const changed = (make: (now: Carrier) => Carrier): Promise<boolean> =>
  frame.packFrom((job) => ({ op: 'set carrier', carrier: make(job.pack?.carrier ?? props.view.carrier) }))
const SIDES = ['Cabin, mm long', 'Cabin, mm wide', 'Cabin, mm high'] as const
function cabin(at: number, mm: number): Promise<boolean> {
  return changed((now) => {
    const size: [number, number, number] = [...(now.cabin_mm ?? [550, 400, 200])]
    size[at] = mm
    return { ...now, cabin_mm: size }
  })
}
const checkedOn = (checked: string): Promise<boolean> | false => (checked ? carrier({ checked }) : false)
const flies = computed(() => props.view.cases.some((c) => c.travels === 'cabin' || c.travels === 'hold'))
const LIMITS: readonly {
  field: 'free_wh' | 'consent_wh' | 'consent_each' | 'free_each' | 'people' | 'cabin_kg' | 'hold_kg'
  text: string
}[] = [
  { field: 'people', text: 'People who travel with them' },
  { field: 'free_wh', text: 'Packs without asking, up to Wh' },
  { field: 'free_each', text: 'Without asking, packs a person' },
  { field: 'consent_wh', text: 'With consent, up to Wh' },
  { field: 'consent_each', text: 'With consent, packs a person' },
  { field: 'cabin_kg', text: 'Cabin, up to kg' },
  { field: 'hold_kg', text: 'Hold, up to kg' },
]
</script>

<template>
  <section class="pack-problems" aria-label="What stands against the packing">
    <p class="verdict" :class="stops ? 'stop' : against.some((f) => f.level === 'watch') ? 'watch' : 'clear'">
      {{ verdict }}
    </p>
    <p v-if="view.searching" class="quiet" role="status">Still trying how it goes in better…</p>
    <ul v-if="view.cures.length && may" class="pack-cures" aria-label="What cures it">
      <li v-for="c in view.cures" :key="c.what">
        <span
          >{{ c.what
          }}<small>{{
            c.left ? `${c.left} of ${c.left_before} still in no case` : 'then everything is in a case'
          }}</small></span
        >
        <BButton variant="primary" @click="frame.pack({ op: 'put case', case: c.case })">Take it</BButton>
      </li>
    </ul>
    <ul>
      <li v-for="f in against" :key="f.key">
        <button type="button" @click="emit('about', f.units)">
          <LevelMark :level="f.level" :size="16" />
          <span
            ><b>{{ f.title }}</b
            >{{ f.text }}<small>{{ f.why }} {{ f.cures }}</small></span
          >
        </button>
      </li>
    </ul>
    <p v-if="!against.length && !view.searching" class="quiet">
      Everything is in a case, no case is too heavy, and what is wanted first lies on top.
    </p>
    <label v-if="may && free.length > 1"
      >Cases on the Shelf <ChoiceField :model-value="''" :choices="free" :commit="take"
    /></label>
    <h2>From closed cases to rolling</h2>
    <dl class="ready">
      <template v-for="r in view.ready" :key="r.rig"
        ><dt>{{ r.label }}</dt>
        <dd>
          <strong>{{ fixed(r.alone_min, 0) }} min</strong> alone, {{ fixed(r.by_two_min, 0) }} by two
          <small
            >{{ counted(r.cases.length, 'case') }} {{ fixed(r.open_min, 0) }} + build {{ fixed(r.build_min, 0) }} + line
            up {{ fixed(r.line_up_min, 0) }}</small
          >
        </dd></template
      >
    </dl>
    <template v-if="view.loads.length">
      <h2>Who carries what</h2>
      <dl class="ready">
        <template v-for="l in view.loads" :key="l.who"
          ><dt>{{ l.who }}</dt>
          <dd>
            <strong>{{ fixed((l.cases_g + l.belt_g) / 1000, 1) }} kg</strong> {{ l.cases.join(', ')
            }}{{ l.belt_g ? ` and ${fixed(l.belt_g / 1000, 1)} kg on the belt in ${l.belt_in}` : '' }}
            <small v-if="l.hands_in">has {{ l.hands_in }} in hand</small>
          </dd></template
        >
      </dl>
    </template>
    <details :open="flies">
      <summary>What the carrier allows</summary>
      <p class="quiet">
        {{ view.carrier.label }}, checked {{ view.carrier.checked }}. Carriers may be stricter, and what they say on the
        day counts. Spares never in the hold, contacts covered, Wh legible; damaged or swollen packs stay at home.
      </p>
      <template v-if="may">
        <label
          >Who carries it
          <TextField :model-value="view.carrier.label" maxlength="200" :commit="(v: string) => carrier({ label: v })"
        /></label>
        <label>Checked on <TextField :model-value="view.carrier.checked" type="date" :commit="checkedOn" /></label>
        <label v-for="(name, at) in SIDES" :key="name"
          >{{ name }}
          <NumberField :model-value="view.carrier.cabin_mm?.[at] ?? null" :commit="(v: number) => cabin(at, v)"
        /></label>
        <label v-for="l in LIMITS" :key="l.field"
          >{{ l.text }}
          <NumberField :model-value="view.carrier[l.field]" :commit="(v: number) => carrier({ [l.field]: v })"
        /></label>
      </template>
    </details>
    <p class="quiet">Two people lift from {{ fixed(view.lift_kg, 0) }} kg on. Local codes and the carrier decide.</p>
  </section>
</template>

<style>
.pack-problems .verdict {
  font: 700 var(--t-7) var(--text);
  padding: var(--gap-4) var(--gap-5);
  margin-bottom: var(--gap-4);
}
.pack-problems ul:not(.pack-cures) li button {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: var(--gap-5);
  text-align: left;
  width: 100%;
  padding: var(--gap-5) 0;
  border-top: 1px solid var(--rule-2);
  font-size: var(--t-3);
  font-weight: 400;
}
.pack-problems li b {
  display: block;
  font-size: var(--t-4);
  font-weight: 600;
}
.pack-problems small {
  display: block;
  color: var(--ink-2);
}
.pack-problems .pack-cures li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: var(--gap-5);
  padding: var(--gap-5);
  background: var(--mark-wash);
  margin-bottom: var(--gap-3);
}
.pack-problems h2 {
  font: 700 var(--t-4) var(--text);
  margin: var(--gap-7) 0 var(--gap-3);
}
.pack-problems .ready {
  display: grid;
  grid-template-columns: 92px 1fr;
  gap: var(--gap-3) var(--gap-5);
}
.pack-problems .ready dt {
  font-weight: 400;
}
.pack-problems .ready dd {
  margin: 0;
}
.pack-problems .ready strong {
  font: 700 var(--t-5) var(--figures);
}
.pack-problems details {
  margin: var(--gap-7) 0;
}
.pack-problems details label {
  display: flex;
  justify-content: space-between;
  align-items: center;
  font-size: var(--t-3);
}
.pack-problems details input {
  width: 130px;
}
</style>
