import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

/** One thing that a button does: busy while it runs, its problem kept, what was shown asked again. */
export function useAction<A extends unknown[], T>(work: (...args: A) => Promise<T>) {
  const queries = useQueryClient()
  const busy = ref(false)
  const error = ref<unknown>(null)
  async function go(...args: A): Promise<T | undefined> {
    if (busy.value) return undefined
    busy.value = true
    error.value = null
    try {
      const result = await work(...args)
      await queries.invalidateQueries()
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
