import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'

export type Sheet = Schemas['SheetOut']
export type Line = Schemas['SheetLine']
type Match = Schemas['MatchIn']

/** What is said of a list as it stands: which column is what, how it is read, what comes in without what. */
export function matchOf(sheet: Sheet): Match {
  const ways: Record<string, Record<string, string>> = {}
  for (const column of sheet.columns)
    for (const way of column.ways) {
      if (column.field && way.chosen && way.value) (ways[column.field] ??= {})[way.name] = way.value
    }
  return {
    columns: { ...sheet.match },
    asked: [...sheet.asked],
    ways,
    stage: sheet.stage,
    why: sheet.why,
    back_on: sheet.back_on,
    declined_for: sheet.declined_for,
    without_people: sheet.without_people,
    without_values: sheet.without_values,
    ends_early: sheet.ends_early,
  }
}

/** A match in which a column stands for something else; each thing is one column, and a choice is an answer. */
export function matched(now: Match, column: number, field: string): Match {
  const before = Object.entries(now.columns).find(([, at]) => at === column)?.[0]
  const columns = Object.fromEntries(
    Object.entries(now.columns).filter(([name, at]) => at !== column && name !== field),
  )
  if (field) columns[field] = column
  const asked = now.asked?.filter((name) => name !== before && name !== field) ?? []
  return { ...now, columns, asked }
}

/** What somebody does with a list before it comes in. Each act carries the version that was seen. */
export function useSheet(sheet: () => Sheet) {
  const typed = ref<Partial<Match>>({})
  watch(
    () => sheet().version,
    () => (typed.value = {}),
  )
  const match = computed<Match>(() => ({ ...matchOf(sheet()), ...typed.value }))
  const seen = () => ({ header: { 'if-match': `"${sheet().version}"` } })
  const path = () => ({ path: { number: sheet().id } })
  const line = (at: number) => ({ path: { number: sheet().id, line: at } })
  const again = [['sheets']]
  const keep = useAction((body: Match) => {
    typed.value = body
    return ask(api.PUT('/api/v1/sheets/{number}/match', { params: { ...path(), ...seen() }, body }))
  }, again)
  const head = useAction(
    (row: number) =>
      ask(api.PUT('/api/v1/sheets/{number}/head', { params: { ...path(), ...seen() }, body: { row } })),
    again,
  )
  const word = useAction(
    (of: string, theirs: string, ours: string | number | null) =>
      ask(
        api.PUT('/api/v1/sheets/{number}/words', {
          params: { ...path(), ...seen() },
          body: { of, theirs, ours },
        }),
      ),
    again,
  )
  const mend = useAction(
    (at: number, body: Schemas['MendIn']) =>
      ask(api.PUT('/api/v1/sheets/{number}/lines/{line}', { params: { ...line(at), ...seen() }, body })),
    again,
  )
  const asItCame = useAction(
    (at: number) =>
      ask(api.DELETE('/api/v1/sheets/{number}/lines/{line}/mended', { params: { ...line(at), ...seen() } })),
    again,
  )
  const choose = useAction(
    (at: number, choice: string | null) =>
      ask(
        api.PUT('/api/v1/sheets/{number}/lines/{line}/choice', {
          params: { ...line(at), ...seen() },
          body: { choice },
        }),
      ),
    again,
  )
  return { match, keep, head, word, mend, asItCame, choose }
}
