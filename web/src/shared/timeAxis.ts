import { writtenAs } from './format'
import { instant, offset } from './wall'

/** From when to when: days as 2026-10-02, the last one whole, or instants. */
export interface Bar {
  from: string
  to: string
  words: string
  /** Stands behind the others: what was promised beside what is expected. */
  behind?: boolean
}
export interface AxisRow {
  name: string
  bars: readonly Bar[]
}
export interface Tick {
  at: number
  words: string
}

const DAY = 86_400_000
const HOUR = 3_600_000
const onlyDay = (text: string): boolean => /^\d{4}-\d{2}-\d{2}$/.test(text)

/** A bar's ends as instants: a day begins and ends in the zone. */
export function endsOf(bar: Pick<Bar, 'from' | 'to'>, zone: string): [number, number] {
  const begin = onlyDay(bar.from) ? instant(Date.parse(`${bar.from}T00:00Z`), zone) : Date.parse(bar.from)
  const end = onlyDay(bar.to) ? instant(Date.parse(`${bar.to}T00:00Z`) + DAY, zone) : Date.parse(bar.to)
  return [begin, end]
}

const first = (wall: number): Date => new Date(Math.floor(wall / DAY) * DAY)
const STEPS: [most: number, step: (wall: Date) => Date, format: Intl.DateTimeFormatOptions][] = [
  // up to two days by three hours, up to three weeks by days, up to ten weeks by weeks, up to two years by months, then by years.
  [
    2 * DAY,
    (at) => new Date((Math.floor(at.getTime() / (3 * HOUR)) + 1) * 3 * HOUR),
    { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' },
  ],
  [21 * DAY, (at) => new Date(first(at.getTime()).getTime() + DAY), { weekday: 'short', day: 'numeric' }],
  [
    70 * DAY,
    (at) => new Date(first(at.getTime()).getTime() + ((8 - at.getUTCDay()) % 7 || 7) * DAY),
    { day: 'numeric', month: 'short' },
  ],
  [
    731 * DAY,
    (at) => new Date(Date.UTC(at.getUTCFullYear(), at.getUTCMonth() + 1, 1)),
    { month: 'short', year: '2-digit' },
  ],
  [Infinity, (at) => new Date(Date.UTC(at.getUTCFullYear() + 1, 0, 1)), { year: 'numeric' }],
]

/** Where the axis is marked between two instants, in the units that its length asks for. */
export function ticksOf(from: number, to: number, zone: string, locale = writtenAs()): Tick[] {
  const [, step, format] = STEPS.find(([most]) => to - from <= most)!
  const words = new Intl.DateTimeFormat(locale, { ...format, timeZone: zone })
  const ticks: Tick[] = []
  for (let wall = step(new Date(from + offset(from, zone))); ; wall = step(wall)) {
    const at = instant(wall.getTime(), zone)
    if (at >= to) return ticks
    ticks.push({ at, words: words.format(at) })
  }
}
