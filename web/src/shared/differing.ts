/** What two people made of one thing, line by line: as it was, as it stands now, as it is typed here. */
export interface Differing {
  path: string
  was: unknown
  theirs: unknown
  mine: unknown
}
export type Taken = Record<string, 'theirs' | 'mine'>

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

function flat(value: unknown, path = ''): Map<string, unknown> {
  if (!isRecord(value)) return new Map([[path, value]])
  const found = new Map<string, unknown>()
  for (const [name, part] of Object.entries(value))
    for (const [below, leaf] of flat(part, path ? `${path}.${name}` : name)) found.set(below, leaf)
  return found
}
const same = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other)

/** The lines in which theirs and mine differ; lists count as one line, records are gone into. */
export function differing(was: unknown, theirs: unknown, mine: unknown): Differing[] {
  const [before, now, here] = [flat(was), flat(theirs), flat(mine)]
  return [...new Set([...now.keys(), ...here.keys()])]
    .map((path) => ({ path, was: before.get(path), theirs: now.get(path), mine: here.get(path) }))
    .filter((row) => !same(row.theirs, row.mine))
}

/** Whoever alone changed a line is followed; where both did, what is typed here stands until it is chosen. */
export function usual(row: Differing): 'theirs' | 'mine' {
  return same(row.was, row.mine) ? 'theirs' : 'mine'
}

/** Whether both changed the line, so that somebody has to choose. */
export function both(row: Differing): boolean {
  return !same(row.was, row.theirs) && !same(row.was, row.mine)
}

/** What is typed here, with the lines that are taken from theirs. */
export function merged<T>(mine: T, rows: Differing[], taken: Taken): T {
  const result = JSON.parse(JSON.stringify(mine)) as T
  for (const row of rows.filter((one) => (taken[one.path] ?? usual(one)) === 'theirs')) {
    const names = row.path.split('.')
    let place = result as Record<string, unknown>
    for (const name of names.slice(0, -1)) place = (place[name] ??= {}) as Record<string, unknown>
    const last = names.at(-1) ?? ''
    if (row.theirs === undefined) delete place[last]
    else place[last] = row.theirs
  }
  return result
}

/** A value in words. */
export function written(value: unknown): string {
  if (value === null || value === undefined || value === '') return 'nothing'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (Array.isArray(value)) return value.length ? value.map(written).join('; ') : 'nothing'
  if (isRecord(value))
    return (
      Object.values(value)
        .filter((part) => part !== '' && part !== null && part !== false)
        .map(written)
        .join(', ') || 'nothing'
    )
  return String(value)
}
