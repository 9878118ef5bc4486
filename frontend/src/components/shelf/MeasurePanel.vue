<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, reactive, ref, shallowRef } from 'vue'
import { measure, readScale } from '../../api'
import type { Problem } from '../../api/client'
import type { MeasuredView, ScaleView } from '../../api/schema.gen'
import { fixed } from '../../lib/format'
import NumberField from '../fields/NumberField.vue'

const props = defineProps<{ mass: number | null; cg: readonly [number, number, number] }>()
const emit = defineEmits<{ mass: [grams: number]; cg: [mm: [number, number, number]]; close: [] }>()
const scale = shallowRef<ScaleView | null>(null)
const away = ref('')
const problem = shallowRef<Problem | null>(null)
const result = shallowRef<MeasuredView | null>(null)
const method = ref<'mass' | 'edge' | 'scale and block'>('mass')
const form = reactive({
  gross_g: 0,
  tare_g: 0,
  span_mm: 300,
  block_at_mm: -150,
  scale_at_mm: 150,
  edge_at_mm: 0,
  second_at_mm: null as number | null,
})

const { pause, resume, isActive } = useIntervalFn(
  async () => {
    try {
      scale.value = await readScale()
      away.value = ''
    } catch (error) {
      away.value = (error as Problem).message
      pause()
    }
  },
  700,
  { immediateCallback: true },
)

const STEPS = {
  mass: [
    'Empty the scale; read it or set the tare.',
    'Put the part on, exactly as it is used.',
    'Take the reading when it is stable.',
  ],
  edge: [
    'Lay the part on an edge and find where it neither tips forward nor back.',
    'Measure from the film-plane mark (or the part’s reference) to the edge, forward positive.',
    'Turn it end for end and read once more; the mean is taken.',
  ],
  'scale and block': [
    'Rest one end on a block, the other on the scale, rig and beam level.',
    'Measure where block and scale stand from the reference, forward positive.',
    'Read the scale; the tare is what beam and block leave on it.',
  ],
}
const steps = computed(() => STEPS[method.value])
const take = (): void => {
  if (scale.value) form.gross_g = Math.round(scale.value.mass_g * 10) / 10
}

async function work(): Promise<void> {
  try {
    result.value = await measure({
      method: method.value,
      tare_g: form.tare_g,
      ...(method.value !== 'edge'
        ? { gross_g: form.gross_g }
        : { edge_at_mm: form.edge_at_mm, second_at_mm: form.second_at_mm }),
      ...(method.value === 'scale and block'
        ? { mass_g: props.mass, span_mm: form.span_mm, block_at_mm: form.block_at_mm, scale_at_mm: form.scale_at_mm }
        : {}),
    })
    problem.value = null
  } catch (error) {
    problem.value = error as Problem
    result.value = null
  }
}

function keep(): void {
  if (!result.value) return
  if (method.value === 'mass') emit('mass', Math.round(result.value.value * 10) / 10)
  else emit('cg', [Math.round(result.value.value * 10) / 10, props.cg[1], props.cg[2]])
}

function measureBy(chosen: typeof method.value) {
  method.value = chosen
  result.value = null
}
</script>

<template>
  <section class="measure" aria-label="Measure mass and CG">
    <header>
      <BButton
        v-for="m in ['mass', 'edge', 'scale and block'] as const"
        :key="m"
        :aria-pressed="method === m"
        @click="measureBy(m)"
      >
        {{ m === 'mass' ? 'Mass' : m === 'edge' ? 'CG on an edge' : 'CG by scale and block' }}
      </BButton>
      <BButton @click="emit('close')">Close</BButton>
    </header>
    <p v-if="method !== 'edge'" class="scale-now" :class="{ moving: scale && !scale.stable }">
      <template v-if="scale && !away"
        ><b>{{ fixed(scale.mass_g, 1) }}</b> g <small>{{ scale.stable ? 'stable' : 'moving' }} · {{ scale.name }}</small
        >{{ ' ' }} <BButton :disabled="!scale.stable" @click="take">Take it</BButton></template
      >
      <template v-else-if="away"
        >{{ away }} <BButton :disabled="isActive" @click="resume()">Ask again</BButton></template
      >
      <template v-else>Asking the scale…</template>
    </p>
    <ol class="how">
      <li v-for="s in steps" :key="s">{{ s }}</li>
    </ol>
    <form class="unit-form" @submit.prevent="work">
      <template v-if="method !== 'edge'">
        <label>Reading g <NumberField v-model="form.gross_g" step="0.1" /></label>
        <label>Tare g <NumberField v-model="form.tare_g" step="0.1" /></label>
      </template>
      <template v-if="method === 'edge'">
        <label>Edge at mm <NumberField v-model="form.edge_at_mm" step="0.5" /></label>
        <label>Turned, mm <NumberField v-model="form.second_at_mm" optional step="0.5" /></label>
      </template>
      <template v-if="method === 'scale and block'">
        <label>Span mm <NumberField v-model="form.span_mm" /></label>
        <label>Block at mm <NumberField v-model="form.block_at_mm" /></label>
        <label>Scale at mm <NumberField v-model="form.scale_at_mm" /></label>
      </template>
      <BButton type="submit">Work it out</BButton>
    </form>
    <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
    <div v-if="result" class="working">
      <p class="formula">{{ result.formula }}</p>
      <p class="numbers">{{ result.numbers }}</p>
      <p>
        <b class="answer">{{ fixed(result.value, 1) }}</b> {{ result.unit }} ± {{ fixed(result.sd, 1) }}
        <BButton @click="keep">Keep it for this unit</BButton>
      </p>
    </div>
  </section>
</template>

<style>
.measure {
  border: 1px solid var(--rule);
  margin: var(--gap-4) var(--gap-7);
  background: var(--lift);
}
.measure header {
  padding: var(--gap-4);
}
.scale-now {
  padding: var(--gap-4) var(--gap-7);
}
.scale-now b {
  font: 600 var(--t-7) var(--figures);
  letter-spacing: -0.05em;
}
.scale-now.moving {
  color: var(--ink-3);
}
.how {
  margin: 0;
  padding: var(--gap-1) var(--gap-7) var(--gap-1) var(--gap-9);
  font-size: var(--t-3);
  color: var(--ink-2);
}
.measure .working {
  margin: 0 var(--gap-7) var(--gap-5);
}
.answer {
  font: 600 var(--t-6) var(--figures);
}
</style>
