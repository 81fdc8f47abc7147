import { describe, expect, it } from 'vitest'
import { before, neighbour } from '@/ideas/useReviewQueue'

const row = (id: number, due: string | null) => ({ id, due, title: `I-${id}` })
const rows = [row(7, '2026-03-02'), row(3, '2026-03-04'), row(5, '2026-03-04'), row(2, null)]

describe('the queue of reviews', () => {
  it('has the first due first, then the older, those without a day last', () => {
    expect(before(row(9, '2026-03-01'), row(1, '2026-03-02'))).toBe(true)
    expect(before(row(3, '2026-03-04'), row(5, '2026-03-04'))).toBe(true)
    expect(before(row(2, null), row(5, '2026-03-04'))).toBe(false)
  })

  it('is a round, so that next reaches every one', () => {
    const seen = [7]
    for (let n = 0; n < rows.length - 1; n += 1) {
      const here = rows.find((one) => one.id === seen.at(-1))!
      seen.push(neighbour(rows, here, 1)!.id)
    }
    expect(seen).toEqual([7, 3, 5, 2])
    expect(neighbour(rows, rows[3]!, 1)?.id).toBe(7)
    expect(neighbour(rows, rows[0]!, -1)?.id).toBe(2)
  })

  it('goes on from one that was decided and is not in it any more', () => {
    expect(neighbour(rows, row(4, '2026-03-04'), 1)?.id).toBe(5)
    expect(neighbour(rows, row(4, '2026-03-04'), -1)?.id).toBe(3)
    expect(neighbour([rows[0]!], rows[0]!, 1)).toBeUndefined()
  })
})
