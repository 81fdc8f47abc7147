/** A phase of the plan; its working days follow the person-days unless they were set apart. */
export interface Phase {
  name: string
  person_days: string | null
  day_rate: string | null
  days: string | number | null
  lag: string | number | null
}

/** The working days that follow from the person-days of a phase. */
export const followed = (phase: Pick<Phase, 'person_days'>): number =>
  Math.ceil(Number(phase.person_days || 0))

/** A phase whose days are those of its person-days follows them when these change. */
export function following(phase: Phase): Phase {
  const apart = phase.days !== null && phase.days !== '' && Number(phase.days) !== followed(phase)
  return { ...phase, days: apart ? phase.days : null }
}
