import { nextTick, onBeforeUnmount, onMounted } from 'vue'

const FIELD = 'input:not([type="hidden"]):not([disabled]), textarea:not([disabled])'

/**
 * The eye and the keys go together: a form that was opened has the focus in its first field, and once it closes the
 * focus is back where it was opened, or at the sheet if that is gone.
 */
export function useFocusOf(place: () => HTMLElement | null | undefined, opened: boolean): void {
  const opener = document.activeElement
  onMounted(() => {
    // The parts of a field begin to listen once it was mounted, and show the focus from then on.
    if (opened) void nextTick(() => taken(opener) || place()?.querySelector<HTMLElement>(FIELD)?.focus())
  })
  onBeforeUnmount(() => {
    if (!opened) return
    const back = opener instanceof HTMLElement && opener !== document.body ? opener : null
    // Only where nothing else took it meanwhile: the focus of what is gone, or waits, is the page's as a whole.
    setTimeout(() => {
      if (document.activeElement !== document.body) return
      const to = back?.isConnected ? back : sheet()
      to?.focus({ preventScroll: true })
    })
  })
}

/** Of two forms that open together the first has the focus. */
function taken(opener: Element | null): boolean {
  const now = document.activeElement
  return now !== opener && now !== document.body
}

/**
 * Gives something the focus for whoever was led to it: it is seen to have it, also where the browser would not show
 * that because of what had the focus before.
 */
export function giveFocus(one: HTMLElement | undefined): void {
  if (!one) return
  one.classList.add('given-focus')
  one.addEventListener('blur', () => one.classList.remove('given-focus'), { once: true })
  one.focus()
}

/** Where a page begins. */
export function sheet(): HTMLElement | null {
  return document.getElementById('sheet')
}
