import { computed, onUnmounted, reactive, watchEffect } from 'vue'

// What stands in the margin now and is more than help: history, a working, something to do.
const held = reactive(new Set<symbol>())

/** Whether anything on the page gives the margin a reason to be open. */
export const marginHolds = computed(() => held.size > 0)

/** Says, for as long as the part stands on the page, that the margin holds more than help. */
export function useHolds(holds: () => boolean): void {
  const mine = Symbol('note')
  watchEffect(() => (holds() ? held.add(mine) : held.delete(mine)))
  onUnmounted(() => held.delete(mine))
}
