import { useQuery } from '@tanstack/vue-query'
import { computed, type MaybeRefOrGetter, toValue } from 'vue'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'

/** The areas that the reader may see; `enabled`: whether they are asked for. */
export function useAreas(enabled: MaybeRefOrGetter<boolean> = true) {
  const { may } = useMe()
  const query = useQuery({
    queryKey: ['areas', 'tree'],
    queryFn: () => ask(api.GET('/api/v1/areas')),
    enabled: () => may('area.see') && toValue(enabled),
  })
  return { query, areas: computed(() => query.data.value?.areas ?? []) }
}
