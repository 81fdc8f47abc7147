import { expect, it } from 'vitest'
import { standing } from '@/portfolio/standing'

const TODAY = '2026-03-10'
const row = (go_live: string | null, promised: string | null, live: string | null = null) => ({
  go_live,
  promised_go_live: promised,
  live_on: live,
})

it('a go-live that is over and did not come is said to be over, whatever was promised', () => {
  expect(standing(row('2026-03-09', '2026-03-09'), TODAY)).toBe('over')
  expect(standing(row('2026-03-10', '2026-03-10'), TODAY)).toBe('in time')
})

it('a later one than promised is late, until it is live', () => {
  expect(standing(row('2026-04-09', '2026-04-01'), TODAY)).toBe('late')
  expect(standing(row('2026-04-09', null), TODAY)).toBe('in time')
  expect(standing(row('2026-03-01', '2026-02-01', '2026-03-02'), TODAY)).toBe('in time')
})
