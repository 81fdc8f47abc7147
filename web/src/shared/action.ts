import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

/** One thing that a button does: busy while it runs, its problem kept, what was shown asked again. */
export function useAction<A extends unknown[], T>(
  work: (...args: A) => Promise<T>,
  // What is asked again afterwards: everything, unless a page must not lose what it shows.
  touched: string[][] | 'everything' = 'everything',
) {
  const queries = useQueryClient()
  const busy = ref(false)
  const error = ref<unknown>(null)
  async function go(...args: A): Promise<T | undefined> {
    if (busy.value) return undefined
    busy.value = true
    error.value = null
    try {
      const result = await work(...args)
      if (touched === 'everything') await queries.invalidateQueries()
      else for (const queryKey of touched) await queries.invalidateQueries({ queryKey })
      return result
    } catch (problem) {
      error.value = problem
      return undefined
    } finally {
      busy.value = false
    }
  }
  return { go, busy, error }
}
