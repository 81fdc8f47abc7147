import { expect, test, vi } from 'vitest'
import { useAction } from '@/shared/action'
import { within } from '../within'

function later<T>() {
  let settle: (value: T) => void = () => {}
  let refuse: (reason: unknown) => void = () => {}
  const promise = new Promise<T>((yes, no) => ((settle = yes), (refuse = no)))
  return { promise, settle, refuse }
}

test('a second click while the first is on its way does nothing', async () => {
  const way = later<number>()
  const work = vi.fn(() => way.promise)
  const { given: act } = within(() => useAction(work))
  const first = act.go()
  expect(act.busy.value).toBe(true)
  expect(await act.go()).toBeUndefined()
  way.settle(7)
  expect(await first).toBe(7)
  expect(work).toHaveBeenCalledOnce()
  expect(act.busy.value).toBe(false)
})

test('what was refused is kept until the next try', async () => {
  const work = vi
    .fn<() => Promise<string>>()
    .mockRejectedValueOnce(new Error('no'))
    .mockResolvedValueOnce('yes')
  const { given: act } = within(() => useAction(work))
  expect(await act.go()).toBeUndefined()
  expect(act.error.value).toEqual(new Error('no'))
  expect(await act.go()).toBe('yes')
  expect(act.error.value).toBeNull()
})

test('only what it touches is asked again, and all of it unless it says so', async () => {
  const some = within(() => useAction(async () => 1, [['ideas'], ['today']]))
  const asked = vi.spyOn(some.queries, 'invalidateQueries')
  await some.given.go()
  expect(asked.mock.calls).toEqual([[{ queryKey: ['ideas'] }], [{ queryKey: ['today'] }]])
  const all = within(() => useAction(async () => 1))
  const everything = vi.spyOn(all.queries, 'invalidateQueries')
  await all.given.go()
  expect(everything.mock.calls).toEqual([[]])
})
