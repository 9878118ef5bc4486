<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { computed, ref, shallowRef } from 'vue'
import { addStarter, readStarter } from '../../api'
import type { Problem } from '../../api/client'
import type { Question, StarterLine, StarterView } from '../../api/schema.gen'
import { useLoad } from '../../composables/useLoad'
import { counted, grams } from '../../lib/format'
import type { Answer } from '../../lib/patterns'
import { useShelf } from '../../stores/shelf'
import QuestionField from './QuestionField.vue'

/** Generic gear in open standards: say how many of each, and add them all at once. */
const emit = defineEmits<{ added: [units: string[]]; back: [] }>()
const shelf = useShelf()
const { found, problem: unread, load } = useLoad<StarterView>()
const counts = ref<Record<string, number>>({})
const mount = shallowRef<Answer>('')
const MOUNT: Question = {
  key: 'mount',
  label: 'Lens mount of bodies and lenses',
  kind: 'interface',
  families: ['lens'],
}
const words = ref('')
const refused = shallowRef<Problem | null>(null)
void load(readStarter)

const groups = computed(() => {
  const wanted = words.value.toLowerCase().split(/\s+/).filter(Boolean)
  const by = new Map<string, StarterLine[]>()
  for (const item of found.value?.items ?? []) {
    const text = `${item.name} ${item.group}`.toLowerCase()
    if (wanted.every((w) => text.includes(w))) by.set(item.group, [...(by.get(item.group) ?? []), item])
  }
  return [...by]
})
const ticked = computed(() => Object.entries(counts.value).filter(([, n]) => n > 0))
const total = computed(() => ticked.value.reduce((sum, [, n]) => sum + n, 0))
const needsMount = computed(() =>
  (found.value?.items ?? []).some((i) => i.wants_mount && (counts.value[i.id] ?? 0) > 0),
)

function step(id: string, by: number): void {
  counts.value[id] = Math.max(0, Math.min(50, (counts.value[id] ?? 0) + by))
}

async function add(): Promise<void> {
  try {
    const items = ticked.value.map(([id, count]) => ({ id, count }))
    const { units } = await addStarter({ items, mount: mount.value as string, owner: 'owned' })
    shelf.interfaces = null
    await shelf.learnInterfaces()
    counts.value = {}
    emit('added', units)
  } catch (error) {
    refused.value = error as Problem
  }
}
</script>

<template>
  <section class="starter" aria-label="Starter shelf">
    <header>
      <h2>Starter shelf</h2>
      <BButton @click="emit('back')">All kinds</BButton>
    </header>
    <p class="quiet">
      Generic gear in open standards. Every figure is assumed; voltages, currents and ratings are unconfirmed until you
      confirm them on the thing itself.
    </p>
    <div class="starter-acts">
      <BFormInput v-model="words" type="search" aria-label="Filter the starter shelf" placeholder="filter" />
      <QuestionField
        v-if="needsMount"
        v-model="mount"
        :question="MOUNT"
        path="mount"
        :models="[]"
        :problems="refused?.places ?? []"
      />
      <BButton variant="primary" :disabled="!total" @click="add">
        {{ total ? `Add ${counted(total, 'unit')}` : 'Choose how many of each' }}
      </BButton>
    </div>
    <p v-if="refused ?? unread" class="trouble" role="alert">{{ (refused ?? unread)?.message }}</p>
    <div class="starter-list">
      <div class="starter-groups">
        <section v-for="[group, items] in groups" :key="group" :aria-label="group">
          <h3>{{ group }}</h3>
          <ul>
            <li v-for="i in items" :key="i.id" :class="{ wanted: counts[i.id] }">
              <button type="button" class="name" @click="step(i.id, 1)">{{ i.name }}</button>
              <small>{{ i.mass_g === null ? '?' : grams(i.mass_g) }} g</small>
              <small v-if="i.units" class="have">{{ i.units }} in stock</small>
              <span class="stepper">
                <BButton :disabled="!counts[i.id]" :aria-label="`One ${i.name} less`" @click="step(i.id, -1)"
                  >−</BButton
                >
                <b>{{ counts[i.id] ?? 0 }}</b>
                <BButton :aria-label="`One ${i.name} more`" @click="step(i.id, 1)">+</BButton>
              </span>
            </li>
          </ul>
        </section>
      </div>
    </div>
  </section>
</template>

<style>
.starter {
  display: flex;
  flex-direction: column;
  min-height: 0;
  height: 100%;
}
.starter-acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-6);
  align-items: center;
  padding: 0 var(--gap-7) var(--gap-5);
}
.starter-acts .form-control {
  max-width: 200px;
}
.starter-acts label {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
  font-size: var(--t-3);
}
.starter-list {
  overflow-y: auto;
  scrollbar-width: thin;
}
.starter-groups {
  columns: 340px;
  column-gap: var(--gap-9);
  padding: 0 var(--gap-7) var(--gap-9);
}
.starter-groups section {
  break-inside: avoid-column;
}
.starter-groups h3 {
  padding: var(--gap-6) 0 var(--gap-2);
}
.starter-groups li {
  display: flex;
  gap: var(--gap-5);
  align-items: center;
  border-bottom: 1px solid var(--rule-2);
  min-height: 32px;
}
.starter-groups li.wanted {
  background: var(--mark-wash);
}
.starter-groups .name {
  flex: 1;
  text-align: left;
}
.starter-groups small {
  color: var(--ink-2);
}
.stepper {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
}
.stepper b {
  min-width: 2ch;
  text-align: center;
  font: 600 var(--t-4) var(--figures);
}
@media (max-width: 760px) {
  .starter-groups {
    columns: auto;
  }
  .starter-groups .btn {
    min-height: 42px;
    min-width: 42px;
  }
}
</style>
