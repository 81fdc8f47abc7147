import { nextTick, onMounted, watch } from 'vue'
import { useRoute } from 'vue-router'

/** Brings the field that the address names (`?field=`) into view and gives it the focus. */
export function useWantedField() {
  const route = useRoute()
  async function show() {
    const field = route.query.field
    if (typeof field !== 'string' || !/^[a-z_]+$/.test(field)) return
    await nextTick()
    const place = document.querySelector<HTMLElement>(`[data-field="${field}"]`)
    place?.scrollIntoView({ block: 'center' })
    const inner = place?.matches('button')
      ? place
      : place?.querySelector<HTMLElement>('input, select, button')
    inner?.focus({ preventScroll: true })
  }
  onMounted(show)
  watch(() => route.query.field, show)
  return show
}
