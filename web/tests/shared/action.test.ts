import { expect, test, vi } from 'vitest'
import { api } from '@/api/client'
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

async function changed(...subjects: string[]): Promise<void> {
  const headers = subjects.length ? { 'X-Changed': subjects.join(', ') } : undefined
  const fetch = () => Promise.resolve(new Response('{}', { status: 200, headers }))
  await api.POST('/api/v1/notifications/read', { params: { query: { upto: 1 } }, fetch })
}

test('only what it touches is asked again, where a page must not lose what it shows', async () => {
  const some = within(() => useAction(async () => 1, [['ideas'], ['today']]))
  const asked = vi.spyOn(some.queries, 'invalidateQueries')
  await some.given.go()
  expect(asked.mock.calls).toEqual([[{ queryKey: ['ideas'] }], [{ queryKey: ['today'] }]])
})

test('what the server names is asked again alone, where no other figure rests on it', async () => {
  const read = within(() => useAction(() => changed('notifications', 'views')))
  const asked = vi.spyOn(read.queries, 'invalidateQueries')
  await read.given.go()
  const keys = ['notifications', 'views', 'today'].map((subject) => [{ queryKey: [subject] }])
  expect(asked.mock.calls).toEqual(keys)
})

test.each([[['ideas']], [['notifications', 'rates']], [[]]])(
  'whatever is shown is asked again once %j changed',
  async (subjects: string[]) => {
    const act = within(() => useAction(() => changed(...subjects)))
    const asked = vi.spyOn(act.queries, 'invalidateQueries')
    await act.given.go()
    expect(asked.mock.calls).toEqual([[]])
  },
)
