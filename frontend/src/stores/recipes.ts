import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { changeRecipe, importRecipes, keepRecipe, readRecipes } from '../api'
import { Problem } from '../api/client'
import type { RecipesFile, RecipesView } from '../api/schema.gen'
import { useLoad } from '../composables/useLoad'

/** Recipes: builds by models, kept for every job here. */
export const useRecipes = defineStore('recipes', () => {
  const { found: view, problem, load, show } = useLoad<RecipesView>()
  /** What was kept or read in last. */
  const made = shallowRef<readonly string[]>([])

  const open = (): Promise<unknown> => load(readRecipes)
  async function change(make: () => Promise<RecipesView>): Promise<boolean> {
    try {
      const found = await make()
      if (found.made?.length) made.value = found.made
      show(found)
      return true
    } catch (error) {
      problem.value =
        error instanceof Problem
          ? error
          : new Problem(
              422,
              'Not read',
              'This file is no recipe: it is not JSON. Choose one that was saved here.',
              'recipe.file',
            )
      return false
    }
  }
  const keep = (job: string, build: string, label: string): Promise<boolean> =>
    change(() => keepRecipe(job, build, label))
  const rename = (recipe: string, label: string): Promise<boolean> => change(() => changeRecipe(recipe, { label }))
  const remove = (recipe: string, removed: boolean): Promise<boolean> => change(() => changeRecipe(recipe, { removed }))
  async function read(file: File): Promise<boolean> {
    return change(async () => importRecipes(JSON.parse(await file.text()) as RecipesFile))
  }

  return { view, problem, made, open, keep, rename, remove, read }
})
