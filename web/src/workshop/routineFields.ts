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
