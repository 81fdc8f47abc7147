import { writtenAs } from './format'

/** What the field of a day takes. */
export interface DayOf {
  id?: string
  min?: string
  max?: string
  label?: string
  disabled?: boolean
  invalid?: boolean
  /** With the time of day: kept as 2026-10-02T18:00. */
  timed?: boolean
  /** A month only: kept as 2026-10. */
  month?: boolean
}

const PARTS: Partial<Record<Intl.DateTimeFormatPartTypes, string>> = {
  day: 'DD',
  month: 'MM',
  year: 'YYYY',
  hour: 'HH',
  minute: 'mm',
}

/** How the reader writes days in figures, as the pattern that fields of days read and write. */
export function dayPattern(kind: 'date' | 'datetime' | 'month', locale = writtenAs()): string {
  const format = new Intl.DateTimeFormat(locale, {
    year: 'numeric',
    month: '2-digit',
    day: kind === 'month' ? undefined : '2-digit',
    hour: kind === 'datetime' ? '2-digit' : undefined,
    minute: kind === 'datetime' ? '2-digit' : undefined,
    hourCycle: 'h23',
  })
  return format
    .formatToParts(new Date(Date.UTC(2026, 9, 2)))
    .map((part) => PARTS[part.type] ?? part.value)
    .join('')
}

type Week = { firstDay: number }
/** What browsers know of a locale's week, by either of the two names that they give it. */
type Locale = Intl.Locale & { getWeekInfo?: () => Week; weekInfo?: Week }

/** The day that the reader's week begins with: 0 is Sunday, 1 Monday, which also stands where it is not known. */
export function weekStart(locale = writtenAs()): number {
  const known: Locale = new Intl.Locale(locale)
  return (known.getWeekInfo?.() ?? known.weekInfo ?? { firstDay: 1 }).firstDay % 7
}

/** A day in the reader's zone, so many days from today: kept as 2026-10-02. */
export function dayIn(zone: string, days = 0): string {
  const parts = new Intl.DateTimeFormat('en-US', {
    timeZone: zone,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
  }).formatToParts(Date.now() + days * 86_400_000)
  const part = (type: string) => parts.find((one) => one.type === type)?.value ?? ''
  return `${part('year')}-${part('month')}-${part('day')}`
}
