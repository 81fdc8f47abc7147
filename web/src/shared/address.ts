import { computed, nextTick, watch, type WritableComputedRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/** One part of the address, so that a link shows a colleague the same thing; empty words take it out. */
export function useAddress(name: string): WritableComputedRef<string> {
  const route = useRoute()
  const router = useRouter()
  return computed({
    get: () => (typeof route.query[name] === 'string' ? route.query[name] : ''),
    set: (now) => void router.replace({ query: { ...route.query, [name]: now || undefined } }),
  })
}

/** A whole number in the address, or null. */
export function useAddressed(name: string): WritableComputedRef<number | null> {
  const text = useAddress(name)
  return computed({
    get: () => (/^\d{1,15}$/.test(text.value) ? Number(text.value) : null),
    set: (now) => (text.value = now === null ? '' : String(now)),
  })
}

/** Brings the row into sight that the address names and the page marks with `data-spot`, once it is there. */
export function useSpot(there: () => boolean): void {
  watch(
    there,
    (now) =>
      now &&
      void nextTick(() => document.querySelector('[data-spot="true"]')?.scrollIntoView({ block: 'center' })),
    { immediate: true },
  )
}
