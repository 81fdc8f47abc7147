import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'

const ON = ['waiting', 'running']

/** Whether long work is still going on. */
export function goesOn(state: string | undefined): boolean {
  return ON.includes(state ?? '')
}

/** Some long work of one's own, asked after while it goes on; nothing while there is no number. */
export function useErrand(number: Ref<number | null>) {
  const query = useQuery({
    queryKey: ['errands', number],
    enabled: () => number.value !== null,
    queryFn: () =>
      ask(api.GET('/api/v1/errands/{number}', { params: { path: { number: number.value ?? 0 } } })),
    refetchInterval: (state) => (goesOn(state.state.data?.state) ? 700 : false),
  })
  const errand = computed<Schemas['ErrandOut'] | undefined>(() =>
    number.value === null ? undefined : query.data.value,
  )
  return { errand, error: query.error }
}
