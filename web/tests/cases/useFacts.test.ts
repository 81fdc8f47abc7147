import { describe, expect, it, vi } from 'vitest'
import { reactive } from 'vue'
import { ProblemError } from '@/api/client'
import { useFacts, type Fact } from '@/cases/useFacts'
import { within } from '../within'

type Body = Parameters<NonNullable<Parameters<typeof useFacts>[2]>>[0]
const fact = (field: string, value: unknown, version = 1) => ({ field, value, version }) as unknown as Fact

function begun(put: (body: Body) => Promise<unknown> = async () => null) {
  const rows = reactive([fact('volume', '40'), fact('people', '3', 4)])
  const asked = vi.fn(put)
  const { given } = within(() =>
    useFacts(
      () => 104,
      () => rows,
      asked,
    ),
  )
  return { facts: given, rows, asked }
}
const refused = (code: string, more: Record<string, unknown> = {}, fields: string[] = []) =>
  new ProblemError(
    409,
    code,
    'No.',
    '',
    fields.map((field) => ({ field, value: '', message: `${field} does not fit` })),
    more,
  )

describe('facts that are typed', () => {
  it('are kept with the version that was seen', async () => {
    const { facts, asked } = begun()
    await facts.keep('volume', '50', 'a talk')
    expect(asked.mock.calls).toEqual([
      [{ values: { volume: '50' }, versions: { volume: 1 }, source: 'a talk' }],
    ])
    expect(facts.busy.value).toBe(0)
  })

  it('are not sent when nothing changed', async () => {
    const { facts, asked } = begun()
    await facts.keep('volume', '40')
    expect(asked).not.toHaveBeenCalled()
  })

  it('go one after the other, so that nobody is in their own way', async () => {
    const order: string[] = []
    const { facts } = begun(async (body) => {
      const name = Object.keys(body.values)[0] ?? ''
      order.push(`${name} begins`)
      await Promise.resolve()
      order.push(`${name} ends`)
    })
    await Promise.all([facts.keep('volume', '50'), facts.keep('people', '5')])
    expect(order).toEqual(['volume begins', 'volume ends', 'people begins', 'people ends'])
  })

  it('stand at their field with the fault when they do not fit', async () => {
    const { facts } = begun(async () => {
      throw refused('input', {}, ['volume'])
    })
    await facts.keep('volume', 'many')
    expect(facts.faults.volume).toBe('volume does not fit')
    expect(facts.value('volume')).toBe('many')
    await facts.keep('volume', '40')
    expect(facts.faults.volume).toBeUndefined()
    expect(facts.value('volume')).toBe('40')
  })

  it('leave the next one alone when one is refused', async () => {
    const { facts, asked } = begun(async (body) => {
      if ('volume' in body.values) throw new Error('gone')
    })
    await Promise.all([facts.keep('volume', '50'), facts.keep('people', '5')])
    expect(asked).toHaveBeenCalledTimes(2)
    expect(facts.error.value).toBeNull()
    expect(facts.value('volume')).toBe('50')
  })
})

describe('a clash with somebody else', () => {
  const clash = { field: 'volume', version: 3, yours: '50' }
  function clashed() {
    const answers: (() => Promise<unknown>)[] = [
      () => Promise.reject(refused('conflict', clash)),
      async () => null,
    ]
    return begun(() => (answers.shift() ?? (async () => null))())
  }

  it('shows both, and mine goes on top of theirs when I say so', async () => {
    const { facts, asked } = clashed()
    await facts.keep('volume', '50')
    expect(facts.clash.value?.more).toEqual(clash)
    await facts.settle({})
    expect(asked.mock.calls[1]?.[0]).toMatchObject({ values: { volume: '50' }, versions: { volume: 3 } })
    expect(facts.clash.value).toBeNull()
  })

  it('leaves theirs as it stands otherwise', async () => {
    const { facts, asked } = clashed()
    await facts.keep('volume', '50')
    await facts.settle({ volume: 'theirs' })
    expect(asked).toHaveBeenCalledOnce()
    expect(facts.value('volume')).toBe('40')
  })

  it('counts from the version that stood when typing began', async () => {
    const { facts, rows, asked } = begun()
    rows[0] = fact('volume', '41', 2)
    await facts.typedOver('volume', '50', 1)
    expect(asked.mock.calls[0]?.[0]).toMatchObject({ versions: { volume: 1 } })
  })
})
