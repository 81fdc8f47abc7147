import { expect, test, vi } from 'vitest'
import { keysHere, listenForKeys, useKeys } from '@/shared/keys'
import { within } from '../within'

function press(key: string, from: Element = document.body, more: KeyboardEventInit = {}) {
  from.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }))
}

test('a key acts while nothing is typed, as long as its part stands on the page', () => {
  within(listenForKeys)
  const act = vi.fn()
  const { wrapper } = within(() => useKeys([{ key: 's', words: 'Screen it', act }]))
  press('s')
  expect(act).toHaveBeenCalledOnce()
  wrapper.unmount()
  press('s')
  expect(act).toHaveBeenCalledOnce()
})

test('whoever types, or holds another key, is left alone', () => {
  within(listenForKeys)
  const act = vi.fn()
  within(() => useKeys([{ key: 's', words: 'Screen it', act }]))
  const field = document.body.appendChild(document.createElement('textarea'))
  press('s', field)
  press('s', document.body, { ctrlKey: true })
  expect(act).not.toHaveBeenCalled()
  field.remove()
})

test('a key that cannot act just now does not, and the latest part goes first', () => {
  within(listenForKeys)
  const [first, second] = [vi.fn(), vi.fn()]
  within(() => useKeys([{ key: 'm', words: 'first', act: first }]))
  let ready = false
  within(() => useKeys([{ key: 'm', words: 'second', act: second, when: () => ready }]))
  press('m')
  expect([first.mock.calls.length, second.mock.calls.length]).toEqual([1, 0])
  ready = true
  press('m')
  expect(second).toHaveBeenCalledOnce()
  expect(keysHere.value.map((one) => one.words)).toEqual(['second', 'first'])
})
