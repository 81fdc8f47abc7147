import { RHYTHMS } from './questions'

export interface SizingField {
  field: string
  unit?: string
  kind?: 'text' | 'choice'
  choices?: readonly string[]
}

/** Facts that a sizing can do without. */
export const OPTIONAL: readonly string[] = [
  'volume_low',
  'volume_high',
  'share_low',
  'share_high',
  'effort_low',
  'effort_high',
  'minutes_low',
  'minutes_high',
  'people',
  'hours_a_week',
  'role',
  'share_override',
  'share_reason',
  'effort_override',
  'effort_reason',
]

/** The facts of a sizing that are typed one by one, as the sheet groups them. */
export const GROUPS: readonly { name: string; fields: readonly SizingField[] }[] = [
  {
    name: 'How much',
    fields: [
      { field: 'volume_low', unit: 'items' },
      { field: 'volume', unit: 'items' },
      { field: 'volume_high', unit: 'items' },
      { field: 'rhythm', kind: 'choice', choices: RHYTHMS },
      { field: 'minutes_low', unit: 'min' },
      { field: 'handling_minutes', unit: 'min' },
      { field: 'minutes_high', unit: 'min' },
    ],
  },
  {
    name: 'Who does it',
    fields: [{ field: 'people' }, { field: 'hours_a_week', unit: 'h each' }, { field: 'role', kind: 'text' }],
  },
  {
    name: 'How it goes',
    fields: [
      { field: 'judged_share' },
      { field: 'unsuitable_share' },
      { field: 'rework_share' },
      { field: 'rework_minutes', unit: 'min' },
    ],
  },
  {
    name: 'What it touches',
    fields: [
      { field: 'steps' },
      { field: 'decisions' },
      { field: 'variants' },
      { field: 'languages' },
      { field: 'reused_parts' },
    ],
  },
  {
    name: 'How sure it is',
    fields: [
      { field: 'share_low' },
      { field: 'share_high' },
      { field: 'effort_low', unit: 'days' },
      { field: 'effort_high', unit: 'days' },
    ],
  },
  {
    name: 'By judgement, beside what is computed',
    fields: [
      { field: 'share_override' },
      { field: 'share_reason', kind: 'text' },
      { field: 'effort_override', unit: 'days' },
      { field: 'effort_reason', kind: 'text' },
    ],
  },
]
