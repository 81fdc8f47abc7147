import { describe, expect, it } from 'vitest'
import { forPython, forShell, inPython, sampleInputs } from '@/starts/examples'

const call = {
  url: 'https://tally.example/api/v1/called/7?wait=30',
  token: 'tally_start_abc',
  key: 'routine-7-2026-03-10',
  inputs: { street: "Miller's Lane", deep: true, note: null, rows: [1, 2] },
}

describe('the examples of a call', () => {
  it('hold for the shell whatever an input says', () => {
    const text = forShell(call)
    expect(text).toContain(`-d '{"street":"Miller'\\''s Lane","deep":true,"note":null,"rows":[1,2]}'`)
    expect(text).toContain(`-H 'Authorization: Bearer tally_start_abc' \\`)
  })

  it('are Python as Python writes it', () => {
    expect(inPython(call.inputs)).toBe(
      `{"street": "Miller's Lane", "deep": True, "note": None, "rows": [1, 2]}`,
    )
    expect(forPython(call)).toContain('"Idempotency-Key": "routine-7-2026-03-10",')
  })

  it('give a sample for what a start needs and the set-up does not say', () => {
    const schema = {
      required: ['list', 'kind', 'rows', 'person'],
      properties: {
        list: { type: 'string' },
        kind: { enum: ['new', 'old'] },
        rows: { type: 'integer' },
        left: { type: 'string' },
        person: { type: 'object', required: ['name'], properties: { name: { examples: ['Ada'] } } },
      },
    }
    expect(sampleInputs(schema, { rows: 4 })).toEqual({
      list: '…',
      kind: 'new',
      rows: 4,
      person: { name: 'Ada' },
    })
    expect(sampleInputs({}, { rows: 4 })).toEqual({ rows: 4 })
  })
})
