<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { computed, reactive, ref, watch } from 'vue'
import { readGimbal, type Place } from '../../api'
import type { AnswerView, GimbalBalance, GimbalReadView, RecordRequest, RecordView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { fixed } from '../../lib/format'
import type { Choice } from '../../lib/fields'
import { walked } from '../../lib/walk'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

/** Balancing by hand, one card after the other: each asks what is seen, and the answer tells what to move or where
 * to go back to. What was ticked and answered lasts until the rig changes, also over a reload. */
const props = defineProps<{ gimbal: GimbalBalance; place: Place; version: number; last: RecordView | null }>()
const emit = defineEmits<{
  order: [order: 'tilt first' | 'roll first']
  record: [body: Omit<RecordRequest, 'version'>]
}>()
const HOLDS = 'holds'
const LEFT: Choice<NonNullable<RecordRequest['left']>>[] = [
  { value: '', text: 'not said' },
  { value: 'off and locked', text: 'off and locked' },
  { value: 'off, unlocked', text: 'off, unlocked' },
  { value: 'on', text: 'on' },
]
const ticked = ref<Set<string>>(new Set())
const answers = ref<AnswerView[]>([])
const now = computed(() => walked(props.gimbal, answers.value))
const looked = ref<number | null>(null)
const note = ref('')
const left = ref<NonNullable<RecordRequest['left']>>('')
const screen = ref(props.last?.made.screen ?? '')
const gap = ref<number | null>(null)
const set = reactive<Record<string, number>>({})

const kept = computed(
  () => `lift-crate-cards ${props.place.job} ${props.place.rig} ${String(props.version)} ${props.gimbal.order}`,
)
interface Kept {
  ticked: string[]
  answers: AnswerView[]
  set: Record<string, number>
}
function remember(): void {
  const state: Kept = { ticked: [...ticked.value], answers: answers.value, set: { ...set } }
  localStorage.setItem(kept.value, JSON.stringify(state))
}
watch(
  kept,
  () => {
    for (const s of props.gimbal.slides) set[s.name] = Math.round(s.reading * 10) / 10
    const before = JSON.parse(localStorage.getItem(kept.value) ?? 'null') as Kept | null
    ticked.value = new Set(before?.ticked.filter((line) => props.gimbal.pre_flight.includes(line)))
    answers.value = before?.answers ?? []
    Object.assign(set, before?.set ?? {})
    looked.value = null
  },
  { immediate: true },
)
watch(set, remember)

const ready = computed(() => props.gimbal.pre_flight.every((line) => ticked.value.has(line)))
const up = computed(() => now.value.at ?? props.gimbal.cards.length)
const card = computed(() => props.gimbal.cards.find((c) => c.number === (looked.value ?? up.value)))
const done = computed(() => now.value.at === null && answers.value.length > 0)
function tick(line: string): void {
  const next = new Set(ticked.value)
  if (!next.delete(line)) next.add(line)
  ticked.value = next
  remember()
}
function seen(what: string): void {
  if (!card.value) return
  answers.value = [...answers.value, { card: card.value.number, seen: what }]
  looked.value = null
  if (what !== HOLDS) told.value = null
  remember()
}
function back(): void {
  answers.value = answers.value.slice(0, -1)
  looked.value = null
  remember()
}

const { found: told, problem: trouble, load } = useLoad<GimbalReadView>()
async function read(calibrate = false): Promise<void> {
  told.value = null
  const { order } = props.gimbal
  await load(() => readGimbal(props.place, { readings: { ...set }, order, answers: answers.value, calibrate }))
}
function keep(): void {
  emit('record', {
    readings: { ...set } as RecordRequest['readings'],
    note: note.value,
    order: props.gimbal.order,
    answers: answers.value,
    flight: [...ticked.value],
    loads_nm: Object.fromEntries((told.value?.loads ?? []).map((l) => [l.axis, l.read_nm])),
    left: left.value,
    screen: screen.value,
    gap_mm: gap.value,
    calibrated: told.value?.calibrated ?? null,
  })
}
</script>

<template>
  <div class="cards">
    <div class="card-order">
      <BButton
        v-for="o in ['tilt first', 'roll first'] as const"
        :key="o"
        :aria-pressed="gimbal.order === o"
        @click="emit('order', o)"
      >
        {{ o }}{{ o === gimbal.usual_order ? ' (usual for this gimbal)' : '' }}
      </BButton>
    </div>
    <template v-if="!ready">
      <h2>Before the first slide: exactly as it will be used</h2>
      <ul class="flight">
        <li v-for="line in gimbal.pre_flight" :key="line">
          <BFormCheckbox :model-value="ticked.has(line)" @update:model-value="tick(line)">{{ line }}</BFormCheckbox>
        </li>
      </ul>
    </template>
    <template v-else-if="card">
      <p class="card-count">
        <BButton
          v-for="c in gimbal.cards"
          :key="c.number"
          :aria-current="c.number === card.number ? 'step' : undefined"
          :class="{ holds: now.held.includes(c.number) }"
          :disabled="c.number !== up && !now.held.includes(c.number)"
          :aria-label="`${c.number}${now.held.includes(c.number) ? ', holds' : ''}`"
          @click="looked = c.number"
        >
          {{ c.number }}
        </BButton>
      </p>
      <p v-if="trouble" class="trouble" role="alert">{{ trouble.message }}</p>
      <p v-if="now.do && looked === null" class="do-now" role="status">{{ now.do }}</p>
      <article class="card-now">
        <h2>{{ card.title }}</h2>
        <p v-if="card.reading !== null" class="set-to">
          set to <b>{{ fixed(card.reading, 1) }}</b>{{ ' ' }}
          <span
            >± {{ fixed(card.spread_mm ?? 0, 1) }} mm on {{ card.scale?.map((v) => fixed(v, 0)).join(' to ') }}</span
          >
        </p>
        <p v-if="card.reading !== null && last?.set_to[card.slide] !== undefined" class="last-time">
          Last time {{ fixed(last?.set_to[card.slide] ?? 0, 1) }}, by {{ last?.actor }}
        </p>
        <label v-if="card.reading !== null" class="really"
          >Actual reading <NumberField v-model="set[card.slide]" step="0.5" :aria-label="`Reading of ${card.slide}`"
        /></label>
        <p class="how-to">{{ card.how }}</p>
        <p v-if="card.slide === 'lateral' && gimbal.gaps.length" class="gaps">
          Leaves
          <template v-for="(g, i) in gimbal.gaps" :key="g.side"
            >{{ i ? ' and ' : '' }}<b>{{ fixed(g.mm, 0) }} mm</b> on the {{ g.side }} ({{ g.camera }} to
            {{ g.gimbal }})</template
          >.
        </p>
        <template v-if="card.slide === 'power'">
          <BButton size="lg" @click="read()">Read the gimbal</BButton>
          <div v-if="told" class="told">
            <p>{{ told.name }}</p>
            <p v-for="l in told.loads" :key="l.axis" :class="{ apart: l.apart }">
              <span>{{ l.axis }}</span><b>{{ fixed(l.read_nm, 3) }}</b
              ><span
                >N·m, computed {{ fixed(l.computed_nm, 3)
                }}{{ l.apart ? ': not as computed, look for a cable or a part that is not in the rig' : '' }}</span
              >
            </p>
            <p v-if="told.calibrated !== null" class="calibration" :class="{ apart: !told.calibrated }">
              <span>motors</span
              ><b>{{ told.calibrated ? 'calibrated to this rig' : 'still calibrated to another rig' }}</b>
              <BButton v-if="!told.calibrated" @click="read(true)">Calibrate, standing still</BButton>
            </p>
            <p v-if="told.seen.length" class="to-see">
              With these readings you should have seen:
              <template v-for="(x, i) in told.seen" :key="x.seen"
                >{{ i ? '; ' : '' }}{{ x.seen }} (<b>{{ x.cure }}</b
                >)</template
              >.
            </p>
          </div>
        </template>
        <p class="check"><b>Check</b> {{ card.check }}</p>
      </article>
      <div class="what-is-seen" role="group" aria-label="What is seen">
        <BButton size="lg" variant="primary" :disabled="done && looked === null" @click="seen(HOLDS)">It holds</BButton>
        <BButton v-for="s in [...card.symptoms, ...(card.back ?? [])]" :key="s.seen" class="seen" @click="seen(s.seen)">
          <span>{{ s.seen }}</span> <small>{{ s.means }}: {{ s.cure }}</small>
        </BButton>
        <BButton v-if="answers.length" class="take-back" @click="back">Take the last answer back</BButton>
      </div>
      <form v-if="now.mayPower" class="keep-balance" @submit.prevent="keep">
        <label
          >Left
          <ChoiceField
            :model-value="left"
            aria-label="How the gimbal is left"
            :choices="LEFT"
            :commit="
              (v: NonNullable<RecordRequest['left']>) => {
                left = v
              }
            "
          />
        </label>
        <label>Screen <TextField v-model="screen" placeholder="folded, out to the left" maxlength="60" /></label>
        <label>Gap at the side, mm <NumberField v-model="gap" optional min="0" step="0.5" /></label>
        <TextField
          v-model="note"
          class="note-input"
          placeholder="a note for the next time"
          aria-label="Note"
          maxlength="500"
        />
        <BButton type="submit" size="lg" variant="primary">Keep these readings</BButton>
      </form>
    </template>
  </div>
</template>

<style>
.card-order {
  display: flex;
  gap: var(--gap-3);
  padding-bottom: var(--gap-5);
}
.flight .form-check {
  display: flex;
  gap: var(--gap-7);
  align-items: center;
  padding: 0 var(--gap-3);
  border-bottom: 1px solid var(--rule-2);
}
.flight .form-check-input {
  flex: none;
  width: 22px;
  height: 22px;
  margin: 0;
}
.flight .form-check-label {
  flex: 1;
  padding: var(--gap-5) 0;
  font-size: var(--t-5);
}
.flight .form-check-input:checked + .form-check-label {
  color: var(--ink-3);
}
.card-count {
  display: flex;
  gap: var(--gap-2);
}
.card-count button {
  width: 34px;
  height: 30px;
  text-align: center;
  font: 600 var(--t-4) var(--figures);
}
.card-count [aria-current] {
  background: var(--ink);
  color: var(--ground);
}
.set-to {
  font-size: var(--t-5);
}
.set-to b {
  font: 700 var(--t-8)/1 var(--figures);
  letter-spacing: -0.06em;
  color: var(--mark);
}
.last-time {
  color: var(--ink-2);
  font-size: var(--t-3);
}
.how-to {
  font-size: var(--t-5);
}
.check {
  font-size: var(--t-5);
  padding: var(--gap-4) 0;
}
.check b {
  color: var(--mark);
}
.really {
  font-size: var(--t-4);
  display: flex;
  gap: var(--gap-5);
  align-items: center;
}
.really input,
.note-input {
  font: 600 var(--t-6) var(--figures);
  width: 110px;
}
.note-input {
  flex: 1;
  font: 400 var(--t-4) var(--text);
}
.card-count .holds {
  border-bottom: 4px solid var(--mark);
}
.do-now {
  margin: var(--gap-5) 0 0;
  padding: var(--gap-5) var(--gap-7);
  border-left: 4px solid var(--mark);
  background: var(--mark-wash);
  font: 600 var(--t-5) var(--text);
}
.what-is-seen {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: var(--gap-4);
  padding-top: var(--gap-5);
}
.what-is-seen .btn-lg {
  grid-column: 1 / -1;
  min-height: 46px;
  font-size: var(--t-5);
}
.what-is-seen .seen {
  min-height: 46px;
  white-space: normal;
  text-align: left;
  font-size: var(--t-4);
}
.what-is-seen .seen small {
  display: block;
  color: var(--ink-2);
  font-size: var(--t-2);
}
.what-is-seen .take-back {
  grid-column: 1 / -1;
  justify-self: start;
}
.keep-balance {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-5);
  align-items: end;
  margin-top: var(--gap-7);
  padding-top: var(--gap-5);
  border-top: 1px solid var(--rule);
}
.keep-balance label {
  display: grid;
  font-size: var(--t-2);
  color: var(--ink-2);
}
.told p {
  display: grid;
  grid-template-columns: 50px 90px 1fr;
  align-items: baseline;
}
.told .to-see {
  display: block;
}
.told .calibration {
  grid-template-columns: 50px auto auto;
  justify-content: start;
  gap: var(--gap-5);
}
.told .calibration b {
  font: 600 var(--t-5) var(--text);
}
.told .to-see b {
  font: 600 1em var(--text);
}
.told > p:first-child {
  display: block;
  color: var(--ink-2);
}
.told b {
  font: 600 var(--t-6) var(--figures);
}
.told .apart {
  color: var(--watch);
}
@media (max-width: 760px) {
  .flight .form-check-label {
    padding: var(--gap-7) 0;
  }
  .card-count button {
    width: 44px;
    height: 44px;
  }
  .keep-balance .btn-lg {
    flex: 1;
    text-align: center;
  }
}
</style>
