import { shallowRef } from 'vue'
import type { LocationQuery, Router } from 'vue-router'
import { unsaved, type Unsaved } from '@/shared/unsaved'

/** What would be left behind, while its writer is asked. */
export const asked = shallowRef<Unsaved[]>([])
let settle: ((leaves: boolean) => void) | undefined

/** The writer's answer: whether the page is left. */
export function answer(leaves: boolean): void {
  asked.value = []
  settle?.(leaves)
  settle = undefined
}

function wantsToLeave(open: Unsaved[]): Promise<boolean> {
  settle?.(false)
  asked.value = open
  return new Promise((settled) => (settle = settled))
}

// What in an address says which sheet of a page is open; all else only narrows what is shown.
const SHEETS = ['sheet', 'mine', 'map', 'of']
const staysOn = (to: LocationQuery, from: LocationQuery): boolean =>
  SHEETS.every((name) => String(to[name] ?? '') === String(from[name] ?? ''))

/** Asks before a page or sheet is left with unsaved words on it, by a link, by going back, or by closing. */
export function watchLeaving(router: Router): void {
  router.beforeEach((to, from) => {
    if (to.path === from.path && staysOn(to.query, from.query)) return true
    // Whoever has to sign in again is led there at once; drafts wait until they are back.
    if (to.meta.open) return true
    const open = unsaved()
    return open.length ? wantsToLeave(open) : true
  })
  window.addEventListener('beforeunload', (event) => {
    if (unsaved().length) event.preventDefault()
  })
}
