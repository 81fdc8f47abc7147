import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, toValue, type MaybeRefOrGetter } from 'vue'
import { api, ask } from '@/api/client'

const SETTLES = 200

/**
 * Who can be picked: the first by name, or whom the typed `words` fit, and those of `keep` whatever they are called.
 * `more`: there are others, whom words find.
 */
export function usePeople(keep: MaybeRefOrGetter<readonly (number | null | undefined)[]> = []) {
  const words = ref('')
  const typed = refDebounced(words, SETTLES)
  const kept = computed(() => toValue(keep).filter((one): one is number => typeof one === 'number'))
  const query = useQuery({
    queryKey: ['people', 'directory', typed, kept],
    queryFn: () =>
      ask(api.GET('/api/v1/people', { params: { query: { text: typed.value.trim(), keep: kept.value } } })),
    staleTime: 60_000,
    placeholderData: keepPreviousData,
  })
  const people = computed(() => query.data.value?.people ?? [])
  const nameOf = (id: unknown): string | undefined => people.value.find((one) => one.id === id)?.name
  return {
    words,
    people,
    more: computed(() => query.data.value?.more ?? false),
    nameOf,
    refetch: query.refetch,
  }
}
