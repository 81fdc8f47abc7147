import type { Schemas } from '@/api/client'

/** How a release is rolled out; of stages: what goes first, and what lets the rest follow or brings it back. */
export interface Stages {
  how: Schemas['RollOutIn']['how'] & string
  first: 'area' | 'robot'
  robot: number | null
  area: number | null
  good_wanted: number | null
  bad_allowed: number | null
}
export const NO_STAGES: Stages = {
  how: 'at once',
  first: 'area',
  robot: null,
  area: null,
  good_wanted: 3,
  bad_allowed: 0,
}

/** Each part of a roll-out as a glyph, by what became of it. */
export const PART_SHAPES = { waits: 'waiting', changed: 'done', back: 'lost', left: 'draft' } as const
export const PART_SAID = {
  waits: 'waits for the first',
  changed: 'has it',
  back: 'back at the one before',
  left: 'left as it is',
} as const
/** How it goes, in words that stand in a sentence. */
export const HOW_SAID = { 'at once': 'at once', 'on trial': 'on trial first', staged: 'in stages' } as const
