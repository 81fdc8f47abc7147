import { number } from '@/shared/format'
import type { Schemas } from '@/api/client'

export type Row = Schemas['IdeaRow']

/** The columns that a list of ideas can show beside the idea itself. */
export const COLUMNS: { key: string; name: string; num?: boolean; sort?: string }[] = [
  { key: 'stage', name: 'Stage' },
  { key: 'reach', name: 'In reach, h a year', num: true, sort: 'reach' },
  { key: 'worth', name: 'Worth a year', num: true, sort: 'worth' },
  { key: 'effort', name: 'Effort, days', num: true },
  { key: 'due', name: 'Next move due', num: true, sort: 'due' },
  { key: 'since', name: 'In its stage since', num: true, sort: 'oldest' },
  { key: 'owner', name: 'Work owner' },
  { key: 'source', name: 'Came in by' },
  { key: 'route', name: 'Route' },
  { key: 'changed', name: 'Last changed', num: true, sort: 'changed' },
]
export const USUAL = ['stage', 'reach', 'due']
export const SORTS: Record<string, string> = {
  reach: 'hours in reach',
  newest: 'newest',
  changed: 'last changed',
  due: 'due first',
  oldest: 'longest in its stage',
  worth: 'worth',
  title: 'name',
}
export const SOURCES = ['interview', 'the team', 'spreadsheet', 'a program', 'runs already', 'a study']
export const STAGES = [
  'noted',
  'screened',
  'sized',
  'backed',
  'building',
  'in service',
  'parked',
  'declined',
  'merged',
  'withdrawn',
]
/** What an address can ask of the list; everything else in it is about how the list looks. */
export const FILTERS = [
  'stage',
  'text',
  'division',
  'owner',
  'route',
  'source',
  'system',
  'reach_from',
  'reach_to',
  'worth_from',
  'worth_to',
  'older_than',
  'late',
  'asked',
  'amendments',
] as const
export const WHOLE = ['division', 'owner', 'reach_from', 'reach_to', 'worth_from', 'worth_to', 'older_than']
export const YES = ['late', 'asked', 'amendments']

/** The filters of an address in the types that the API takes. */
export function wantedOf(
  one: (name: string) => string | undefined,
): Record<string, string | number | boolean> {
  const found: Record<string, string | number | boolean> = {}
  for (const name of FILTERS) {
    const value = one(name)
    if (value === undefined || value === '') continue
    if (YES.includes(name)) found[name] = true
    else if (!WHOLE.includes(name)) found[name] = value
    else if (/^\d{1,9}$/.test(value)) found[name] = Number(value)
  }
  return found
}

/** Hours in reach as a range. */
export const reach = (row: Row): string =>
  row.hours_low === null ? '–' : `${number(row.hours_low)}–${number(row.hours_high)}`
