import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'

/** Everybody who can be picked, and what they are called; every field that asks for a person shares it. */
export function usePeople() {
  const query = useQuery({
    queryKey: ['people', 'directory'],
    queryFn: () => ask(api.GET('/api/v1/people')),
    staleTime: 60_000,
  })
  const people = computed(() => query.data.value ?? [])
  const nameOf = (id: unknown): string | undefined => people.value.find((one) => one.id === id)?.name
  return { people, nameOf, refetch: query.refetch }
}
