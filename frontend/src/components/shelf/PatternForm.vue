<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import { addByPattern, previewPattern } from '../../api'
import type { Problem } from '../../api/client'
import type { ModelChoice, PatternPreview, PatternView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { counted, grams } from '../../lib/format'
import { given, type Answer, type Answers } from '../../lib/patterns'
import { useShelf } from '../../stores/shelf'
import ElevationPanel from '../bench/ElevationPanel.vue'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'
import PatternCsv from './PatternCsv.vue'
import QuestionField from './QuestionField.vue'

/** A model of one kind from a few figures, drawn while they are typed, and the units that there are of it. */
const props = defineProps<{ pattern: PatternView; models: readonly ModelChoice[] }>()
const emit = defineEmits<{ added: [units: string[], model: string]; back: [] }>()
const shelf = useShelf()
const answers = ref<Answers>({})
const touched = ref(new Set<string>())
const tried = ref(false)
const more = ref(false)
const label = ref('')
const count = ref(1)
const owner = ref<'owned' | 'hired'>('owned')
const refused = shallowRef<Problem | null>(null)
const form = ref<HTMLElement | null>(null)
const { found: preview, problem: unread, load } = useLoad<PatternPreview>()

const look = useDebounceFn(
  () => load(() => previewPattern(props.pattern.id, { name: '…', ...given(answers.value) } as never)),
  150,
)
watch(
  () => props.pattern.id,
  async () => {
    answers.value = {}
    touched.value = new Set()
    tried.value = more.value = false
    refused.value = null
    label.value = `${props.pattern.id.split(' ').pop()?.toUpperCase() ?? 'UNIT'}-`
    void look()
    await nextTick()
    form.value?.querySelector<HTMLElement>('input, select')?.focus()
  },
  { immediate: true },
)

function set(key: string, value: Answer): void {
  answers.value = { ...answers.value, [key]: value }
  touched.value.add(key)
  refused.value = null
  void look()
}

const first = computed(() => props.pattern.questions.filter((q) => !q.more))
const rest = computed(() => props.pattern.questions.filter((q) => q.more))
/** Errors stand at what was touched; at everything once somebody tried to add it. */
const problems = computed(() =>
  [...(preview.value?.problems ?? []), ...(refused.value?.places ?? [])].filter(
    (p) => tried.value || touched.value.has(p.path.split('.')[0] ?? ''),
  ),
)
const doubts = computed(() => preview.value?.doubts ?? [])
const sure = computed(() => refused.value?.code === 'gear.doubted')

async function add(): Promise<void> {
  tried.value = true
  try {
    const made = await addByPattern(props.pattern.id, {
      answers: given(answers.value),
      label: label.value,
      count: count.value,
      owner: owner.value,
      sure: sure.value,
    })
    shelf.interfaces = null
    await shelf.learnInterfaces()
    emit('added', made.units, made.model)
  } catch (error) {
    refused.value = error as Problem
    more.value = more.value || rest.value.some((q) => refused.value?.places.some((p) => p.path.startsWith(q.key)))
    await nextTick()
    form.value?.querySelector<HTMLElement>('.wrong input, .wrong select')?.focus()
  }
}
</script>

<template>
  <section class="pattern-form" :aria-label="`New gear: ${pattern.label}`">
    <header>
      <h2>{{ pattern.label }}</h2>
      <BButton @click="emit('back')">All kinds</BButton>
    </header>
    <form ref="form" class="questions" novalidate @submit.prevent="add">
      <p class="quiet wide">
        Leave out what you do not know. The grey figure is used then and marked assumed. Voltages, currents and ratings
        are never assumed.
      </p>
      <QuestionField
        v-for="q in first"
        :key="q.key"
        :question="q"
        :path="q.key"
        :models="models"
        :problems="problems"
        :model-value="answers[q.key]"
        @update:model-value="set(q.key, $event)"
      />
      <div class="wide">
        <BButton :aria-expanded="more" @click="more = !more">
          {{ more ? 'Fewer questions' : `More: ${rest.length} questions` }}
        </BButton>
      </div>
      <template v-if="more">
        <QuestionField
          v-for="q in rest"
          :key="q.key"
          :question="q"
          :path="q.key"
          :models="models"
          :problems="problems"
          :model-value="answers[q.key]"
          @update:model-value="set(q.key, $event)"
        />
      </template>
      <fieldset class="how-many wide">
        <legend>Units in stock</legend>
        <label>How many <NumberField v-model="count" min="1" max="200" step="1" /></label>
        <label>Label <TextField v-model="label" maxlength="100" /></label>
        <label
          >Owner
          <ChoiceField
            v-model="owner"
            :choices="[
              { value: 'owned', text: 'own' },
              { value: 'hired', text: 'hired' },
            ]"
        /></label>
        <small
          >A label that ends in a hyphen takes the next free numbers. Without a label only the model is added.</small
        >
      </fieldset>
      <details class="wide">
        <summary>Many of these at once</summary>
        <PatternCsv :pattern="pattern.id" @added="emit('added', [], '')" />
      </details>
      <p v-if="refused && !refused.places.length" class="trouble wide" role="alert">{{ refused.message }}</p>
      <div class="act wide">
        <BButton type="submit" variant="primary">{{ sure ? 'Add it as it is' : 'Add to the shelf' }}</BButton>
        <span v-if="sure" role="alert" class="watch">Check once more: {{ refused?.message }}</span>
      </div>
    </form>
    <aside class="pattern-drawing" aria-label="What it makes">
      <template v-if="preview?.drawn">
        <div class="lone">
          <ElevationPanel
            v-for="e in preview.drawn.elevations"
            :key="e.view"
            :drawing="e"
            :selected="preview.model?.id ?? ''"
            :slides="{}"
            :flagged="{}"
            :dimensions="true"
          />
        </div>
        <p class="weighs">
          <b>{{ preview.model?.mass_g == null ? '?' : grams(preview.model.mass_g) }}</b> g
          <span v-if="preview.model?.mass_source === 'assumed'">assumed</span>
          <span>{{ counted(preview.model?.ports?.length ?? 0, 'port') }}</span>
        </p>
        <p v-for="d in doubts" :key="d.message" class="doubt">Check: {{ d.message }}</p>
        <p v-if="preview.interfaces.length" class="quiet">
          New: {{ preview.interfaces.map((i) => i.label).join(', ') }}
        </p>
      </template>
      <p v-else-if="unread" class="trouble">{{ unread.message }}</p>
      <div v-else class="quiet still">
        <p>Drawn as soon as these are there:</p>
        <ul>
          <li v-for="p in preview?.problems ?? []" :key="p.path + p.message">{{ p.message }}</li>
        </ul>
      </div>
    </aside>
  </section>
</template>

<style>
.pattern-form {
  display: grid;
  grid-template: auto 1fr / minmax(0, 1fr) minmax(300px, 400px);
  min-height: 0;
  height: 100%;
}
.pattern-form > header {
  grid-column: 1 / -1;
}
.questions {
  overflow-y: auto;
  scrollbar-width: thin;
  padding: var(--gap-6) var(--gap-8) var(--gap-9);
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: var(--gap-5) var(--gap-7);
  align-content: start;
  align-items: end;
}
.questions .wide {
  grid-column: 1 / -1;
}
.questions > .quiet {
  padding: 0;
}
.how-many {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-5);
  align-items: end;
  border-top: 1px solid var(--rule);
  padding-top: var(--gap-4);
}
.how-many legend {
  font: 600 var(--t-3) var(--text);
  float: none;
}
.how-many label {
  display: grid;
  font-size: var(--t-2);
  color: var(--ink-2);
  max-width: 130px;
}
.how-many .form-control {
  width: 100%;
}
.how-many small {
  flex: 1 1 200px;
  color: var(--ink-2);
}
.questions .act {
  display: flex;
  gap: var(--gap-6);
  align-items: center;
}
.pattern-drawing {
  border-left: 1px solid var(--rule);
  overflow-y: auto;
}
.pattern-drawing .still ul {
  padding-left: 1.2em;
  list-style: disc;
}
.weighs {
  padding: var(--gap-4) var(--gap-7);
  display: flex;
  gap: var(--gap-6);
  align-items: baseline;
}
.weighs b {
  font: 600 var(--t-7) var(--figures);
}
.weighs span {
  color: var(--ink-2);
}
.doubt {
  padding: 0 var(--gap-7);
  color: var(--watch);
}
@media (max-width: 900px) {
  .pattern-form {
    display: block;
    height: auto;
  }
  .pattern-drawing {
    border: 0;
    border-top: 1px solid var(--rule);
  }
  .questions .form-control,
  .questions .form-select,
  .questions .btn {
    min-height: 42px;
  }
  .questions {
    grid-template-columns: repeat(auto-fill, minmax(130px, 1fr));
    padding: var(--gap-5);
  }
}
</style>
