import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, watchEffect } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { writeAs } from '@/shared/format'
import { carryOutAll } from '@/shared/undo'

export type Me = Schemas['Me']

/** The signed-in person; every page shares one query. */
export function useMe() {
  const query = useQuery({
    queryKey: ['notifications', 'me'],
    queryFn: () => ask(api.GET('/api/v1/me')),
    staleTime: 60_000,
  })
  const me = computed<Me | undefined>(() => query.data.value)
  watchEffect(() => me.value && writeAs(me.value.locale))
  const may = (permission: string): boolean => me.value?.permissions.includes(permission) ?? false
  // Whether it holds for the whole company, as what belongs to no area asks for.
  const everywhere = (permission: string): boolean => me.value?.everywhere.includes(permission) ?? false
  const zone = computed(() => me.value?.zone ?? 'UTC')
  const currency = computed(() => me.value?.currency ?? 'EUR')
  return { me, may, everywhere, zone, currency }
}

/** Signs out and forgets everything that was shown. */
export function useSignOut() {
  const queries = useQueryClient()
  return async () => {
    await carryOutAll()
    const { leave } = await ask(api.DELETE('/api/v1/session'))
    queries.clear()
    // After single sign-on the provider is told as well; it leads back here.
    location.assign(leave ?? '/sign-in')
  }
}
