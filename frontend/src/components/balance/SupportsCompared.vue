<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { watch } from 'vue'
import { readSupports, type Operation, type Place } from '../../api'
import type { SupportsView, SupportTried } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { counted, fixed, grams, signed } from '../../lib/format'
import { useBench } from '../../stores/bench'

/** By hand in every grip, and on every support that is free; each was tried on this rig. */
const props = defineProps<{ place: Place; version: number }>()
const emit = defineEmits<{ taken: [] }>()
const bench = useBench()
const { found, problem, loading, load, show } = useLoad<SupportsView>()
watch(
  () => [props.place.job, props.place.part, props.place.rig, props.version],
  () => {
    if (found.value) void look()
    else show(null)
  },
)
const look = () => load(() => readSupports(props.place))

async function take(s: SupportTried): Promise<void> {
  await bench.open(props.place)
  if (await bench.edit(...(s.operations as Operation[]))) emit('taken')
}
const held = (s: SupportTried): string =>
  s.carried_g ? (s.minutes === null ? 'long' : `${fixed(s.minutes, 1)} min`) : 'stands by itself'
</script>

<template>
  <section class="supports" aria-label="Supports compared">
    <h3>Supports compared <small>hold, steadiness and reaction are rules of thumb</small></h3>
    <p v-if="problem" class="trouble">{{ problem.message }}</p>
    <BButton v-if="!found" :disabled="loading" @click="look">{{
      loading ? 'Trying every support…' : 'Try every support'
    }}</BButton>
    <div v-for="s in found?.supports ?? []" :key="s.name" class="support-line" :class="{ now: s.now }">
      <p class="name">
        <b>{{ s.name }}</b> <small v-if="s.now">as it is</small>
      </p>
      <p class="facts">
        <span v-if="s.carried_g">{{ grams(s.carried_g) }} g</span><span>{{ held(s) }}</span
        ><span>{{ signed(s.moment_nm, 2) }} N·m</span><span v-if="s.steady !== null">steady {{ s.steady }} of 4</span
        ><span v-if="s.reaction_s !== null">rolling in {{ fixed(s.reaction_s, 0) }} s</span
        ><span v-if="s.panning" class="pans">{{ s.panning }}</span>
      </p>
      <p class="outcome">{{ counted(s.stops, 'Stop') }}, {{ s.watches }} {{ s.watches === 1 ? 'Watch' : 'Watches' }}</p>
      <p v-if="s.changes.length" class="changes">{{ s.changes.join('; ') }}</p>
      <BButton v-if="s.operations.length" :aria-label="`Carry it so: ${s.name}`" @click="take(s)">Take</BButton>
    </div>
  </section>
</template>

<style>
.supports {
  padding: var(--gap-5) var(--gap-8) var(--gap-9);
}
.supports h3 small {
  font-weight: 400;
  color: var(--ink-2);
}
.support-line {
  display: grid;
  grid-template:
    'name outcome take' auto 'facts facts take' auto 'changes changes take' auto / minmax(0, 1fr)
    auto auto;
  gap: 0 var(--gap-7);
  align-items: baseline;
  padding: var(--gap-4) 0 var(--gap-4) var(--gap-5);
  border-bottom: 1px solid var(--rule-2);
  border-left: 4px solid transparent;
}
.support-line.now {
  border-left-color: var(--mark);
}
.support-line .name {
  grid-area: name;
}
.support-line .outcome {
  grid-area: outcome;
  font-size: var(--t-2);
}
.support-line .facts {
  grid-area: facts;
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-7);
  font: 400 var(--t-2) var(--figures);
}
.support-line .pans {
  font-family: var(--text);
}
.support-line .changes {
  grid-area: changes;
  font-size: var(--t-2);
  color: var(--ink-2);
}
.support-line .btn {
  grid-area: take;
  align-self: center;
}
</style>
