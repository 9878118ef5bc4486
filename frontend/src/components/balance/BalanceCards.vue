<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormCheckbox } from 'bootstrap-vue-next/components/BFormCheckbox'
import { computed, reactive, ref, watch } from 'vue'
import { readGimbal, type Place } from '../../api'
import type { GimbalBalance, GimbalReadView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { fixed } from '../../lib/format'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'

const props = defineProps<{ gimbal: GimbalBalance; place: Place }>()
const emit = defineEmits<{
  order: [order: 'tilt first' | 'roll first']
  record: [readings: Record<string, number>, note: string]
}>()
const ticked = ref<Set<string>>(new Set())
const at = ref(0)
const note = ref('')
const set = reactive<Record<string, number>>({})

watch(
  () => props.gimbal.slides,
  (slides) => {
    for (const s of slides) set[s.name] = Math.round(s.reading * 10) / 10
  },
  { immediate: true },
)
watch(
  () => props.gimbal.order,
  () => {
    at.value = 0
  },
)

const ready = computed(() => props.gimbal.pre_flight.every((line) => ticked.value.has(line)))
const card = computed(() => props.gimbal.cards[at.value])
function tick(line: string): void {
  const next = new Set(ticked.value)
  if (!next.delete(line)) next.add(line)
  ticked.value = next
}
const { found: told, problem: trouble, load, show } = useLoad<GimbalReadView>()
async function read(): Promise<void> {
  show(null)
  await load(() => readGimbal(props.place, { ...set }))
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
          v-for="(c, i) in gimbal.cards"
          :key="c.number"
          :aria-current="i === at ? 'step' : undefined"
          @click="at = i"
        >
          {{ c.number }}
        </BButton>
      </p>
      <article class="card-now">
        <h2>{{ card.title }}</h2>
        <p v-if="card.reading !== null" class="set-to">
          set to <b>{{ fixed(card.reading, 1) }}</b>{{ ' ' }}
          <span
            >± {{ fixed(card.spread_mm ?? 0, 1) }} mm on {{ card.scale?.map((v) => fixed(v, 0)).join(' to ') }}</span
          >
        </p>
        <p class="how-to">{{ card.how }}</p>
        <p class="check"><b>Check</b> {{ card.check }}</p>
        <dl class="symptoms">
          <template v-for="s in card.symptoms" :key="s.seen"
            ><dt>{{ s.seen }}</dt>
            <dd>
              {{ s.means }}: <b>{{ s.cure }}</b>
            </dd></template
          >
        </dl>
        <template v-if="card.slide === 'power'">
          <BButton size="lg" @click="read">Read the gimbal</BButton>
          <p v-if="trouble" class="trouble" role="alert">{{ trouble.message }}</p>
          <div v-if="told" class="told">
            <p>{{ told.name }}</p>
            <p v-for="l in told.loads" :key="l.axis" :class="{ apart: l.apart }">
              <span>{{ l.axis }}</span><b>{{ fixed(l.read_nm, 3) }}</b
              ><span
                >N·m, computed {{ fixed(l.computed_nm, 3)
                }}{{ l.apart ? ': not as computed, look for a cable or a part that is not in the rig' : '' }}</span
              >
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
        <label v-if="card.reading !== null" class="really"
          >Actual reading <NumberField v-model="set[card.slide]" step="0.5" :aria-label="`Reading of ${card.slide}`"
        /></label>
      </article>
      <div class="card-acts">
        <BButton size="lg" :disabled="at === 0" @click="at--">Back</BButton>
        <BButton v-if="at < gimbal.cards.length - 1" size="lg" variant="primary" @click="at++">Holds, next</BButton>
        <template v-else
          ><TextField
            v-model="note"
            class="note-input"
            placeholder="a note for the next time"
            aria-label="Note"
          /><BButton size="lg" variant="primary" @click="emit('record', { ...set }, note)">
            Keep these readings
          </BButton></template
        >
      </div>
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
.symptoms {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: var(--gap-2) var(--gap-8);
  font-size: var(--t-4);
  padding: var(--gap-3) 0;
}
.symptoms dt {
  font-weight: 400;
  color: var(--ink-2);
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
.card-acts {
  display: flex;
  gap: var(--gap-5);
  padding-top: var(--gap-7);
}
.card-acts .btn-lg {
  min-height: 46px;
  font-size: var(--t-5);
}
.told p {
  display: grid;
  grid-template-columns: 50px 90px 1fr;
  align-items: baseline;
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
  .card-acts .btn-lg {
    flex: 1;
    text-align: center;
  }
  .symptoms {
    grid-template-columns: 1fr;
  }
}
</style>
