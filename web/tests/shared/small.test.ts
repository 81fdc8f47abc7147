import { expect, test, vi } from 'vitest'
import { ProblemError } from '@/api/client'
import { dayIn } from '@/shared/days'
import { faultOf, fieldWords } from '@/shared/faults'
import { fieldOf, fieldPlace, wordsOf } from '@/shared/fieldLink'
import { goesOn } from '@/shared/useErrand'

const fault = (field: string, message: string) => ({ field, value: null, message })
const problem = (...faults: ReturnType<typeof fault>[]) =>
  new ProblemError(422, 'input', 'Something does not fit.', '', faults, {})

test('a fault is found at its field, or within it', () => {
  const refused = problem(fault('phases.2.days', 'give whole days'), fault('name', 'is taken'))
  expect(faultOf(refused, 'name')).toBe('is taken')
  expect(faultOf(refused, 'phases')).toBe('give whole days')
  expect(faultOf(refused, 'pha', 'title')).toBeUndefined()
  expect(faultOf(new Error('no problem of ours'), 'name')).toBeUndefined()
})

test('a field is named in words, and the input of a package as it named it', () => {
  expect(fieldWords('run_limit')).toBe('run limit')
  expect(fieldWords('inputs.most_m3')).toBe('input most_m3')
})

test.each([
  ['volume_per_year', 'sizing', 'volume'],
  ['automatable_share', 'sizing', 'judged_share'],
  ['arrives[0].part', 'sizing', 'arrives'],
  ['go_live', 'plan', 'phases'],
  ['seat_cost_per_year', 'case', 'seat_cost_per_year'],
])('%s is given on the sheet %s as %s', (name, sheet, field) => {
  expect(fieldOf(name)).toBe(field)
  expect(fieldPlace(name)).toEqual({ query: { sheet, field } })
})

test('what is missing is named in words', () => {
  expect(wordsOf('judge')).toBe('how many need judging')
  expect(wordsOf('build_effort')).toBe('build effort')
})

test('long work goes on while it waits or runs', () => {
  expect(['waiting', 'running', 'done', 'cancelled', undefined].map(goesOn)).toEqual([
    true,
    true,
    false,
    false,
    false,
  ])
})

test('tells the day of the reader, not that of the server', () => {
  vi.useFakeTimers({ now: new Date('2026-03-09T23:30:00Z') })
  expect(dayIn('UTC')).toBe('2026-03-09')
  expect(dayIn('Europe/Helsinki')).toBe('2026-03-10')
  expect(dayIn('America/New_York', 1)).toBe('2026-03-10')
  vi.useRealTimers()
})
