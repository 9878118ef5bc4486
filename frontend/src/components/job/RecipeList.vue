<script setup lang="ts">
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BLink } from 'bootstrap-vue-next/components/BLink'
import { computed, ref } from 'vue'
import { useRecipes } from '../../stores/recipes'
import TextField from '../fields/TextField.vue'

/** The recipes there are: renamed, written to a file, read from one, removed and brought back. */
const recipes = useRecipes()
void recipes.open()
const kept = computed(() => recipes.view?.recipes ?? [])
const here = computed(() => kept.value.filter((r) => !r.removed))
const removed = computed(() => kept.value.filter((r) => r.removed))
const round = ref(0)

async function read(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) await recipes.read(file)
  round.value += 1
}
</script>

<template>
  <details class="recipes" :open="recipes.made.length > 0">
    <summary>
      <h3>Recipes</h3>
      <span>{{ here.length ? `${here.length} kept for every job` : 'none yet: keep a build as a recipe' }}</span>
    </summary>
    <p v-if="recipes.problem" class="trouble" role="alert">{{ recipes.problem.message }}</p>
    <ul>
      <li v-for="r in here" :key="r.id" :class="{ made: recipes.made.includes(r.id) }">
        <TextField
          :model-value="r.label"
          :aria-label="`Name of recipe ${r.label}`"
          @change="recipes.rename(r.id, ($event.target as HTMLInputElement).value)"
        />
        <span
          >{{ r.units }} parts on {{ r.body
          }}{{
            r.unknown ? `; ${r.unknown} of its models ${r.unknown === 1 ? 'is' : 'are'} not on the shelf` : ''
          }}</span
        >
        <BLink class="btn btn-secondary" :href="`/api/recipes/${encodeURIComponent(r.id)}/file`" download
          >Save file</BLink
        >
        <BButton @click="recipes.remove(r.id, true)">Remove</BButton>
      </li>
      <li v-for="r in removed" :key="r.id" class="gone">
        {{ r.label }}: removed <BButton @click="recipes.remove(r.id, false)">Bring back</BButton>
      </li>
    </ul>
    <label class="read-recipes"
      >Read recipes from a file
      <input :key="round" type="file" class="form-control" accept=".json,application/json" @change="read" />
    </label>
  </details>
</template>

<style>
.recipes summary {
  display: flex;
  gap: var(--gap-7);
  align-items: baseline;
  cursor: pointer;
  padding: var(--gap-5) 0;
  font-size: var(--t-3);
  color: var(--ink-2);
}
.recipes h3 {
  font: 600 var(--t-4) var(--text);
  color: var(--ink);
}
.recipes li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-5);
  align-items: center;
  padding: var(--gap-2) 0;
  font-size: var(--t-3);
}
.recipes li input {
  max-width: 220px;
}
.recipes li.made input {
  border-color: var(--mark);
}
.recipes .gone {
  color: var(--ink-2);
}
.read-recipes {
  display: flex;
  gap: var(--gap-5);
  align-items: center;
  font-size: var(--t-3);
}
.read-recipes input {
  max-width: 320px;
}
</style>
