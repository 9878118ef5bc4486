<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref, watch } from 'vue'
import { dressRecipe, readElsewhere } from '../../api'
import type { DressedView, ElsewhereView, FrameView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import type { Choice } from '../../lib/fields'
import { useFrame } from '../../stores/frame'
import { useRecipes } from '../../stores/recipes'
import ChoiceField from '../fields/ChoiceField.vue'
import TextField from '../fields/TextField.vue'

/** A new build of a camera: a copy, a bare body, a recipe, or what a camera of another job was; what is missing is said first. */
const props = defineProps<{ view: FrameView; rig: string; part: string; from: string; bodies: readonly Choice[] }>()
const emit = defineEmits<{ done: [] }>()
const frame = useFrame()
const recipes = useRecipes()
const { found: elsewhere, load: look } = useLoad<ElsewhereView>()
const { found: dressed, problem, load: dress, show } = useLoad<DressedView>()
const job = computed(() => props.view.job.id ?? '')
void recipes.open()
void look(() => readElsewhere(job.value))

const label = ref('')
const plan = ref(false)
const sources = computed<Choice[]>(() => [
  ...(props.view.job.rigs ?? []).flatMap((r) =>
    (r.builds ?? []).map((b) => ({ value: `copy\t${b.id}`, text: `${r.label}: ${b.label}`, group: 'Copy of' })),
  ),
  ...(recipes.view?.recipes ?? [])
    .filter((r) => !r.removed)
    .map((r) => ({ value: `recipe\t${r.id}`, text: `${r.label}, ${String(r.units)} parts`, group: 'Recipe' })),
  ...(elsewhere.value?.builds ?? []).map((b) => ({
    value: `job\t${b.job}\t${b.build}`,
    text: `${b.title}: ${b.label}`,
    group: 'As in another job',
  })),
  ...props.bodies.map((b) => ({ value: `body\t${b.value}`, text: b.text, group: 'Bare body' })),
])
const from = ref(props.from)
const source = computed(() => from.value || sources.value[0]?.value || '')
const partLabel = computed(() => props.view.job.parts?.find((p) => p.id === props.part)?.label ?? '')

watch(
  source,
  async (now) => {
    show(null)
    const [kind, first = '', second = ''] = now.split('\t')
    const at = { rig: props.rig, part: props.part }
    if (kind === 'recipe') await dress(() => dressRecipe(job.value, { ...at, recipe: first, job: '', build: '' }))
    if (kind === 'job') await dress(() => dressRecipe(job.value, { ...at, job: first, build: second }))
  },
  { immediate: true },
)
const ready = computed(() => !/^(recipe|job)\t/.test(source.value) || dressed.value !== null)

async function add(): Promise<void> {
  const [kind, first = ''] = source.value.split('\t')
  const what =
    kind === 'copy' ? { copy_of: first } : kind === 'body' ? { body: first } : { content: dressed.value?.build ?? null }
  const part = plan.value ? { part: props.part } : {}
  if (await frame.edit({ op: 'add build', rig: props.rig, label: label.value, ...what, ...part })) emit('done')
}
</script>

<template>
  <form class="new-build" @submit.prevent="add">
    <label>New build <TextField v-model="label" required placeholder="light" /></label>
    <label
      >from
      <ChoiceField
        :model-value="source"
        aria-label="What it starts from"
        :choices="sources"
        @update:model-value="from = $event ?? ''"
    /></label>
    <label v-if="partLabel" class="plan-it">
      <input v-model="plan" type="checkbox" class="form-check-input" /> plan it in {{ partLabel }}
    </label>
    <BButton type="submit" variant="primary" :disabled="!ready">Add it</BButton>
    <BButton @click="emit('done')">Cancel</BButton>
    <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
    <div v-else-if="dressed" class="dressed" role="status">
      {{ dressed.units }} {{ dressed.units === 1 ? 'unit is' : 'units are' }} free in {{ partLabel
      }}{{ dressed.missing.length ? '. Left off, with what hangs on it:' : '; nothing is missing.' }}
      <ul v-if="dressed.missing.length">
        <li v-for="m in dressed.missing" :key="m.model">{{ m.count }} × {{ m.title }}: {{ m.why }}</li>
      </ul>
    </div>
  </form>
</template>

<style>
.new-build {
  width: 100%;
  display: flex;
  gap: var(--gap-5);
  align-items: end;
  flex-wrap: wrap;
}
.new-build label {
  display: grid;
  gap: var(--gap-2);
  font-size: var(--t-3);
}
.new-build .plan-it {
  display: flex;
  align-items: center;
  min-height: 36px;
}
.new-build .dressed,
.new-build .trouble {
  width: 100%;
  font-size: var(--t-3);
}
</style>
