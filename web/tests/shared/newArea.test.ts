import { beforeEach, expect, test } from 'vitest'
import { newArea, noteNewArea } from '@/shared/newArea'

const AREAS = [{ id: 3 }, { id: 7 }]
const NOON = 1_773_140_400_000
const MINUTE = 60_000

beforeEach(() => sessionStorage.clear())

test('the area made a moment ago is offered, and a quarter of an hour later no more', () => {
  expect(newArea(AREAS, NOON)).toBeNull()
  noteNewArea(7, NOON)
  expect(newArea(AREAS, NOON + 14 * MINUTE)).toBe(7)
  expect(newArea(AREAS, NOON + 15 * MINUTE)).toBeNull()
})

test('one that cannot be chosen there, or what is no note at all, is offered to nobody', () => {
  noteNewArea(9, NOON)
  expect(newArea(AREAS, NOON)).toBeNull()
  sessionStorage.setItem('tallyman-new-area', 'no note')
  expect(newArea(AREAS, NOON)).toBeNull()
})
