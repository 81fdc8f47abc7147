import { FIELDS } from '@/api/words'

/** Where an input of a sizing or case is given: its field, and the sheet that holds it. */

const GIVEN_AS: Record<string, string> = {
  volume_per_year: 'volume',
  automatable_share: 'judged_share',
  go_live: 'phases',
  start: 'plan_start',
}

/** The field that an input's name stands for. */
export function fieldOf(name: string): string {
  const base = name.split('[')[0] ?? name
  return GIVEN_AS[base] ?? base
}

/** The place of an input on the page of its idea. */
export function fieldPlace(name: string): { query: { sheet: string; field: string } } {
  const field = fieldOf(name)
  return { query: { sheet: FIELDS[field]?.sheet ?? 'case', field } }
}

const WORDS: Record<string, string> = {
  judge: 'how many need judging',
  off: 'how many go off the usual way',
  arrives: 'what it arrives as',
  changed: 'how much it changed',
  announced: 'what change is announced',
  volume_per_year: 'how often it comes',
  minutes: 'minutes each',
}

/** What an input is called where it is missing. */
export function wordsOf(name: string): string {
  return WORDS[name] ?? FIELDS[name]?.label?.toLowerCase() ?? name.replaceAll('_', ' ')
}
