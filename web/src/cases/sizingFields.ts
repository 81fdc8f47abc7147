import { RHYTHMS } from '@/api/words'
import type { SheetField } from './factSheet'

/** The facts of a sizing that are typed one by one, as the sheet groups them. */
export const GROUPS: readonly { name: string; fields: readonly SheetField[] }[] = [
  {
    name: 'How much',
    fields: [
      { field: 'volume_low', about: 'when little comes', unit: 'items' },
      { field: 'volume', about: 'how many come, by the rhythm beside it', unit: 'items' },
      { field: 'volume_high', about: 'when much comes', unit: 'items' },
      { field: 'rhythm', kind: 'choice', choices: RHYTHMS },
      { field: 'minutes_low', about: 'when all goes well', unit: 'min' },
      { field: 'handling_minutes', about: 'minutes of work on one', unit: 'min' },
      { field: 'minutes_high', about: 'when it is hard', unit: 'min' },
    ],
  },
  {
    name: 'Who does it',
    fields: [
      { field: 'people', about: 'how many people share it' },
      { field: 'hours_a_week', about: 'of one person', unit: 'h each' },
      { field: 'role', about: 'as the cost tables name it', kind: 'text' },
    ],
  },
  {
    name: 'How it goes',
    fields: [
      { field: 'judged_share', about: 'part where somebody has to stop and judge' },
      { field: 'unsuitable_share', about: 'part that a robot cannot take at all' },
      { field: 'rework_share', about: 'part that is done once more' },
      { field: 'rework_minutes', about: 'minutes to do one once more', unit: 'min' },
    ],
  },
  {
    name: 'What it touches',
    fields: [
      { field: 'steps', about: 'done one after the other for one item' },
      { field: 'decisions', about: 'forks: if this, then that' },
      { field: 'variants', about: 'ways it goes that differ much; one way is 1' },
      { field: 'languages', about: 'languages that it comes in' },
      { field: 'reused_parts', about: 'parts of ours that fit' },
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
