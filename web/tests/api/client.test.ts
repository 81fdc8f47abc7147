import { describe, expect, it, test } from 'vitest'
import { ask, newKey, ProblemError } from '@/api/client'

const response = (status: number) => new Response(null, { status })
const problem = async (call: Promise<never> | Promise<{ error?: unknown; response: Response }>) =>
  ask(call).then(
    () => expect.unreachable(),
    (error: unknown) => error as ProblemError,
  )

test('an answer is its data', async () => {
  expect(await ask(Promise.resolve({ data: { id: 4 }, response: response(200) }))).toEqual({ id: 4 })
})

describe('what goes wrong', () => {
  it('is told in the words of the server, with its faults', async () => {
    const error = {
      code: 'input',
      detail: 'Something does not fit.',
      mend: 'Mend it.',
      errors: [{ field: 'name', value: '', message: 'give a name' }],
      more: { version: 3 },
    }
    const found = await problem(Promise.resolve({ error, response: response(422) }))
    expect(found).toBeInstanceOf(ProblemError)
    expect([found.status, found.code, found.message, found.mend]).toEqual([
      422,
      'input',
      'Something does not fit.',
      'Mend it.',
    ])
    expect(found.faults[0]?.field).toBe('name')
    expect(found.more.version).toBe(3)
  })

  it('has words of its own where the server has none', async () => {
    const found = await problem(Promise.resolve({ error: {}, response: response(502) }))
    expect([found.code, found.message]).toEqual(['unexpected', 'The server answered 502.'])
  })

  it('is a problem too when nobody answers', async () => {
    const found = await problem(Promise.reject(new TypeError('no network')))
    expect([found.status, found.code]).toEqual([0, 'no_answer'])
  })
})

test('keys of starts are new each time', () => {
  expect(new Set(Array.from({ length: 200 }, newKey)).size).toBe(200)
})
