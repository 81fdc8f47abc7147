import { computed, onUnmounted, reactive, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Working } from '@/api/client'

const known = reactive(new Map<string, Working>())

/** The figure selected by the address, and its working if a figure on the page has it. */
export function useSelected() {
  const route = useRoute()
  const router = useRouter()
  const key = computed(() => (typeof route.query.figure === 'string' ? route.query.figure : null))
  const working = computed(() => (key.value ? known.get(key.value) : undefined))
  function select(name: string | null) {
    const query = { ...route.query }
    delete query.figure
    if (name && name !== key.value) query.figure = name
    void router.replace({ query })
  }
  return { key, working, select }
}

/** Offers the working of a figure for as long as the figure stands on the page. */
export function useOffer(name: () => string, working: () => Working | null | undefined) {
  let mine: string | null = null
  watchEffect(() => {
    const found = working()
    if (mine !== null && mine !== name()) known.delete(mine)
    mine = name()
    if (found) known.set(mine, found)
    else known.delete(mine)
  })
  onUnmounted(() => mine !== null && known.delete(mine))
}
