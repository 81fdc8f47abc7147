import { describe, expect, it, test } from 'vitest'
import { endsOf, ticksOf } from '@/shared/timeAxis'

const at = (text: string): number => Date.parse(text)
const words = (from: string, to: string, zone = 'UTC', locale = 'en-GB'): string[] =>
  ticksOf(at(from), at(to), zone, locale).map((one) => one.words)

describe('the ends of a bar', () => {
  it('are instants as they are given', () => {
    expect(endsOf({ from: '2026-10-02T06:00Z', to: '2026-10-02T07:30Z' }, 'Europe/Lisbon')).toEqual([
      at('2026-10-02T06:00Z'),
      at('2026-10-02T07:30Z'),
    ])
  })

  it('are whole days in the zone, the last one included', () => {
    expect(endsOf({ from: '2026-07-01', to: '2026-07-02' }, 'Europe/Berlin')).toEqual([
      at('2026-06-30T22:00Z'),
      at('2026-07-02T22:00Z'),
    ])
  })

  it('are right on the days on which clocks change', () => {
    const [from, to] = endsOf({ from: '2026-10-25', to: '2026-10-25' }, 'Europe/Berlin')
    expect((to - from) / 3_600_000).toBe(25)
    const [early, late] = endsOf({ from: '2026-03-29', to: '2026-03-29' }, 'Europe/Berlin')
    expect((late - early) / 3_600_000).toBe(23)
  })
})

test.each([
  [
    'a day',
    '2026-10-02T00:00Z',
    '2026-10-03T00:00Z',
    ['03:00', '06:00', '09:00', '12:00', '15:00', '18:00', '21:00'],
  ],
  ['a week', '2026-10-05T00:00Z', '2026-10-09T00:00Z', ['Tue 6', 'Wed 7', 'Thu 8']],
  [
    'some weeks, from Mondays on',
    '2026-10-01T00:00Z',
    '2026-11-01T00:00Z',
    ['5 Oct', '12 Oct', '19 Oct', '26 Oct'],
  ],
  ['months', '2026-10-15T00:00Z', '2027-02-02T00:00Z', ['Nov 26', 'Dec 26', 'Jan 27', 'Feb 27']],
  ['years', '2026-10-15T00:00Z', '2029-02-02T00:00Z', ['2027', '2028', '2029']],
])('%s is marked in its own units', (_, from, to, expected) => {
  expect(words(from, to)).toEqual(expected)
})

test('marks stand where the clock of the zone shows them, over a change of clocks too', () => {
  const ticks = ticksOf(at('2026-10-24T22:00Z'), at('2026-10-27T23:00Z'), 'Europe/Berlin', 'en-GB')
  expect(ticks.map((one) => new Date(one.at).toISOString())).toEqual([
    '2026-10-25T23:00:00.000Z',
    '2026-10-26T23:00:00.000Z',
  ])
})

test('marks are written as the reader writes days', () => {
  expect(words('2026-10-01T00:00Z', '2026-11-01T00:00Z', 'UTC', 'de-DE')[0]).toBe('5. Okt.')
})
