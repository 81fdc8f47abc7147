import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { isPending } from '@/shared/undo'

type Waiting = Schemas['Waiting']
type Current = Pick<Waiting, 'id' | 'due'>

/** Whether one waiting idea stands before another: the first due first, those without a day last, then the older. */
export function before(one: Current, other: Current): boolean {
  const [mine, theirs] = [one.due ?? '9999-99-99', other.due ?? '9999-99-99']
  return mine === theirs ? one.id < other.id : mine < theirs
}

/** The next in the queue after the current one, or the one before it, in a round: so every one is reached. */
export function neighbour(rows: readonly Waiting[], current: Current, way: 1 | -1): Waiting | undefined {
  const others = rows.filter((one) => one.id !== current.id)
  if (way === 1) return others.find((one) => before(current, one)) ?? others[0]
  return others.findLast((one) => before(one, current)) ?? others.at(-1)
}

/** The queue of ideas that wait for a review, and where the current one stands in it. */
export function useReviewQueue(current: () => Current) {
  const router = useRouter()
  const query = useQuery({
    queryKey: ['ideas', 'reviews'],
    queryFn: () => ask(api.GET('/api/v1/reviews')),
  })
  // What was decided a moment ago and can still be taken back waits no more.
  const rows = computed(() => (query.data.value?.rows ?? []).filter((one) => !isPending(`/ideas/${one.id}`)))
  const place = computed(() => {
    const at = rows.value.findIndex((one) => one.id === current().id)
    const of = rows.value.length + (query.data.value?.more ?? 0)
    return at < 0 ? null : { at: at + 1, of }
  })
  async function go(way: 1 | -1) {
    if (!query.data.value) await query.refetch()
    const next = neighbour(rows.value, current(), way)
    await router.push(next ? { path: `/ideas/${next.id}`, query: { review: 'next' } } : '/')
  }
  return { place, go }
}
