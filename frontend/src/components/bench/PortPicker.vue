<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { readFit, readPort, type Operation } from '../../api'
import type { CandidatesView, CandidateView, WaysView, WayView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { useBench } from '../../stores/bench'
import { useJob } from '../../stores/job'
import { meant } from '../../lib/fields'
import EffectLine from './EffectLine.vue'
import PickerFrame from './PickerFrame.vue'

const props = defineProps<{ unit: string; port: string }>()
const emit = defineEmits<{ close: [] }>()
const bench = useBench()
const job = useJob()
const { found, problem, load: ask } = useLoad<CandidatesView>()
const misfits = ref(false)
const frame = ref<InstanceType<typeof PickerFrame> | null>(null)
const words = ref('')
const shown = computed(() =>
  (found.value?.candidates ?? []).filter((c) => meant(words.value, `${c.unit} ${c.title} ${c.how}`)),
)
const holds = computed(
  () =>
    bench.saved?.rows.find((r) => r.unit === props.unit)?.ports.find((p) => p.id === props.port && !p.free)?.holds ??
    [],
)

async function load(): Promise<void> {
  const place = job.place
  if (!place) return
  const answer = await ask(() => readPort(place, props.unit, props.port, misfits.value))
  if (answer) await frame.value?.focusOn(answer.candidates.length ? '.candidate' : '.ask')
}

const { found: ways, load: askWays, show: showWays } = useLoad<WaysView>()
async function wouldFit(unit: string): Promise<void> {
  const place = job.place
  if (!place) return
  if (ways.value?.unit === unit) showWays(null)
  else await askWays(() => readFit(place, unit, props.unit, props.port))
}

async function takeWay(way: WayView): Promise<void> {
  if (way.operations.length && (await bench.edit(...(way.operations as Operation[])))) emit('close')
}

async function take(candidate: CandidateView): Promise<void> {
  if (await bench.edit(...(candidate.operations as Operation[]))) emit('close')
}

watch(() => [props.unit, props.port, misfits.value], load, { immediate: true })
</script>

<template>
  <PickerFrame
    ref="frame"
    v-model:words="words"
    :label="`What goes on ${unit}, ${found?.label ?? port}`"
    :unit="unit"
    :what="found?.label ?? port"
    :more="found?.interface"
    :problem="problem"
    :working="found ? null : 'Trying what is on the shelf…'"
    @close="emit('close')"
    @first="shown[0] && take(shown[0])"
  >
    <template v-if="found">
      <p v-if="holds.length" class="quiet">Held by {{ holds.join(', ') }}; what is listed would come in its place.</p>
      <p v-if="found.candidates.length && !shown.length" class="quiet">No match in this list.</p>
      <p v-if="!found.candidates.length" class="quiet">Nothing free on the shelf goes here in this part of the day.</p>
      <ul>
        <li v-for="c in shown" :key="c.how">
          <button
            type="button"
            class="candidate"
            data-rove
            @click="take(c)"
            @focus="bench.tryOut(c.operations as Operation[])"
          >
            <span class="unit"
              >{{ c.unit }}<small v-if="c.alike"> and {{ c.alike }} alike</small
              ><small v-if="c.owner === 'hired'" class="hired">hired</small></span
            >
            <span class="what"
              >{{ c.title
              }}<template v-if="c.operations.length > 1 || c.operations[0]?.op === 'connect'"
                >: {{ c.how }}</template
              ></span
            >
            <EffectLine v-if="c.effect" :effect="c.effect" />
            <span v-else class="effect">+{{ Math.round(c.mass_g ?? 0) }} g, not tried yet</span>
          </button>
        </li>
      </ul>
      <button v-if="!misfits" type="button" class="ask" data-rove @click="misfits = true">Doesn’t fit, and why</button>
      <ul v-else class="misfits">
        <li v-for="m in found.misfits" :key="m.unit">
          <button
            type="button"
            class="misfit"
            data-rove
            :disabled="m.taken"
            :aria-expanded="ways?.unit === m.unit"
            @click="wouldFit(m.unit)"
          >
            <span class="unit">{{ m.unit }}</span> <span class="what">{{ m.title }}</span>
            <span class="reason" :class="{ taken: m.taken }">{{ m.taken ? `taken: ${m.reason}` : m.reason }}</span>
            <span v-if="m.adapter" class="adapter">{{ m.adapter }} would adapt it.</span>
          </button>
          <template v-if="ways?.unit === m.unit">
            <p v-if="!ways.ways.length" class="quiet">No known adapters make it fit.</p>
            <button
              v-for="w in ways.ways"
              :key="w.title"
              type="button"
              class="remedy"
              data-rove
              :disabled="!w.operations.length"
              @click="takeWay(w)"
              @focus="w.operations.length && bench.tryOut(w.operations as Operation[])"
            >
              <span class="what">{{ w.title }}</span>
              <span v-if="w.to_hire.length" class="eases">to hire: {{ w.to_hire.join(', ') }}</span>
              <EffectLine v-if="w.effect" :effect="w.effect" />
            </button>
          </template>
        </li>
      </ul>
    </template>
  </PickerFrame>
</template>

<style>
.misfits li {
  padding: var(--gap-4) var(--gap-3);
  border-bottom: 1px solid var(--rule-2);
  font-size: var(--t-3);
}
.misfits .reason {
  display: block;
  color: var(--ink-2);
  font-size: var(--t-2);
}
.misfits .taken {
  color: var(--stop);
}
.misfits .adapter {
  display: block;
  color: var(--mark);
}
.misfit {
  display: block;
  width: 100%;
  padding: var(--gap-3) var(--gap-1);
}
.misfit:hover:not(:disabled) {
  background: var(--lift);
}
</style>
