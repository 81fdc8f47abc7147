import { expect, test } from 'vitest'
import { spansOf } from '@/robots/sitting'

const at = (...said: string[]) => said.map((screen, n) => ({ at: `2026-03-10T09:0${n}:00Z`, screen }))
const minute = (n: number) => `2026-03-10T09:0${n}:00Z`

test('readings in a row that say the same are one span, the latest first', () => {
  expect(spansOf(at('', 'in use', 'in use', 'locked', 'locked', ''))).toEqual([
    { what: 'locked', from: minute(3), to: minute(4) },
    { what: 'in use', from: minute(1), to: minute(2) },
  ])
})

test('what is so still has no end', () => {
  expect(spansOf(at('idle', 'locked'))).toEqual([{ what: 'locked', from: minute(1), to: null }])
})

test('a span that was broken off begins anew, and what readings said before is passed over', () => {
  expect(spansOf(at('in use', 'idle', 'in use', '1920x1080')).map((one) => one.from)).toEqual([
    minute(2),
    minute(0),
  ])
  expect(spansOf(at('none', '', 'idle'))).toEqual([])
})
