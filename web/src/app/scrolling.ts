import { useDebounceFn, useMediaQuery, useMutationObserver } from '@vueuse/core'
import { watch, type Ref } from 'vue'

const SETTLES = 200

/** On a phone a wide table scrolls within itself: whoever uses keys reaches it, and scrolls it by the arrows. */
export function reachable(page: HTMLElement): void {
  for (const table of page.querySelectorAll<HTMLElement>('table.ledger')) {
    if (table.scrollWidth > table.clientWidth + 1) table.tabIndex = 0
    else table.removeAttribute('tabindex')
  }
}

/** Keeps it so, whatever is drawn on the page. */
export function useReachableTables(page: Ref<HTMLElement | null>): void {
  const narrow = useMediaQuery('(max-width: 700px)')
  const look = useDebounceFn(() => page.value && narrow.value && reachable(page.value), SETTLES)
  useMutationObserver(page, () => void look(), { childList: true, subtree: true })
  watch([page, narrow], () => void look(), { immediate: true })
}
