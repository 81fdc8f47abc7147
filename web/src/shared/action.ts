import { useMutation, useQueryClient, type QueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { hearChanges } from '@/api/client'

/** Subjects on which no figure of another rests: what changes in them is asked again alone. */
const APART = new Set(['notifications', 'views', 'tokens', 'thanks', 'errands', 'sheets', 'safe', 'health'])
const said = new Set<string>()
hearChanges((subjects) => subjects.forEach((one) => said.add(one)))

/**
 * Asks again for what an act changed. Figures rest on one another across subjects, so that whatever is shown is
 * asked again unless all that the server names stands apart from the rest.
 */
export async function refresh(queries: QueryClient): Promise<void> {
  const changed = [...said]
  said.clear()
  if (!changed.length || !changed.every((one) => APART.has(one))) return queries.invalidateQueries()
  for (const subject of [...changed, 'today']) await queries.invalidateQueries({ queryKey: [subject] })
}

/** One thing that a button does: busy while it runs, its problem kept, what it changed asked again. */
export function useAction<A extends unknown[], T>(
  work: (...args: A) => Promise<T>,
  // What is asked again afterwards: what the server says changed, unless a page must not lose what it shows.
  touched: string[][] | 'what changed' = 'what changed',
) {
  const queries = useQueryClient()
  const error = ref<unknown>(null)
  const mutation = useMutation({
    // The server may stand in a network without a way out; only its own answer says whether it is there.
    networkMode: 'always',
    mutationFn: (args: A) => work(...args),
    onSuccess: async () => {
      if (touched === 'what changed') return refresh(queries)
      for (const queryKey of touched) await queries.invalidateQueries({ queryKey })
    },
  })
  const busy = ref(false)
  async function go(...args: A): Promise<T | undefined> {
    if (busy.value) return undefined
    busy.value = true
    error.value = null
    try {
      return await mutation.mutateAsync(args)
    } catch (problem) {
      error.value = problem
      return undefined
    } finally {
      busy.value = false
    }
  }
  return { go, busy, error }
}
