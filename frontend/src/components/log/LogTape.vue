<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { computed, nextTick, ref } from 'vue'
import { clock } from '../../lib/format'
import type { LogLine } from '../../lib/log'

/** The plan at the left of the clock, what happened at the right. */
const props = defineProps<{
  lines: readonly LogLine[]
  names: Readonly<Record<string, string>>
  camera: string
  may: boolean
  busy: boolean
}>()
const emit = defineEmits<{
  made: [line: LogLine, left: number | null]
  correct: [line: LogLine]
  back: [line: LogLine]
  settle: [line: LogLine]
}>()
const open = ref('')
/** The planned swap that was tapped: what is left in the pack that came out is worth most right then. */
const asking = ref('')
const left = ref('')
async function ask(l: LogLine): Promise<void> {
  asking.value = l.id
  left.value = ''
  await nextTick()
  document.querySelector<HTMLElement>('.left-over input')?.focus()
}
function swapped(l: LogLine): void {
  const share = left.value.trim() === '' ? null : Math.min(100, Math.max(0, Number(left.value))) / 100
  asking.value = ''
  emit('made', l, Number.isNaN(share) ? null : share)
}
const shown = computed(() => props.lines.filter((l) => !props.camera || !l.rig || l.rig === props.camera))
/** Planned swaps that were made, or are noted here and not sent yet. */
const carried = computed(() => {
  const kept = props.lines.filter((l) => l.source === 'swap' && l.slot)
  const made = (p: LogLine) => p.carried || kept.some((l) => l.slot === p.slot && l.pack_in === p.pack_in)
  return new Set(props.lines.filter((l) => l.source === 'plan' && l.slot && made(l)).map((l) => l.id))
})
const key = (l: LogLine): string => `${l.source} ${l.id}`
const WORD: Record<string, string> = { 'near miss': 'Near miss', fault: 'Fault', reading: 'Read', minutes: 'Timed' }
const word = (l: LogLine): string => WORD[l.kind] ?? l.kind.charAt(0).toUpperCase() + l.kind.slice(1)
</script>

<template>
  <ol class="tape" aria-label="Planned and happened">
    <li
      v-for="l in shown"
      :key="key(l)"
      :class="[
        l.source === 'plan' ? 'planned' : 'happened',
        `is-${l.kind.replace(' ', '-')}`,
        { gone: l.taken_back_by },
      ]"
    >
      <time>{{ clock(l.at) }}</time>
      <div v-if="l.source === 'plan'" class="said-so">
        <form v-if="asking === l.id" class="left-over" @submit.prevent="swapped(l)">
          <label
            >left, % <BFormInput v-model="left" inputmode="numeric" aria-label="Charge left in the pack taken out, %"
          /></label>
          <BButton type="submit" size="sm" variant="primary" :disabled="busy">Note the swap</BButton>
        </form>
        <BButton v-else-if="l.slot && may && !carried.has(l.id)" size="sm" :disabled="busy" @click="ask(l)"
          >Swapped</BButton
        >
        <span>{{ l.text }}</span>
      </div>
      <div v-else class="said-so">
        <button
          type="button"
          :aria-expanded="open === key(l)"
          :disabled="l.source !== 'log'"
          @click="open = open === key(l) ? '' : key(l)"
        >
          <b>{{ word(l) }}</b>{{ ' ' }}
          <span v-if="l.rig" class="whose">{{ `${names[l.rig] ?? l.rig} ` }}</span>
          <span v-if="l.unit" class="whose">{{ `${l.unit} ` }}</span>
          {{ l.text }}
          <em v-if="l.settled">{{ l.settled }}</em>
          <small>
            {{ l.by }}<template v-if="l.noted_at">, noted {{ clock(l.noted_at) }}</template
            ><template v-if="l.said.length"
              >, before: {{ l.said.map((s) => `${s.text} (${s.by})`).join('; ') }}</template
            ><template v-if="l.taken_back_by">, taken back by {{ l.taken_back_by }}</template>
          </small>
        </button>
        <a v-if="l.photo && open === key(l)" :href="`/api/pictures/${l.photo}`" target="_blank"
          ><img :src="`/api/pictures/${l.photo}`" alt="Photo of this entry"
        /></a>
        <span v-else-if="l.photo" class="has-photo">photo</span>
        <div v-if="open === key(l) && may && !l.taken_back_by" class="log-acts">
          <BButton size="sm" @click="emit('correct', l)">Correct</BButton>
          <BButton v-if="l.open" size="sm" @click="emit('settle', l)">{{
            l.kind === 'fault' ? 'Mended' : l.kind === 'promise' ? 'Kept' : 'Settled'
          }}</BButton>
          <BButton size="sm" :disabled="busy" @click="emit('back', l)">Take back</BButton>
        </div>
      </div>
    </li>
    <li v-if="!shown.length" class="quiet">Nothing is planned on this day, and nothing was noted.</li>
  </ol>
</template>

<style>
.tape {
  list-style: none;
  margin: 0;
  padding: var(--gap-5) var(--gap-7);
  display: grid;
  grid-template-columns: minmax(0, 5fr) 56px minmax(0, 6fr);
  position: relative;
}
.tape li {
  display: grid;
  grid-template-columns: subgrid;
  grid-column: 1 / -1;
  align-items: start;
  min-height: 30px;
}
.tape time {
  grid-column: 2;
  grid-row: 1;
  text-align: center;
  font: 600 var(--t-3) var(--figures);
  padding: var(--gap-3) 0;
  border-inline: 1px solid var(--rule);
  align-self: stretch;
}
.tape .planned time {
  color: var(--ink-3);
  font-weight: 400;
}
.tape .said-so {
  grid-row: 1;
  padding: var(--gap-3) var(--gap-6);
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-4);
  align-items: baseline;
}
.tape .planned .said-so {
  grid-column: 1;
  justify-content: flex-end;
  flex-wrap: nowrap;
  text-align: right;
  color: var(--ink-2);
}
.tape .happened .said-so {
  grid-column: 3;
}
.tape .happened .said-so > button {
  border: 0;
  background: none;
  color: inherit;
  text-align: left;
  padding: 0;
  flex: 1 1 200px;
}
.tape .happened .said-so > button:disabled {
  opacity: 1;
}
.tape .planned .said-so > span {
  min-width: 0;
}
.tape .planned .btn {
  padding: 0 var(--gap-4);
}
.left-over {
  display: flex;
  gap: var(--gap-4);
  align-items: end;
}
.left-over input {
  width: 72px;
}
.tape .is-part .said-so,
.tape .is-moment .said-so {
  color: var(--ink);
  font-weight: 700;
}
.tape .is-part time,
.tape .is-moment time {
  color: var(--ink);
  font-weight: 700;
  border-top: 2px solid var(--ink);
}
.tape .is-fault b,
.tape .is-near-miss b {
  color: var(--stop);
}
.tape b {
  margin-right: var(--gap-4);
}
.tape .whose {
  font: 600 var(--t-2) var(--figures);
  margin-right: var(--gap-4);
}
.tape small {
  display: block;
  color: var(--ink-3);
}
.tape em {
  color: var(--mark);
  font-style: normal;
  font-weight: 600;
}
.tape .gone button {
  text-decoration: line-through;
  color: var(--ink-3);
}
.tape .has-photo {
  color: var(--ink-3);
  font-size: var(--t-2);
}
.tape img {
  max-width: 220px;
  max-height: 160px;
  display: block;
}
.tape .log-acts {
  flex-basis: 100%;
  display: flex;
  gap: var(--gap-4);
}
.tape > .quiet {
  grid-column: 1 / -1;
  display: block;
}
@media (max-width: 760px) {
  .tape {
    grid-template-columns: 50px minmax(0, 1fr);
    padding: var(--gap-4);
  }
  .tape time {
    grid-column: 1;
    border-left: 0;
  }
  .tape .planned .said-so,
  .tape .happened .said-so {
    grid-column: 2;
    justify-content: flex-start;
    text-align: left;
  }
  .tape .planned .said-so {
    font-size: var(--t-3);
    color: var(--ink-3);
  }
}
</style>
