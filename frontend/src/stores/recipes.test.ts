import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import * as api from '../api'
import { Problem } from '../api/client'
import { useRecipes } from './recipes'

vi.mock('../api')
const server = vi.mocked(api)
const view = (made: string[] = []) => ({ recipes: [], made }) as never

beforeEach(() => {
  setActivePinia(createPinia())
  vi.resetAllMocks()
})

describe('recipes', () => {
  it('keep what was made in sight while others are renamed', async () => {
    server.keepRecipe.mockResolvedValueOnce(view(['long-lens']))
    server.changeRecipe.mockResolvedValueOnce(view())
    const recipes = useRecipes()
    expect(await recipes.keep('boats', 'quay-full', 'Long lens')).toBe(true)
    expect(await recipes.rename('long-lens', 'Quay')).toBe(true)
    expect(recipes.made).toEqual(['long-lens'])
  })
  it('say what is wrong with a file, whether it is no JSON or refused', async () => {
    const recipes = useRecipes()
    expect(await recipes.read(new File(['no'], 'x.json'))).toBe(false)
    expect(recipes.problem?.message).toContain('not JSON')
    server.importRecipes.mockRejectedValueOnce(new Problem(422, 'No', 'models says nothing of it', 'request.bad'))
    expect(await recipes.read(new File(['{"recipes": []}'], 'x.json'))).toBe(false)
    expect(recipes.problem?.message).toBe('models says nothing of it')
  })
})
