import { number } from '@/shared/format'
import type { Schemas } from '@/api/client'
import type { Column, Filters, Wanted } from '@/shared/useList'

export type Row = Schemas['IdeaRow']

/** The columns that a list of ideas can show beside the idea itself. */
const COLUMNS: Column[] = [
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
/** What only those are shown who see what ideas are worth. */
const FIGURES = ['worth', 'effort']
export const columnsFor = (figures: boolean): Column[] =>
  figures ? COLUMNS : COLUMNS.filter((column) => !FIGURES.includes(column.key))
export const sortsFor = (figures: boolean): Record<string, string> =>
  figures ? SORTS : Object.fromEntries(Object.entries(SORTS).filter(([key]) => !FIGURES.includes(key)))
export const USUAL = ['stage', 'reach', 'due']
const SORTS: Record<string, string> = {
  reach: 'hours in reach',
  newest: 'newest',
  changed: 'last changed',
  due: 'due first',
  oldest: 'longest in its stage',
  worth: 'worth',
  title: 'name',
}
/** What an address can ask of the list; everything else in it is about how the list looks. */
export const FILTERS: Filters = {
  stage: 'words',
  text: 'words',
  division: 'whole',
  late: 'yes',
  owner: 'whole',
  route: 'words',
  source: 'words',
  system: 'words',
  reach_from: 'whole',
  reach_to: 'whole',
  worth_from: 'whole',
  worth_to: 'whole',
  older_than: 'whole',
  asked: 'yes',
  amendments: 'yes',
}
/** Those that always stand above the list. */
const FACETS = ['stage', 'text', 'division', 'late']
/** How many of the others are set. */
export const rareOf = (wanted: Wanted): number =>
  Object.keys(wanted).filter((name) => !FACETS.includes(name)).length

/** Hours in reach as a range. */
export const reach = (row: Row): string =>
  row.hours_low === null ? '–' : `${number(row.hours_low)}–${number(row.hours_high)}`
