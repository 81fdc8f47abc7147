import { expect, test } from 'vitest'
import { reachable } from '@/app/scrolling'

function table(wide: number, room: number): HTMLTableElement {
  const one = document.createElement('table')
  one.className = 'ledger'
  Object.defineProperty(one, 'scrollWidth', { get: () => wide })
  Object.defineProperty(one, 'clientWidth', { get: () => room })
  return one
}

test('a table that scrolls within itself is reached by keys, one that fits is not in their way', () => {
  const page = document.createElement('main')
  const [wide, narrow] = [table(580, 362), table(362, 362)]
  narrow.tabIndex = 0
  page.append(wide, narrow)
  reachable(page)
  expect(wide.getAttribute('tabindex')).toBe('0')
  expect(narrow.hasAttribute('tabindex')).toBe(false)
})
