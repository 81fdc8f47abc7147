import { computed, onMounted, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, newKey } from '@/api/client'
import { useAction } from '@/shared/action'

/** Makes the draft when an interview is opened without one; gives the act, for what went wrong with it. */
export function useBegun(id: Ref<number>) {
  const route = useRoute()
  const router = useRouter()
  // An amendment says what it wants changed from the first click on.
  const amends = computed(() => Number(route.query.amends) || null)
  // The draft is made when the interview is opened, once per visit, so that every answer has a home.
  const begun = useAction(async (key: string) =>
    ask(
      api.POST('/api/v1/ideas', {
        params: { header: { 'idempotency-key': key } },
        body: { interview: 'full', amends: amends.value },
      }),
    ),
  )
  onMounted(async () => {
    if (id.value) return
    const made = await begun.go(newKey())
    if (made) await router.replace(`/ideas/new/${made.id}`)
  })
  return begun
}
