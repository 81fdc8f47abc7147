import type { Schemas } from '@/api/client'
/** The fields of a routine's form that show their own faults; of inputs all of them. */
export const ROUTINE_FIELDS = [
  'name',
  'area',
  'area_id',
  'release',
  'release_id',
  'release_why',
  'inputs.',
  'idea',
  'idea_id',
  'count_name',
  'tags',
  'asked.',
  'attended',
  'attended_for',
  'locks',
  'priority',
  'run_limit',
  'limit_minutes',
  'lease_minutes',
  'most_attempts',
  'memory_mb',
]

/** Nothing asked of a host beside tags. */
export const NOTHING_ASKED = {
  system: '',
  processors: 0,
  memory_gb: 0,
  disk_gb: 0,
  screen: false,
  applications: [] as string[],
}

/** A routine as its form holds it. */
export function setupOf(now: Schemas['Routine']): Schemas['RoutineIn'] {
  const { name, area_id, release_id, priority, run_limit, again_after_lost, most_attempts } = now
  const { lease_minutes, limit_minutes, memory_mb, idea_id } = now
  return {
    ...{ name, area_id, release_id, priority, run_limit, again_after_lost, most_attempts },
    ...{ lease_minutes, limit_minutes, memory_mb, idea_id },
    attended: now.attended,
    attended_for: now.attended_for ?? null,
    inputs: { ...now.inputs },
    tags: [...now.tags],
    asked: { ...now.asked, applications: [...now.asked.applications] },
    locks: [...now.locks],
    basis: now.basis === 'count' ? 'count' : 'run',
    count_name: now.count_name ?? '',
    trial_again: false,
    release_why: '',
  }
}

/** The same for a copy: its name and area are chosen anew, and what one routine alone can have stays behind. */
export function copyOf(now: Schemas['Routine']): Schemas['RoutineIn'] {
  return { ...setupOf(now), name: '', area_id: 0, idea_id: null, basis: 'run', count_name: '' }
}

/** What a copy does not take along, in words. */
export function leftBehind(now: Schemas['Routine']): string[] {
  return [
    now.idea_id ? `the idea it counts for, I-${now.idea_id} ${now.idea ?? ''}`.trim() : '',
    now.triggers.length ? `its starts on the clock (${now.triggers.length})` : '',
    'its address for other programs, if it has one',
  ].filter(Boolean)
}
