<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { computed, ref } from 'vue'
import { readPatterns } from '../../api'
import type { PatternsView, PatternView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import PatternForm from './PatternForm.vue'
import StarterShelf from './StarterShelf.vue'

/** Ways to new gear: a kind of thing and a few of its figures, the starter shelf, a file, or every field by hand. */
const emit = defineEmits<{ added: [units: string[], model: string]; close: []; byHand: []; csv: [] }>()
const { found, problem, load } = useLoad<PatternsView>()
const way = ref<'kinds' | 'pattern' | 'starter'>('kinds')
const pattern = ref<PatternView | null>(null)
void load(readPatterns)

const groups = computed(() => {
  const by = new Map<string, PatternView[]>()
  for (const p of found.value?.patterns ?? []) by.set(p.group, [...(by.get(p.group) ?? []), p])
  return [...by]
})

function choose(chosen: PatternView): void {
  pattern.value = chosen
  way.value = 'pattern'
}
function added(units: string[], model: string): void {
  void load(readPatterns)
  emit('added', units, model)
}
</script>

<template>
  <PatternForm
    v-if="way === 'pattern' && pattern && found"
    :pattern="pattern"
    :models="found.bodies"
    @added="added"
    @back="way = 'kinds'"
  />
  <StarterShelf v-else-if="way === 'starter'" @added="(units) => added(units, '')" @back="way = 'kinds'" />
  <section v-else class="kinds-of-gear" aria-label="Add gear">
    <header>
      <h2>Add gear</h2>
      <BButton @click="emit('close')">Close</BButton>
    </header>
    <p v-if="problem" class="trouble" role="alert">{{ problem.message }}</p>
    <p class="quiet">Choose what it is. A few figures make the whole model: outline, ports, power, balance.</p>
    <div class="kind-list">
      <div class="kind-groups">
        <section v-for="[group, patterns] in groups" :key="group" :aria-label="group">
          <h3>{{ group }}</h3>
          <button v-for="p in patterns" :key="p.id" type="button" @click="choose(p)">
            {{ p.label }} <small aria-hidden="true">{{ p.questions.filter((q) => !q.more).length }} questions</small>
          </button>
        </section>
      </div>
    </div>
    <footer>
      <BButton variant="primary" @click="way = 'starter'">Starter shelf: generic gear, no typing</BButton>
      <BButton @click="emit('csv')">Read a CSV</BButton>
      <BButton @click="emit('byHand')">Every field by hand</BButton>
    </footer>
  </section>
</template>

<style>
.kinds-of-gear {
  display: flex;
  flex-direction: column;
  height: 100%;
  min-height: 0;
}
.kind-list {
  overflow-y: auto;
  flex: 1;
}
.kind-groups {
  columns: 3 240px;
  column-gap: var(--gap-9);
  padding: 0 var(--gap-7);
}
.kind-groups section {
  break-inside: avoid-column;
}
.kind-groups small {
  white-space: nowrap;
}
.kind-groups h3 {
  padding: var(--gap-6) 0 var(--gap-2);
}
.kind-groups button {
  display: flex;
  width: 100%;
  justify-content: space-between;
  align-items: baseline;
  padding: var(--gap-4) 0;
  border-bottom: 1px solid var(--rule-2);
  text-align: left;
}
.kind-groups button:hover {
  background: var(--lift);
}
.kind-groups small {
  color: var(--ink-2);
}
.kinds-of-gear footer {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-5);
  padding: var(--gap-6) var(--gap-7);
  border-top: 1px solid var(--rule);
}
@media (max-width: 760px) {
  .kind-groups button {
    padding: var(--gap-6) 0;
  }
  .kinds-of-gear footer .btn {
    min-height: 44px;
  }
}
</style>
