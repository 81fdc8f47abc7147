import { expect, test } from 'vitest'
import { kindOf } from '@/cases/shares'

test.each([
  ['unsuitable_share', 'share'],
  ['share_override', 'share'],
  ['share_reason', 'number'],
  ['discount_rate', 'share'],
  ['support_share', 'share'],
  ['volume', 'number'],
  ['effort_override', 'number'],
])('%s is a %s', (field, kind) => {
  expect(kindOf(field)).toBe(kind)
})
