<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import type { Problem } from '../../api/client'
import type { MadeRequest, SwapsView, Swap } from '../../api/schema.gen'
import { useTakeBack } from '../../composables/useTakeBack'
import { clock, inZoneOf } from '../../lib/format'
import { isNow } from '../../lib/log'
import { useOutbox } from '../../stores/outbox'
import TextField from '../fields/TextField.vue'

const props = defineProps<{
  swaps: SwapsView
  rig: string
  only: boolean
  who: string
  busy: boolean
  note: (swap: MadeRequest) => Promise<Problem | null>
  drop: (id: number) => Promise<Problem | null>
}>()
const open = ref('')
/** While a swap is being noted its card stays where it is, whatever better plan is found meanwhile. */
const held = shallowRef<SwapsView | null>(null)
const now = computed(() => held.value ?? props.swaps)
watch(
  () => props.swaps.starts,
  () => {
    open.value = ''
    held.value = null
  },
)
const form = reactive({ at: '', pack: '', left: '', charge: '' })
const shown = computed(() =>
  now.value.cards.filter((c) => (!props.only || c.rig === props.rig) && (!props.who || c.person === props.who)),
)
const key = (c: Swap): string => `${c.slot} ${c.at}`
const madeOf = (c: Swap) => now.value.made.find((m) => m.card !== null && now.value.cards[m.card] === c)

function start(c: Swap): void {
  open.value = open.value === key(c) ? '' : key(c)
  held.value = open.value ? now.value : null
  refusal.value = ''
  form.at = clock(usualTime(c, new Date(Date.now() + outbox.skew)))
  form.pack = c.brings ? '' : c.pack_in
  form.left = form.charge = ''
}
const share = (percent: string | number): number | null =>
  percent === '' ? null : Math.min(100, Math.max(0, Number(percent))) / 100
const back = useTakeBack(props.drop)
const outbox = useOutbox()
const refusal = ref('')
/** While the day runs a swap was made now; before and after it, when it was planned. */
function usualTime(c: Swap, at: Date): string {
  const ends = props.swaps.cards.at(-1)?.at ?? props.swaps.starts
  return isNow({ starts: props.swaps.starts, ends }, at) ? inZoneOf(at, c.at) : c.at
}
/** What is typed stays until it is noted, or kept on this device. */
async function send(c: Swap): Promise<void> {
  const refused = await props.note({
    slot: c.slot,
    at: `${c.at.slice(0, 11)}${form.at}${c.at.slice(16)}`,
    pack_in: form.pack.trim(),
    pack_out: c.pack_out ?? null,
    charge_left: share(form.left),
    charge_in: share(form.charge),
  })
  refusal.value = refused?.message ?? ''
  if (refused) return
  open.value = ''
  held.value = null
}
</script>

<template>
  <ol class="swap-cards">
    <li v-for="c in shown" :key="key(c)" :class="{ done: madeOf(c), brings: c.brings }">
      <time>{{ clock(c.at) }}</time>
      <div class="what">
        <b>{{ c.label }}</b><small v-if="c.pack_out">{{ c.in_break ? 'in the break' : 'while it runs' }}</small
        ><small v-if="swaps.people.length > 1 && !who" class="person">{{ c.person }}</small>
        <p v-if="c.pack_out">
          <span class="out">{{ c.pack_out }}</span> out, about {{ Math.round((c.left ?? 0) * 100) }} % left, to
          {{ c.take_to }}
        </p>
        <p>
          <span class="in">{{ c.pack_in }}</span> {{ c.pack_out ? 'in' : 'on' }}, from {{ c.bring_from }}
        </p>
      </div>
      <BButton
        v-if="madeOf(c)"
        class="tick done"
        :disabled="busy"
        :aria-label="`Take back: ${c.label}`"
        @click="back.take(madeOf(c)?.id ?? 0)"
      >
        done {{ clock(madeOf(c)?.at ?? '') }}
      </BButton>
      <BButton v-else-if="c.pack_out" class="tick" :disabled="busy" :aria-expanded="open === key(c)" @click="start(c)">
        Done
      </BButton>
      <p v-if="back.refusals[madeOf(c)?.id ?? 0]" class="trouble" role="alert">
        {{ back.refusals[madeOf(c)?.id ?? 0] }}
      </p>
      <form v-if="open === key(c)" class="tick-form" @submit.prevent="send(c)">
        <label>at <BFormInput v-model="form.at" type="time" required aria-label="Time of the swap" /></label>
        <label>in <TextField v-model="form.pack" required aria-label="Pack that went in" /></label>
        <label
          >left in {{ c.pack_out }}
          <BFormInput
            v-model="form.left"
            type="number"
            min="0"
            max="100"
            inputmode="numeric"
            placeholder="%"
            aria-label="Charge left, percent"
        /></label>
        <label
          >charge of {{ form.pack || 'the new pack' }}
          <BFormInput
            v-model="form.charge"
            type="number"
            min="0"
            max="100"
            inputmode="numeric"
            placeholder="full"
            aria-label="Charge of the pack that went in, percent"
        /></label>
        <BButton type="submit" size="lg" variant="primary" :disabled="busy">Note it</BButton>
        <p v-if="refusal" class="trouble" role="alert">{{ refusal }}</p>
      </form>
    </li>
  </ol>
</template>

<style>
.swap-cards {
  list-style: none;
  margin: 0;
  padding: 0;
}
.swap-cards li {
  display: grid;
  grid-template-columns: 70px minmax(0, 1fr) auto;
  gap: var(--gap-3) var(--gap-5);
  padding: var(--gap-5) var(--gap-7);
  border-bottom: 1px solid var(--rule-2);
  align-items: start;
}
.swap-cards time {
  font: 700 var(--t-6)/1.1 var(--figures);
}
.swap-cards .what > b {
  white-space: nowrap;
  margin-right: var(--gap-4);
}
.swap-cards .what small {
  color: var(--ink-2);
  display: inline-block;
  margin-right: var(--gap-5);
}
.swap-cards .what .person {
  font-weight: 700;
  color: var(--ink);
}
.swap-cards p {
  font-size: var(--t-3);
}
.swap-cards .in,
.swap-cards .out {
  font: 700 var(--t-3) var(--text);
}
.swap-cards .brings .in {
  color: var(--stop);
}
.swap-cards .tick {
  min-height: 44px;
  min-width: 62px;
  border: 1px solid var(--rule);
  background: var(--lift);
  text-align: center;
  font-size: var(--t-3);
  padding: var(--gap-1) var(--gap-5);
}
.swap-cards li.done {
  background: var(--mark-wash);
}
.tick-form {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-5);
  align-items: end;
}
.tick-form label {
  font-size: var(--t-2);
  display: grid;
}
.tick-form input[type='time'] {
  width: 124px;
}
.tick-form input {
  width: 96px;
  min-height: 40px;
  font: 600 var(--t-4) var(--figures);
}
</style>
