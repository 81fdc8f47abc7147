import type { Schemas } from '@/api/client'

/** What a start on the clock is made of on the page, and how that becomes the form that is kept. */
export type Kind = 'week' | 'month' | 'year' | 'interval' | 'once' | 'code'

export interface Draft {
  kind: Kind
  time: string
  weekdays: string[]
  weeks: number
  weeksFrom: string
  monthDay: string
  months: string[]
  yearDay: number
  yearMonth: string
  every: number
  unit: 'minutes' | 'hours'
  anchor: string
  once: string
  code: string
  years: string
  zone: string
  onClosed: 'run' | 'skip' | 'next' | 'previous'
  windowed: boolean
  from: string
  to: string
  missed: string
  missedHours: number
  latest: number | null
}

/** The fields of a code, as faults name them. */
export const CODE = ['expr', 'second', 'minute', 'hour', 'day of month', 'month', 'day of week', 'year']
export const WEEKDAYS = ['MON', 'TUE', 'WED', 'THU', 'FRI', 'SAT', 'SUN']
export const MONTHS = ['JAN', 'FEB', 'MAR', 'APR', 'MAY', 'JUN', 'JUL', 'AUG', 'SEP', 'OCT', 'NOV', 'DEC']
const ORDINALS: Record<number, string> = { 1: 'st', 2: 'nd', 3: 'rd', 21: 'st', 22: 'nd', 23: 'rd', 31: 'st' }
export const MONTH_DAYS = [
  ...Array.from({ length: 31 }, (_, n) => ({
    value: String(n + 1),
    words: `the ${n + 1}${ORDINALS[n + 1] ?? 'th'}${n > 27 ? ', in months that have it' : ''}`,
  })),
  { value: 'L', words: 'the last day' },
  { value: 'LW', words: 'the last working day' },
  { value: '1W', words: 'the first weekday' },
  { value: '15W', words: 'the weekday nearest to the 15th' },
]

export function empty(zone: string): Draft {
  const today = new Date().toISOString().slice(0, 10)
  // Never in the past, whatever the hour and the zone.
  const later = new Date(Date.now() + 2 * 86_400_000).toISOString().slice(0, 10)
  return {
    kind: 'week',
    time: '07:30',
    weekdays: ['MON', 'TUE', 'WED', 'THU', 'FRI'],
    weeks: 1,
    weeksFrom: today,
    monthDay: '1',
    months: [],
    yearDay: 1,
    yearMonth: 'JAN',
    every: 30,
    unit: 'minutes',
    anchor: `${today}T06:00`,
    once: `${later}T18:00`,
    code: '30 7 * * 1-5',
    years: '',
    zone,
    onClosed: 'run',
    windowed: false,
    from: '08:00',
    to: '18:00',
    missed: 'once',
    missedHours: 24,
    latest: null,
  }
}

/** An existing start as a draft; whatever form it has, it can be changed as a code, interval or date. */
export function draftOf(one: Schemas['Trigger']): Draft {
  const form = one.form as Record<string, string | number | undefined>
  const draft = empty(one.zone)
  const common: Partial<Draft> = {
    onClosed: one.on_closed as Draft['onClosed'],
    windowed: one.window !== null,
    from: one.window?.from ?? draft.from,
    to: one.window?.to ?? draft.to,
    missed: one.missed,
    missedHours: one.missed_hours,
    latest: one.latest_minutes,
  }
  if (form.once) return { ...draft, ...common, kind: 'once', once: String(form.once) }
  if (form.every_minutes) {
    const minutes = Number(form.every_minutes)
    const hours = minutes % 60 === 0
    return {
      ...draft,
      ...common,
      kind: 'interval',
      every: hours ? minutes / 60 : minutes,
      unit: hours ? 'hours' : 'minutes',
      anchor: String(form.anchor).slice(0, 16),
    }
  }
  return {
    ...draft,
    ...common,
    kind: 'code',
    code: String(form.expr ?? ''),
    years: String(form.years ?? ''),
    weeks: Number(form.weeks ?? 1),
    weeksFrom: String(form.weeks_from ?? draft.weeksFrom),
  }
}

function formOf(draft: Draft): Schemas['FormIn'] {
  const [hour, minute] = draft.time.split(':').map(Number)
  const clock = `${minute || 0} ${hour || 0}`
  const weeks = draft.weeks > 1 ? { weeks: draft.weeks, weeks_from: draft.weeksFrom } : {}
  switch (draft.kind) {
    case 'week':
      return { expr: `${clock} * * ${draft.weekdays.join(',') || '*'}`, ...weeks }
    case 'month':
      return { expr: `${clock} ${draft.monthDay} ${draft.months.join(',') || '*'} *` }
    case 'year':
      return { expr: `${clock} ${draft.yearDay} ${draft.yearMonth} *` }
    case 'interval':
      return {
        every_minutes: draft.unit === 'hours' ? draft.every * 60 : draft.every,
        anchor: `${draft.anchor}:00Z`,
      }
    case 'once':
      return { once: draft.once }
    default:
      return {
        expr: draft.code.trim(),
        ...(draft.years.trim() ? { years: draft.years.trim() } : {}),
        ...weeks,
      }
  }
}

/** What the server is asked for. */
export function bodyOf(draft: Draft): Schemas['TriggerIn'] {
  return {
    form: formOf(draft),
    zone: draft.zone,
    on_closed: draft.onClosed,
    window: draft.windowed ? { from: draft.from, to: draft.to } : null,
    missed: draft.missed,
    missed_hours: draft.missedHours,
    latest_minutes: draft.latest || null,
  }
}
