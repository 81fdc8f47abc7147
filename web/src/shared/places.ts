import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask, type Schemas } from '@/api/client'

export type Place = Schemas['PlaceOut']

/** The sections and the house rules that the reader may open, as the server knows them. */
export function usePlaces() {
  const query = useQuery({
    queryKey: ['notifications', 'places'],
    queryFn: () => ask(api.GET('/api/v1/places')),
    staleTime: 60_000,
  })
  const sections = computed<Place[]>(() => query.data.value?.sections ?? [])
  const rules = computed<Place[]>(() => query.data.value?.rules ?? [])
  return { sections, rules }
}
