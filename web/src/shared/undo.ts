import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, shallowReactive } from 'vue'
import { ProblemError } from '@/api/client'

/** Something somebody just did, which is carried out in a moment unless they take it back. */
export interface Doing {
  words: string
  /** When it is carried out, in milliseconds since 1970. */
  at: number
  /** What it is about, so that what is pending can be passed over elsewhere. */
  about: string
}
/** How the browser is asked to send it: so that it outlives the page, if that is closed. */
export type Last = Pick<RequestInit, 'keepalive'>
interface Pending extends Doing {
  act: (init: Last) => Promise<unknown>
  after?: () => unknown
  back?: () => void
  timer: ReturnType<typeof setTimeout>
}
export const SECONDS = 10

const pending = shallowReactive(new Set<Pending>())
// Sent, and not yet seen as done: lists that were read before still show what it decided as open.
const sent = shallowReactive(new Set<Pending>())
const failed = shallowReactive<{ words: string; why: string }[]>([])

/** What is about to be carried out, the latest first. */
export const doing = computed<Doing[]>(() => [...pending].reverse())
/** What the server refused after all, to be read. */
export const refused = computed(() => failed)
/** Whether something was decided about it which the lists on the page do not show yet. */
export const isPending = (about: string): boolean => [...pending, ...sent].some((one) => one.about === about)

async function carryOut(one: Pending, init: Last = {}): Promise<void> {
  if (!pending.delete(one)) return
  sent.add(one)
  clearTimeout(one.timer)
  try {
    await one.act(init)
  } catch (problem) {
    one.back?.()
    failed.push({
      words: one.words,
      why: problem instanceof ProblemError ? problem.message : String(problem),
    })
    sent.delete(one)
    return
  }
  void Promise.resolve(one.after?.()).finally(() => sent.delete(one))
}

/**
 * Does something in ten seconds, so long as it is not taken back: nothing of it is told to anybody before, and
 * whoever closes the page meanwhile has done it. `after`: once it was done, to be waited for where lists are read
 * anew; `back`: once it was taken back or refused.
 */
export function doSoon(
  words: string,
  about: string,
  act: (init: Last) => Promise<unknown>,
  after?: () => unknown,
  back?: () => void,
): void {
  const one: Pending = {
    ...{ words, about, act, after, back, at: Date.now() + SECONDS * 1000 },
    timer: setTimeout(() => void carryOut(one), SECONDS * 1000),
  }
  pending.add(one)
}

function latest(): Pending | undefined {
  return [...pending].at(-1)
}
/** Takes the latest back, or one of them. */
export function takeBack(which?: Doing): void {
  const one = which ? [...pending].find((other) => other === which) : latest()
  if (!one) return
  clearTimeout(one.timer)
  pending.delete(one)
  one.back?.()
}
/** `doSoon` for a page: whatever it changed is asked again once it was done. */
export function useSoon() {
  const queries = useQueryClient()
  return (words: string, about: string, act: (init: Last) => Promise<unknown>, back?: () => void): void =>
    doSoon(words, about, act, () => queries.invalidateQueries(), back)
}
/** Carries one of them out at once. */
export function doNow(which: Doing): void {
  const one = [...pending].find((other) => other === which)
  if (one) void carryOut(one)
}
export function readRefused(): void {
  failed.length = 0
}

/** Carries out all that is pending, as before its writer signs out. */
export async function carryOutAll(init: Last = {}): Promise<void> {
  await Promise.all([...pending].map((one) => carryOut(one, init)))
}

/** A page that is closed carries out what is pending; the browser sends it though the page is gone. */
export function carryOutOnLeaving(): void {
  useEventListener(window, 'pagehide', () => {
    void carryOutAll({ keepalive: true })
  })
}
