import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { api, ask } from '@/api/client'
import { useFacts, type Fact } from './useFacts'
import { usePreview } from './usePreview'
import { useWantedField } from './useWantedField'

/** How a sheet shows one fact; what is not said here, the description of the API says. */
export interface SheetField {
  field: string
  unit?: string
  kind?: 'text' | 'date' | 'choice' | 'long'
  choices?: readonly string[]
  about?: string
  /** Whether it stands fixed, however open the sheet is. */
  fixed?: boolean
}

/** What is asked for a sheet: the facts of an idea, or those that an expert was asked for. */
interface Source {
  idea: () => number
  fields: () => Fact[] | undefined
  locked: () => boolean
  /** Where facts are kept, unless they are the idea's. */
  put?: Parameters<typeof useFacts>[2]
}

export const useSizing = (idea: () => number) =>
  useQuery({
    queryKey: ['ideas', 'sizing', idea],
    queryFn: () => ask(api.GET('/api/v1/ideas/{number}/sizing', { params: { path: { number: idea() } } })),
  })
export const useCase = (idea: () => number) =>
  useQuery({
    queryKey: ['ideas', 'case', idea],
    queryFn: () => ask(api.GET('/api/v1/ideas/{number}/case', { params: { path: { number: idea() } } })),
  })

/**
 * A sheet of facts: each is kept when its field is left, figures follow while it is typed, a fault stands at its
 * field, and the field that the address names is brought into sight. Sizing, case, plan and an expert's page are
 * sheets; `FactFields` and the fields of many parts take one.
 */
export function useFactSheet(source: Source) {
  const facts = useFacts(source.idea, () => source.fields() ?? [], source.put)
  // An expert who came by a link is shown no figures while typing: they are not the expert's to see.
  const preview = source.put ? null : usePreview(source.idea)
  const show = useWantedField()
  watch(
    () => source.fields() !== undefined,
    (there) => there && void show(),
    { immediate: true },
  )
  const locked = computed(source.locked)
  const none = (field: string): Fact => ({
    field,
    label: field,
    source: '',
    date: '',
    own: false,
    value: null,
    version: 0,
  })
  const of = (field: string): Fact => facts.find(field) ?? none(field)
  const has = (field: string): boolean => facts.find(field) !== undefined
  const fault = (field: string): string | undefined => facts.faults[field] ?? preview?.fault(field)
  /** The value of a fact of many parts, as rows. */
  const rows = <R>(field: string): R[] => (facts.value(field) || []) as R[]
  /** The field was left. `seen`: the version that its typing began with, if another one came in since. */
  function leave(field: string, now: unknown, seen?: number): Promise<void> {
    return facts.typedOver(field, now, seen).then(() => preview?.left(field))
  }
  return { ...facts, locked, preview, of, has, fault, rowsOf: rows, leave }
}
export type FactSheet = ReturnType<typeof useFactSheet>
