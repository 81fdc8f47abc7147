import { useMutationObserver } from '@vueuse/core'
import { nextTick, ref, watch, watchEffect, type Ref } from 'vue'
import { useRoute } from 'vue-router'

/** The title of the window names what is open: the heading of the sheet, then its section. */
export function useHeading(sheet: Ref<HTMLElement | null>): void {
  const route = useRoute()
  const heading = ref('')
  const read = () => (heading.value = sheet.value?.querySelector('h1')?.textContent?.trim() ?? '')
  useMutationObserver(sheet, read, { childList: true, subtree: true, characterData: true })
  watchEffect(() => {
    const names = [heading.value, String(route.meta.section ?? ''), 'Tallyman'].filter(Boolean)
    document.title = [...new Set(names)].join(' · ')
  })
}

/** Who goes on by keys begins at the new page, not at the link that is gone. */
export function useFocusOnSheet(sheet: Ref<HTMLElement | null>): void {
  const route = useRoute()
  watch(
    () => route.path,
    () =>
      void nextTick(() => {
        if (!sheet.value?.contains(document.activeElement)) sheet.value?.focus({ preventScroll: true })
      }),
    { flush: 'post' },
  )
}
