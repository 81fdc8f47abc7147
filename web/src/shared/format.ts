/** How numbers, money, shares and times are written: everywhere the same, as the reader chose. */
let written = 'en-GB'

/** The reader's way of writing numbers and dates, from the profile. */
export function writeAs(locale: string): void {
  written = locale
}
export const writtenAs = (): string => written

const minus = (text: string): string => text.replace('-', '−')

type Exact = string | number | null | undefined

/** A number of an exact decimal string, grouped, with that many digits at most. */
export function number(value: Exact, digits = 0, least = 0): string {
  if (value === null || value === undefined || value === '') return '–'
  const format = new Intl.NumberFormat(written, {
    minimumFractionDigits: least,
    maximumFractionDigits: digits,
    // What is rounded to nothing has no sign.
    signDisplay: 'negative',
  })
  // The string goes in as it is, so that no digit is lost on the way through a float.
  return minus(format.format(value as unknown as number))
}

/** An amount of money: `€ 12,300`; two digits when asked for exactly. */
export function money(value: Exact, currency: string, exact = false): string {
  if (value === null || value === undefined || value === '') return '–'
  const parts = new Intl.NumberFormat(written, {
    style: 'currency',
    currency,
    currencyDisplay: 'narrowSymbol',
  })
  const symbol = parts.formatToParts(1).find((part) => part.type === 'currency')?.value ?? currency
  const text = number(value, exact ? 2 : 0, exact ? 2 : 0)
  return text.startsWith('−') ? `−${symbol} ${text.slice(1)}` : `${symbol} ${text}`
}

/** A share as `72 %`. */
export function share(value: Exact, digits = 0): string {
  if (value === null || value === undefined || value === '') return '–'
  return `${number(hundredfold(String(value)), digits)} %`
}

/** A hundred times a decimal number, by moving its point: as a float 0.4845 would become 48.449…. */
function hundredfold(text: string): string {
  const found = /^(-?)(\d*)(?:\.(\d*))?$/.exec(text)
  if (!found) return String(Number(text) * 100)
  const [, sign = '', whole = '', part = ''] = found
  const digits = part.padEnd(2, '0')
  return `${sign}${whole}${digits.slice(0, 2)}.${digits.slice(2) || '0'}`
}

/** A value in the unit that its working names. */
export function inUnit(value: Exact, unit: string, currency: string): string {
  if (value === null || value === undefined || value === '') return 'not known yet'
  const text = String(value)
  if (unit === 'date') return dayText(text)
  if (!/^-?\d+(\.\d+)?$/.test(text)) return minus(`${text}${unit && unit !== 'share' ? ` ${unit}` : ''}`)
  if (unit === 'money') return money(text, currency, true)
  if (unit.startsWith('money ')) return `${money(text, currency, true)} ${unit.slice(6)}`
  if (unit === 'share' || unit.startsWith('share ')) return `${share(text, 2)}${unit.slice(5)}`
  if (unit === '') return text
  return `${number(text, 2)} ${unit}`
}

/** A day of a working or source: `2 Oct 2026`; other text stays as it is. */
export function dayText(text: string): string {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(text)) return text
  const format = new Intl.DateTimeFormat(written, {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    timeZone: 'UTC',
  })
  return format.format(new Date(text))
}

/** A span of seconds: `40 s`, `11 min`, `1 h 20 min`. */
export function span(seconds: number): string {
  if (seconds < 90) return `${Math.max(0, Math.round(seconds))} s`
  const minutes = Math.round(seconds / 60)
  if (minutes < 90) return `${minutes} min`
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`
}

/** How far away an instant is: `in 4 min`, `2 h ago`. */
export function away(at: Date, now: Date): string {
  const seconds = (at.getTime() - now.getTime()) / 1000
  const size = Math.abs(seconds)
  const days = Math.round(size / 86400)
  const text = size > 129_600 ? `${days} days` : span(size)
  return seconds >= 0 ? `in ${text}` : `${text} ago`
}

/** A file's size. */
export function size(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`
  return bytes < 1_000_000
    ? `${number(bytes / 1000, bytes < 10_000 ? 1 : 0)} kB`
    : `${number(bytes / 1e6, 1)} MB`
}

/** The minutes between two instants as a span; open at the end: until now. */
export function lasted(from: string | null, to: string | null, now: string): string {
  if (!from) return '–'
  return span((new Date(to ?? now).getTime() - new Date(from).getTime()) / 1000)
}

// What the pages say is English, whatever way their reader writes numbers.
const plurals = new Intl.PluralRules('en')

/** The form of what is counted alone: "idea", "ideas". */
export function plural(count: number, one: string, many: string): string {
  return plurals.select(count) === 'one' ? one : many
}

/** A count with what is counted: "1 idea", "1,200 ideas". */
export function several(count: number | null, one: string, many: string): string {
  return `${number(count ?? 0)} ${plural(count ?? 0, one, many)}`
}

/** A month as its reader writes it: of 2026-11 it is "Nov 2026". */
export function monthText(month: string): string {
  const [year, number] = month.split('-').map(Number)
  return new Intl.DateTimeFormat(written, { month: 'short', year: 'numeric', timeZone: 'UTC' }).format(
    Date.UTC(year ?? 2000, (number ?? 1) - 1, 1),
  )
}
