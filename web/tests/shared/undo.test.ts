import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import {
  doing,
  doNow,
  doSoon,
  isPending,
  readRefused,
  refused,
  SECONDS,
  takeBack,
  type Last,
} from '@/shared/undo'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => {
  while (doing.value.length) takeBack()
  readRefused()
  vi.useRealTimers()
})
const later = (seconds: number) => vi.advanceTimersByTimeAsync(seconds * 1000)

test('an act is carried out once its time is over, and then what follows from it', async () => {
  const act = vi.fn(() => Promise.resolve())
  const after = vi.fn()
  doSoon('Screened I-104', 'idea-104', act, after)
  expect([doing.value[0]?.words, isPending('idea-104')]).toEqual(['Screened I-104', true])
  await later(SECONDS - 1)
  expect(act).not.toHaveBeenCalled()
  await later(1)
  expect(act).toHaveBeenCalledOnce()
  expect(after).toHaveBeenCalledOnce()
  expect(isPending('idea-104')).toBe(false)
})

test('what was sent is passed over until the lists were read anew', async () => {
  let answered = () => {}
  let read = () => {}
  const act = () => new Promise<void>((done) => (answered = done))
  doSoon('Screened I-104', 'idea-104', act, () => new Promise<void>((done) => (read = done)))
  await later(SECONDS)
  expect([doing.value.length, isPending('idea-104')]).toEqual([0, true])
  answered()
  await later(0)
  expect(isPending('idea-104')).toBe(true)
  read()
  await later(0)
  expect(isPending('idea-104')).toBe(false)
})

test('taken back, it never happens', async () => {
  const act = vi.fn(() => Promise.resolve())
  doSoon('Screened I-104', 'idea-104', act)
  takeBack()
  await later(SECONDS * 2)
  expect(act).not.toHaveBeenCalled()
  expect(doing.value).toEqual([])
})

test('the latest is taken back first, or the one that is meant', async () => {
  const acts = [vi.fn(() => Promise.resolve()), vi.fn(() => Promise.resolve())]
  doSoon('first', 'a', acts[0]!)
  doSoon('second', 'b', acts[1]!)
  takeBack()
  expect(doing.value.map((one) => one.words)).toEqual(['first'])
  takeBack(doing.value[0])
  await later(SECONDS * 2)
  expect(acts.map((act) => act.mock.calls.length)).toEqual([0, 0])
})

test('done now, it does not wait, and is done once', async () => {
  const act = vi.fn(() => Promise.resolve())
  doSoon('Screened I-104', 'idea-104', act)
  const one = doing.value[0]!
  doNow(one)
  doNow(one)
  await later(SECONDS * 2)
  expect(act).toHaveBeenCalledOnce()
})

test('what the server refuses after all is said until it was read', async () => {
  doSoon('Screened I-104', 'idea-104', () => Promise.reject(new Error('it was merged meanwhile')))
  await later(SECONDS)
  expect(refused.value[0]).toMatchObject({ words: 'Screened I-104' })
  expect(refused.value[0]?.why).toContain('merged meanwhile')
  readRefused()
  expect(refused.value.length).toBe(0)
})

test('a page that is closed sends what is pending, in a way that outlives it', async () => {
  const { carryOutOnLeaving } = await import('@/shared/undo')
  const { within } = await import('../within')
  within(() => carryOutOnLeaving())
  const act = vi.fn((init: Last) => Promise.resolve(init))
  doSoon('Screened I-104', 'idea-104', act)
  window.dispatchEvent(new Event('pagehide'))
  expect(act).toHaveBeenCalledWith({ keepalive: true })
})

test('what was typed comes back where it was typed, when it is taken back or refused', async () => {
  const back = vi.fn()
  doSoon('I-104 is declined', 'idea-104', () => Promise.resolve(), undefined, back)
  takeBack()
  expect(back).toHaveBeenCalledTimes(1)
  doSoon('I-104 is declined', 'idea-104', () => Promise.reject(new Error('gone')), undefined, back)
  await vi.advanceTimersByTimeAsync(SECONDS * 1000)
  expect(back).toHaveBeenCalledTimes(2)
  doSoon('I-104 is declined', 'idea-104', () => Promise.resolve(), undefined, back)
  await vi.advanceTimersByTimeAsync(SECONDS * 1000)
  expect(back).toHaveBeenCalledTimes(2)
})
