import type { Schemas } from '@/api/client'

export type Thing = Schemas['UsedThing']
/** A box of the drawing: where it stands, and what it leads to; `more` stands for so many that are not drawn. */
export interface Box {
  left: number
  top: number
  thing: Thing | null
  more: number
  own: boolean
}
export interface Drawing {
  boxes: Box[]
  /** From the right edge of one box to the left edge of another. */
  lines: { from: [number, number]; to: [number, number] }[]
  width: number
  height: number
}

export const BOX = { width: 200, height: 58, gap: 10, apart: 56, most: 10 }

const place = (column: number, row: number): [number, number] => [
  column * (BOX.width + BOX.apart),
  row * (BOX.height + BOX.gap),
]

/** What something stands on, itself, and what hangs on it, step by step from left to right. */
export function drawn(uses: Schemas['Uses']): Drawing {
  const before = uses.stands_on.map((one) => one.thing)
  const first = before.length ? 1 : 0
  const columns: { thing: Thing; place: number | null }[][] = []
  if (first) columns.push(before.map((thing) => ({ thing, place: null })))
  columns.push([{ thing: uses.thing, place: 0 }])
  uses.hanging.forEach((one, n) => {
    const column = first + one.depth
    // What is seen may hang on what is not; then a column between stays empty.
    while (columns.length <= column) columns.push([])
    columns[column]!.push({ thing: one.thing, place: n + 1 })
  })
  const boxes: Box[] = []
  const at = new Map<number, Box>()
  const of = new Map<Thing, Box>()
  columns.forEach((things, column) => {
    const all = things.length <= BOX.most
    const shown = all ? things : things.slice(0, BOX.most - 1)
    shown.forEach(({ thing, place: number }, row) => {
      const [left, top] = place(column, row)
      const box = { left, top, thing, more: 0, own: number === 0 }
      boxes.push(box)
      of.set(thing, box)
      if (number !== null) at.set(number, box)
    })
    if (!all) {
      const [left, top] = place(column, BOX.most - 1)
      boxes.push({ left, top, thing: null, more: things.length - shown.length, own: false })
    }
  })
  const join = (upper: Box | undefined, lower: Box | undefined) =>
    upper && lower
      ? [
          {
            from: [upper.left + BOX.width, upper.top + BOX.height / 2] as [number, number],
            to: [lower.left, lower.top + BOX.height / 2] as [number, number],
          },
        ]
      : []
  const lines = [
    ...before.flatMap((thing) => join(of.get(thing), at.get(0))),
    ...uses.lines.flatMap((line) => join(at.get(line.upper), at.get(line.lower))),
  ]
  const highest = Math.max(...columns.map((one) => Math.min(one.length, BOX.most)))
  return {
    boxes,
    lines,
    width: columns.length * (BOX.width + BOX.apart) - BOX.apart,
    height: highest * (BOX.height + BOX.gap) - BOX.gap,
  }
}

// Two lines of a box; the list has the whole name.
const LONGEST = 50
export const short = (name: string): string =>
  name.length > LONGEST ? `${name.slice(0, LONGEST - 1).trimEnd()}…` : name

const WORDS: Partial<Record<Thing['kind'], string>> = {
  account: 'run-as account',
  calendar: 'closed days',
  start: 'start on the clock',
}
/** What a kind of thing is called. */
export const kindSaid = (kind: Thing['kind']): string => WORDS[kind] ?? kind

/** Where what hangs on a thing is shown; nothing hangs on a start. */
export const usesOf = (thing: Pick<Thing, 'kind' | 'key'>): string =>
  thing.kind === 'start' ? '' : `/uses/${thing.kind}/${encodeURIComponent(thing.key)}`
