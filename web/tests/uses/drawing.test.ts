import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { BOX, drawn, short, usesOf } from '@/uses/drawing'

const thing = (kind: Schemas['UsedThing']['kind'], key: string): Schemas['UsedThing'] => ({
  kind,
  key,
  name: `${kind} ${key}`,
  link: `/${kind}/${key}`,
})
const host = thing('host', '1')
const by = (one: Schemas['UsedThing'], depth: number): Schemas['UsedBy'] => ({
  thing: one,
  how: 'works on',
  depth,
  by_way_of: host,
})
const uses = (hanging: Schemas['UsedBy'][], lines: Schemas['UsesLine'][], above: Schemas['UsedBy'][] = []) =>
  ({ thing: host, stands_on: above, hanging, lines, unseen: 0, cut: false }) as unknown as Schemas['Uses']

describe('the drawing of what hangs on what', () => {
  it('puts each step into a column of its own, and joins boxes at their edges', () => {
    const found = drawn(
      uses(
        [by(thing('robot', '1'), 1), by(thing('robot', '2'), 1), by(thing('routine', '7'), 2)],
        [
          { upper: 0, lower: 1 },
          { upper: 2, lower: 3 },
        ],
      ),
    )
    const step = BOX.width + BOX.apart
    expect(found.boxes.map((one) => one.left)).toEqual([0, step, step, 2 * step])
    expect(found.boxes[0]!.own).toBe(true)
    expect(found.lines[0]).toEqual({ from: [BOX.width, BOX.height / 2], to: [step, BOX.height / 2] })
    expect(found.height).toBe(2 * BOX.height + BOX.gap)
  })

  it('stands what it stands on before it', () => {
    const found = drawn(uses([], [], [by(thing('area', '3'), 1)]))
    expect(found.boxes.map((one) => [one.thing?.kind, one.left])).toEqual([
      ['area', 0],
      ['host', BOX.width + BOX.apart],
    ])
    expect(found.lines).toHaveLength(1)
  })

  it('says how many are not drawn', () => {
    const many = Array.from({ length: BOX.most + 5 }, (_, n) => by(thing('robot', String(n)), 1))
    const found = drawn(uses(many, [{ upper: 0, lower: BOX.most + 3 }]))
    expect(found.boxes.at(-1)).toMatchObject({ thing: null, more: 6 })
    expect(found.boxes).toHaveLength(BOX.most + 1)
    expect(found.lines).toEqual([])
  })

  it('leaves a column empty where the step between may not be seen', () => {
    expect(drawn(uses([by(thing('routine', '7'), 2)], [])).width).toBe(
      3 * (BOX.width + BOX.apart) - BOX.apart,
    )
  })

  it('shortens what is too long for a box, and leads on to all but starts', () => {
    expect(short('x'.repeat(50))).toHaveLength(50)
    expect(short('x'.repeat(51))).toBe(`${'x'.repeat(49)}…`)
    expect(usesOf({ kind: 'account', key: '3:svc meter' })).toBe('/uses/account/3%3Asvc%20meter')
    expect(usesOf({ kind: 'start', key: '3' })).toBe('')
  })
})
