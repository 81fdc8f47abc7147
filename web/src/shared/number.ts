import { NumberParser } from '@internationalized/number'
import { number, writtenAs } from './format'

/** What a number stands for: it says which signs may follow or lead it. */
export type Kind = 'number' | 'share' | 'money' | 'hours' | 'minutes' | 'days'

/** A number that was read, as an exact decimal; or why it was not, and what it may mean. */
export type Read = { value: string } | { fault: string; meant: string[] }

const SIGNS: Record<Kind, RegExp> = {
  number: /$^/,
  share: /^%$/,
  money: /^(\p{Sc}|[A-Z]{3})$/u,
  hours: /^(h|hours?)$/i,
  minutes: /^(min|minutes?)$/i,
  days: /^(d|days?)$/i,
}
// Spaces of any width, and the upright mark that some write between thousands.
const SPACES = /[\s\u00a0\u2007\u2009\u202f]+/g
const MARKS = /[’'`]/g

interface Separators {
  group: string
  decimal: string
}

function separators(locale: string): Separators {
  const parts = new Intl.NumberFormat(locale).formatToParts(-1_234_567.5)
  const of = (type: string): string => parts.find((part) => part.type === type)?.value ?? ''
  const group = of('group').replace(SPACES, ' ').replace(MARKS, "'")
  return { group, decimal: of('decimal') || '.' }
}

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** Whether a text without sign is a whole number, grouped rightly or not at all, with a fraction or not. */
function fits(text: string, { group, decimal }: Separators): boolean {
  const groups = [...new Set([group, ' '])].filter(Boolean).map(escaped).join('|')
  const whole = groups ? `(?:\\d{1,3}(?<g>${groups})\\d{3}(?:\\k<g>\\d{3})*|\\d+)` : '\\d+'
  const point = escaped(decimal)
  return new RegExp(`^(?:${whole}(?:${point}\\d*)?|${point}\\d+)$`).test(text)
}

function plain(text: string, { group, decimal }: Separators): string {
  let digits = text.replaceAll(' ', '')
  if (group && group !== ' ') digits = digits.replaceAll(group, '')
  const [whole = '', part = ''] = digits.split(decimal)
  const left = whole.replace(/^0+(?=\d)/, '') || '0'
  const right = part.replace(/0+$/, '')
  return right ? `${left}.${right}` : left
}

/** Every number that a text may mean to somebody who writes another way. */
function meanings(text: string): string[] {
  const ways: Separators[] = [
    { group: ',', decimal: '.' },
    { group: '.', decimal: ',' },
    { group: ' ', decimal: ',' },
    { group: "'", decimal: '.' },
  ]
  const found = ways.filter((way) => fits(text, way)).map((way) => plain(text, way))
  // A mark between digits in other than threes may have slipped in between thousands too.
  if (!found.length || /^\d+[.,]\d{1,2}$/.test(text)) found.push(plain(text.replace(/[.,' ]/g, ''), ways[0]!))
  return [...new Set(found)].filter((value) => /^\d+(\.\d+)?$/.test(value))
}

/** Moves the point of a decimal to the left, digit by digit, so that nothing is lost. */
export function moved(value: string, places: number): string {
  const negative = value.startsWith('-')
  const [whole = '0', part = ''] = value.replace('-', '').split('.')
  const digits = (places >= 0 ? whole.padStart(places + 1, '0') : whole) + part.padEnd(-places, '0')
  const at = (places >= 0 ? Math.max(whole.length, places + 1) : whole.length) - places
  const left = digits.slice(0, at).replace(/^0+(?=\d)/, '') || '0'
  const right = digits.slice(at).replace(/0+$/, '')
  const text = right ? `${left}.${right}` : left
  return negative && text !== '0' ? `-${text}` : text
}

/** `1:30`, `1:30 h`, `1 h 20 min`, `40 min`, in minutes; nothing when it is no span. */
function spanMinutes(text: string): number | undefined {
  const clock = /^(\d{1,6}):([0-5]\d)(?: ?h)?$/i.exec(text)
  if (clock) return Number(clock[1]) * 60 + Number(clock[2])
  const words = /^(?:(\d{1,6}) ?h(?:ours?)?)? ?(?:(\d{1,6}) ?min(?:utes?)?)?$/i.exec(text)
  if (!words || (words[1] === undefined && words[2] === undefined)) return undefined
  return Number(words[1] ?? 0) * 60 + Number(words[2] ?? 0)
}

function span(text: string, kind: Kind): Read | undefined {
  if (kind !== 'hours' && kind !== 'minutes') return undefined
  const minutes = spanMinutes(text)
  if (minutes === undefined) return undefined
  if (kind === 'minutes') return { value: String(minutes) }
  if ((minutes * 100) % 60 === 0) return { value: moved(String((minutes * 100) / 60), 2) }
  const fault = `${text} is no round part of an hour`
  return { fault: `${fault}; give it in quarters of an hour, or as a number of hours`, meant: [] }
}

/**
 * What a text means as its reader writes numbers: whatever the program itself writes can be typed back in.
 * A text that can only be read another way is not guessed: what it may mean is offered.
 */
export function readNumber(typed: string, kind: Kind = 'number', locale = writtenAs()): Read {
  const text = typed.replace(SPACES, ' ').replace(MARKS, "'").replaceAll('−', '-').trim()
  if (!text) return { value: '' }
  const spanned = span(text, kind)
  if (spanned) return spanned
  const found =
    /^(?<minus>-)?\s*(?<lead>[^\d.,' -]+)?\s*(?<minus2>-)?(?<body>[\d.,' ]*\d[\d.,' ]*?)\s*(?<tail>[^\d.,' ].*)?$/u.exec(
      text,
    )
  const { minus, minus2, lead = '', body = '', tail = '' } = found?.groups ?? {}
  const wrong = { fault: `${typed.trim()} is not a number such as ${number('1234.5', 1)}`, meant: [] }
  if (!found || (minus && minus2)) return wrong
  for (const sign of [lead, tail]) if (sign && !SIGNS[kind].test(sign)) return wrong
  const negative = (minus ?? minus2) ? '-' : ''
  const way = separators(locale)
  const digits = body.trim()
  if (!fits(digits, way)) {
    const shifted = (value: string): string => (kind === 'share' ? moved(value, 2) : value)
    const meant = meanings(digits).map((value) => negative + shifted(value))
    if (!meant.length) return wrong
    const words = meant.map((value) => said(value, kind)).join(' or ')
    return { fault: `${typed.trim()} can be read in more than one way: is it ${words}?`, meant }
  }
  const value = plain(digits, way)
  // What a well-kept parser makes of it in this language must be the same number.
  const other = new NumberParser(locale, { style: 'decimal' }).parse(digits.replaceAll(' ', ''))
  if (!Number.isNaN(other) && Math.abs(other - Number(value)) > Math.abs(other) * 1e-9) return wrong
  const signed = value === '0' ? '0' : negative + value
  return kind === 'share' ? share(typed, signed, tail) : { value: signed }
}

/** A share is kept as a part of one and written in hundredths; a bare `0.05` may be either. */
function share(typed: string, value: string, tail: string): Read {
  const size = Math.abs(Number(value))
  if (!tail && size > 0 && size < 1) {
    const words = `${number(moved(value, -2), 20)} % or ${number(value, 20)} %`
    return {
      fault: `${typed.trim()} can be read as ${words}: write the sign`,
      meant: [value, moved(value, 2)],
    }
  }
  return { value: moved(value, 2) }
}

/** How a kept number is written in its field, without its unit: what stands there can be read back. */
export function writeNumber(value: string | number | null | undefined, kind: Kind = 'number'): string {
  if (value === null || value === undefined || value === '') return ''
  const text = String(value)
  if (!/^-?\d+(\.\d+)?$/.test(text)) return text
  return number(kind === 'share' ? moved(text, -2) : text, 20)
}

/** The same with the sign that says what it is, as it may stand in a sentence. */
export function said(value: string | number, kind: Kind): string {
  return writeNumber(value, kind) + (kind === 'share' ? ' %' : '')
}
