import { useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, ask, ProblemError, type Schemas } from '@/api/client'
import type { Differing, Taken } from '@/shared/differing'
import { useUnsaved } from '@/shared/unsaved'

export type Fact = Schemas['FactRow']

type Kept = Schemas['FactsIn']
const toIdea =
  (idea: () => number) =>
  (body: Kept): Promise<unknown> =>
    ask(api.PUT('/api/v1/ideas/{number}/facts', { params: { path: { number: idea() } }, body }))

/** Keeps facts one by one as they are typed; a fault stays at its field with what was typed. */
export function useFacts(
  idea: () => number,
  fields: () => Fact[],
  put: (body: Kept) => Promise<unknown> = toIdea(idea),
) {
  const queries = useQueryClient()
  const typed = reactive<Record<string, unknown>>({})
  const faults = reactive<Record<string, string>>({})
  const clash = ref<ProblemError | null>(null)
  const error = ref<unknown>(null)
  const busy = ref(0)
  // The versions that were written from here, so that nobody clashes with themselves.
  const mine: Record<string, number> = {}

  useUnsaved('Figures that are not taken yet', () => Object.keys(faults).length > 0 || clash.value !== null)

  const find = (field: string): Fact | undefined => fields().find((row) => row.field === field)
  const value = (field: string): unknown => (field in typed ? typed[field] : (find(field)?.value ?? ''))

  // One after the other: each starts from what the one before left, so that nobody clashes with themselves.
  let queue: Promise<void> = Promise.resolve()
  /** `seen`: the version that stood in the field when its typing began, if another one came in since. */
  function typedOver(field: string, now: unknown, seen: number | undefined): Promise<void> {
    const foreign = seen !== undefined && find(field)?.version !== mine[field]
    return keep(field, now, '', foreign ? seen : undefined)
  }
  function keep(field: string, now: unknown, source = '', version?: number): Promise<void> {
    queue = queue.then(() => keepNow(field, now, source, version))
    return queue
  }

  async function keepNow(field: string, now: unknown, source: string, version?: number) {
    const old = find(field)
    if (version === undefined && JSON.stringify(now) === JSON.stringify(old?.value ?? '')) {
      delete typed[field]
      delete faults[field]
      return
    }
    typed[field] = now
    busy.value += 1
    error.value = null
    try {
      const body = { values: { [field]: now }, versions: { [field]: version ?? old?.version ?? 0 }, source }
      await put(body)
      mine[field] = (version ?? old?.version ?? 0) + 1
      delete faults[field]
      clash.value = null
      await queries.invalidateQueries({ queryKey: ['ideas'] })
      delete typed[field]
    } catch (problem) {
      if (!(problem instanceof ProblemError)) error.value = problem
      else if (problem.code === 'conflict') clash.value = problem
      else if (problem.faults.length) faults[field] = problem.faults.map((one) => one.message).join('; ')
      else error.value = problem
    } finally {
      busy.value -= 1
    }
  }

  /** After a clash: yours once more on top of theirs, or theirs as it stands. */
  const rows = computed<Differing[]>(() => {
    const more = clash.value?.more
    return more ? [{ path: String(more.field), was: undefined, theirs: more.theirs, mine: more.yours }] : []
  })
  const names = computed(() => Object.fromEntries(fields().map((row) => [row.field, row.label])))
  async function settle(taken: Taken) {
    const field = String(clash.value?.more.field ?? '')
    const mine = taken[field] !== 'theirs'
    const version = Number(clash.value?.more.version ?? 0)
    const yours = clash.value?.more.yours
    clash.value = null
    if (mine) return keep(field, yours, '', version)
    delete typed[field]
    await queries.invalidateQueries({ queryKey: ['ideas'] })
  }

  return { value, keep, typedOver, settle, rows, names, faults, clash, error, busy, find }
}
