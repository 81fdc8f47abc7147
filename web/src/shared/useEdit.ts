import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch, type Ref } from 'vue'
import { ProblemError } from '@/api/client'
import { useAction } from './action'
import { differing, merged, type Taken } from './differing'
import { useDraft } from './unsaved'
import { useSeen } from './useSeen'

const isConflict = (problem: unknown): problem is ProblemError =>
  problem instanceof ProblemError && problem.code === 'conflict'

export interface EditOptions {
  /** What is edited, in words. */
  what: string
  /** Unique to the object that is edited, for its draft. */
  place: () => string
  version: () => number | undefined
  /** What is asked again once it is kept; everything, unless it is said. */
  touched?: string[][]
  /** Kept with the draft and no part of what two people can differ in, such as the note on a change. */
  beside?: Record<string, Ref<string>>
  /** Once it was kept. */
  after?: () => void
}

/**
 * The editing of something that has a version: it begins with what the server has, follows it while nothing is
 * typed, keeps a draft, and when somebody else was quicker gives both texts to choose from.
 *
 * `given` is the server's content as the form edits it, undefined until it is there; `send` puts it to the version
 * that the typing began with.
 */
export function useEdit<T extends object>(
  given: () => T | undefined,
  send: (fields: T, version: number) => Promise<unknown>,
  options: EditOptions,
) {
  const fields = ref({}) as Ref<T>
  const was = ref('')
  const ready = computed(() => was.value !== '')
  const text = computed(() => JSON.stringify(fields.value))
  const changed = computed(() => ready.value && text.value !== was.value)

  const queries = useQueryClient()
  async function askAgain() {
    if (!options.touched) return queries.invalidateQueries()
    for (const queryKey of options.touched) await queries.invalidateQueries({ queryKey })
  }
  const kept = ref(false)
  const save = useAction(async () => {
    kept.value = false
    try {
      await send(fields.value, seen.value)
    } catch (problem) {
      // Both texts can be shown only once theirs was read.
      if (isConflict(problem)) await askAgain()
      throw problem
    }
    was.value = text.value
    settled()
    kept.value = true
    options.after?.()
  }, options.touched ?? 'what changed')
  const seen = useSeen(options.version, save.error, () => changed.value)
  const unsent = useDraft(
    options.what,
    options.place,
    { fields, was, ...options.beside },
    { ready: () => ready.value, seen },
  )

  function settled() {
    for (const words of Object.values(options.beside ?? {})) words.value = ''
    unsent.done()
  }
  /** As the server has it; what was typed is given up. */
  function read() {
    const now = given()
    if (now === undefined) return
    was.value = JSON.stringify(now)
    fields.value = JSON.parse(was.value) as T
    seen.value = options.version() ?? 0
    save.error.value = null
    settled()
  }
  watch(
    () => JSON.stringify(given()),
    () => (changed.value ? undefined : read()),
    { immediate: true },
  )

  watch(changed, (now) => now && (kept.value = false))

  const refused = computed(() => {
    const problem = save.error.value
    return isConflict(problem) ? problem : null
  })
  const rows = computed(() =>
    refused.value ? differing(JSON.parse(was.value || '{}'), given(), fields.value) : [],
  )
  /** After a conflict: goes on with the lines that were chosen, on top of what stands there now. */
  function settle(taken: Taken) {
    const mine = rows.value.length === 1 && taken[rows.value[0]?.path ?? ''] === 'mine'
    fields.value = merged(fields.value, rows.value, taken)
    was.value = JSON.stringify(given())
    seen.value = options.version() ?? seen.value
    save.error.value = null
    // One line, and mine: nothing is left to look at before it is kept.
    if (mine) void save.go()
  }
  return { fields, changed, ready, kept, save, seen, unsent, read, refused, rows, settle }
}
export type Edit<T extends object> = ReturnType<typeof useEdit<T>>
