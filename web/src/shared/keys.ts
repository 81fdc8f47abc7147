import { useEventListener } from '@vueuse/core'
import { computed, onScopeDispose, shallowReactive } from 'vue'

/** One key that acts while nothing is typed: what it does in words, and whether it does so now. */
export interface Key {
  key: string
  words: string
  act: () => void
  when?: () => boolean
}
const sets = shallowReactive(new Set<Key[]>())

/** The keys of what stands on the page, the latest first. */
export const keysHere = computed(() => [...sets].reverse().flat())

/** Gives keys to the page for as long as the part stands on it. */
export function useKeys(keys: Key[]): void {
  sets.add(keys)
  onScopeDispose(() => sets.delete(keys))
}

const TYPING = 'input, textarea, select, [contenteditable="true"], [role="dialog"] *'

/** Listens for the keys of the page; whoever types, or holds another key, is left alone. */
export function listenForKeys(): void {
  useEventListener(document, 'keydown', (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
    if (event.target instanceof Element && event.target.matches(TYPING)) return
    const found = keysHere.value.find((one) => one.key === event.key && (one.when?.() ?? true))
    if (!found) return
    event.preventDefault()
    found.act()
  })
}
