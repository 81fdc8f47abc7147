import { describe, expect, it, test } from 'vitest'
import {
  away,
  dayText,
  inUnit,
  lasted,
  money,
  number,
  several,
  share,
  size,
  span,
  writeAs,
  writtenAs,
} from '@/shared/format'

// Spaces between thousands and before a sign differ by language: narrow, no-break, or none.
const plain = (text: string): string => text.replace(/[\u00a0\u202f]/g, ' ')

describe('numbers', () => {
  test.each([
    ['en-GB', '1,234,567.8'],
    ['de-DE', '1.234.567,8'],
    ['fr-FR', '1 234 567,8'],
    ['pt-PT', '1 234 567,8'],
  ])('are grouped as %s writes them', (locale, text) => {
    writeAs(locale)
    expect(writtenAs()).toBe(locale)
    expect(plain(number('1234567.75', 1))).toBe(text)
  })

  it('lose no digit on the way, however long they are', () => {
    expect(number('9007199254740993')).toBe('9,007,199,254,740,993')
    expect(number('0.1234567890123456789', 19)).toBe('0.1234567890123456789')
  })

  it('show as many digits as asked for, and no fewer', () => {
    expect(number('2', 2, 2)).toBe('2.00')
    expect(number('2.345', 2)).toBe('2.35')
    expect(number(2)).toBe('2')
  })

  it('have a minus as long as a plus, and a dash where there is none', () => {
    expect(number('-4')).toBe('−4')
    for (const none of [null, undefined, '']) expect(number(none)).toBe('–')
  })
})

describe('money', () => {
  it('carries its sign before the amount, whole or exact', () => {
    expect(money('12300', 'EUR')).toBe('€ 12,300')
    expect(money('12300.5', 'EUR', true)).toBe('€ 12,300.50')
    expect(money('-12300.4', 'GBP')).toBe('−£ 12,300')
    expect(money(null, 'EUR')).toBe('–')
  })

  it('is grouped as its reader writes', () => {
    writeAs('de-DE')
    expect(plain(money('12300.5', 'EUR', true))).toBe('€ 12.300,50')
  })
})

describe('shares', () => {
  test.each([
    ['0.72', 0, '72 %'],
    ['0.4845', 2, '48.45 %'],
    ['-0.05', 0, '−5 %'],
    ['1', 0, '100 %'],
    ['.5', 0, '50 %'],
    [1e-7, 5, '0.00001 %'],
  ])('%s with %i digits is %s', (value, digits, text) => {
    expect(share(value, digits)).toBe(text)
  })

  it('are a dash where there is none', () => {
    expect(share('')).toBe('–')
  })
})

describe('values of a working', () => {
  test.each([
    ['12.5', 'money', '€ 12.50'],
    ['12.5', 'money an hour', '€ 12.50 an hour'],
    ['0.4845', 'share', '48.45 %'],
    ['0.1', 'share a year', '10 % a year'],
    ['2026-10-02', 'date', '2 Oct 2026'],
    ['1234.567', 'h', '1,234.57 h'],
    ['large', '', 'large'],
    ['4', '', '4'],
    ['-3 to 5', 'days', '−3 to 5 days'],
    [null, 'h', 'not known yet'],
  ])('%s in %s reads %s', (value, unit, text) => {
    expect(inUnit(value, unit, 'EUR')).toBe(text)
  })
})

describe('days and spans', () => {
  it('writes a day in words, and leaves other text as it is', () => {
    expect(dayText('2026-10-02')).toBe('2 Oct 2026')
    expect(dayText('by next week')).toBe('by next week')
    writeAs('de-DE')
    expect(dayText('2026-10-02')).toBe('2. Okt. 2026')
  })

  test.each([
    [-5, '0 s'],
    [40, '40 s'],
    [89.6, '90 s'],
    [660, '11 min'],
    [5400, '1 h 30 min'],
    [4800, '80 min'],
  ])('%d seconds are %s', (seconds, text) => {
    expect(span(seconds)).toBe(text)
  })

  it('says how far away an instant is, before and after', () => {
    const now = new Date('2026-11-02T12:00:00Z')
    expect(away(new Date('2026-11-02T12:04:00Z'), now)).toBe('in 4 min')
    expect(away(new Date('2026-11-02T10:00:00Z'), now)).toBe('2 h 0 min ago')
    expect(away(new Date('2026-11-09T12:00:00Z'), now)).toBe('in 7 days')
  })

  it('says how long something lasted, or lasts until now', () => {
    const now = '2026-11-02T12:00:00Z'
    expect(lasted(null, null, now)).toBe('–')
    expect(lasted('2026-11-02T11:59:00Z', null, now)).toBe('60 s')
    expect(lasted('2026-11-02T10:00:00Z', '2026-11-02T10:10:00Z', now)).toBe('10 min')
  })
})

test('sizes of files are in thousands and millions, never nothing of either', () => {
  expect(size(38)).toBe('38 B')
  expect(size(1234)).toBe('1.2 kB')
  expect(size(45_678)).toBe('46 kB')
  expect(size(12_345_678)).toBe('12.3 MB')
})

test.each([
  [0, '0 ideas'],
  [1, '1 idea'],
  [2, '2 ideas'],
  [1200, '1,200 ideas'],
])('counts %s as %s', (count, words) => expect(several(count, 'idea', 'ideas')).toBe(words))
