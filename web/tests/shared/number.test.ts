import { describe, expect, it, test } from 'vitest'
import { inUnit, money, number, share, writeAs } from '@/shared/format'
import { moved, readNumber, writeNumber, type Kind } from '@/shared/number'

const value = (text: string, kind: Kind = 'number', locale = 'en-GB'): string => {
  const read = readNumber(text, kind, locale)
  return 'value' in read ? read.value : `? ${read.meant.join(' ')}`
}

describe('a number is read as its reader writes it', () => {
  test.each([
    ['en-GB', '1,200', '1200'],
    ['en-GB', '1,234,567.80', '1234567.8'],
    ['en-GB', '0.125', '0.125'],
    ['en-GB', '.5', '0.5'],
    ['en-GB', '1 200', '1200'],
    ['de-DE', '1.200', '1200'],
    ['de-DE', '1.200,5', '1200.5'],
    ['de-DE', '1,2', '1.2'],
    ['de-DE', '12.345.678', '12345678'],
    ['fr-FR', '1\u202f200,5', '1200.5'],
    ['fr-FR', '1 200', '1200'],
    ['pt-PT', '12 345,67', '12345.67'],
    ['de-CH', '1’200.5', '1200.5'],
    ['de-CH', "1'200", '1200'],
    ['en-GB', '−4', '-4'],
    ['en-GB', '-0', '0'],
    ['en-GB', '007', '7'],
    ['en-GB', '', ''],
    ['en-GB', '  ', ''],
  ])('%s: %s is %s', (locale, text, wanted) => {
    expect(value(text, 'number', locale)).toBe(wanted)
  })

  it('keeps every digit', () => {
    expect(value('9,007,199,254,740,993.123456789')).toBe('9007199254740993.123456789')
  })
})

describe('what can be read in two ways is asked back', () => {
  test.each([
    ['de-DE', '1.5', '? 1.5 15'],
    ['de-DE', '1,200.5', '? 1200.5'],
    ['en-GB', '1,5', '? 1.5 15'],
    ['en-GB', '1.200,5', '? 1200.5'],
    ['en-GB', '12,34', '? 12.34 1234'],
    ['fr-FR', '1.200', '? 1.2 1200'],
  ])('%s: %s', (locale, text, wanted) => {
    expect(value(text, 'number', locale)).toBe(wanted)
  })

  it('in the words of the reader', () => {
    writeAs('de-DE')
    const read = readNumber('1.5')
    expect('fault' in read && read.fault).toBe('1.5 can be read in more than one way: is it 1,5 or 15?')
  })
})

test.each(['many', '1..2', '5 apples', '--4', '1-2', '€ 5', '1:30', '5 %', 'NaN', '1e3', '٣'])(
  '%s is no number',
  (text) => {
    expect('fault' in readNumber(text)).toBe(true)
  },
)

describe('units may be typed along', () => {
  test.each<[Kind, string, string]>([
    ['share', '5 %', '0.05'],
    ['share', '5%', '0.05'],
    ['share', '5', '0.05'],
    ['share', '12.5', '0.125'],
    ['share', '0.5 %', '0.005'],
    ['share', '0', '0'],
    ['share', '100', '1'],
    ['share', '0.05', '? 0.05 0.0005'],
    ['share', '1,5 %', '? 0.015 0.15'],
    ['money', '€ 12,300', '12300'],
    ['money', '−€ 12,300.50', '-12300.5'],
    ['money', '12,300 EUR', '12300'],
    ['money', '12,300', '12300'],
    ['hours', '1:30 h', '1.5'],
    ['hours', '1:30', '1.5'],
    ['hours', '1,240 h', '1240'],
    ['hours', '1 h 15 min', '1.25'],
    ['hours', '45 min', '0.75'],
    ['hours', '1:20', '? '],
    ['minutes', '1 h 20 min', '80'],
    ['minutes', '11 min', '11'],
    ['minutes', '1:05', '65'],
    ['minutes', '2.5', '2.5'],
    ['days', '12 days', '12'],
  ])('%s %s is %s', (kind, text, wanted) => {
    expect(value(text, kind)).toBe(wanted)
  })
})

const LOCALES = ['en-GB', 'de-DE', 'fr-FR', 'pt-PT', 'en-US', 'de-CH', 'sv-SE', 'es-ES']
const VALUES = ['0', '7', '1200', '1234567', '0.5', '1200.5', '999.99', '-1234.5', '1000000.125']

describe.each(LOCALES)('whatever the program writes in %s can be typed back in', (locale) => {
  test.each(VALUES)('%s', (kept) => {
    writeAs(locale)
    expect(value(number(kept, 6), 'number', locale)).toBe(kept)
    expect(value(writeNumber(kept), 'number', locale)).toBe(kept)
    const cents = value(number(kept, 2), 'number', locale)
    expect(value(money(kept, 'EUR', true), 'money', locale)).toBe(cents)
    expect(value(share(kept, 6), 'share', locale)).toBe(kept)
    expect(value(inUnit(kept, 'h', 'EUR'), 'hours', locale)).toBe(cents)
    expect(value(writeNumber(kept, 'share') + ' %', 'share', locale)).toBe(kept)
  })
})

test('the point moves without a float in between', () => {
  expect(moved('48.45', 2)).toBe('0.4845')
  expect(moved('0.4845', -2)).toBe('48.45')
  expect(moved('-5', 2)).toBe('-0.05')
  expect(moved('0', 2)).toBe('0')
  expect(moved('1200', -2)).toBe('120000')
  expect(moved('0.1234567890123456789', -2)).toBe('12.34567890123456789')
})
