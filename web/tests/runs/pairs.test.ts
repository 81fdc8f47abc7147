import { expect, test } from 'vitest'
import { pairs } from '@/runs/pairs'

test('values of a run are said in words: files by their names, lists by what is in them', () => {
  const given = {
    sheet: 'file:ab12/week.csv',
    meters: ['MD-1', 'MD-2'],
    none: [],
    at_most: 4,
    rule: { a: [1] },
  }
  expect(pairs(given)).toEqual([
    ['sheet', 'week.csv'],
    ['meters', 'MD-1, MD-2'],
    ['none', 'none'],
    ['at_most', '4'],
    ['rule', '{"a":[1]}'],
  ])
  expect(pairs(null)).toEqual([])
})
