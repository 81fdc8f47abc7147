import { describe, expect, it, test } from 'vitest'
import { copied, emptyInterview, ownKey, sent } from '@/ideas/interviewDraft'
import { columnsFor, FILTERS, sortsFor, USUAL, rareOf, reach, type Row } from '@/ideas/lists'
import { wantedOf } from '@/shared/useList'
import { filled, said, type Question } from '@/shared/questions'

const wanted = (address: Record<string, string>) => wantedOf((name) => address[name], FILTERS)

describe('the filters of an address', () => {
  it('go to the server in the types it takes', () => {
    const address = { stage: 'noted', owner: '12', late: 'yes', text: ' meter ', columns: 'stage,due' }
    expect(wanted(address)).toEqual({ stage: 'noted', owner: 12, late: true, text: ' meter ' })
  })

  it('leave out what is empty, unknown, or no number where one is needed', () => {
    expect(wanted({ stage: '', owner: 'Ada', reach_from: '1e9', older_than: '-3', sort: 'due' })).toEqual({})
  })
})

test('columns and orders are named once each, and the usual ones are there', () => {
  const keys = columnsFor(true).map((one) => one.key)
  expect(new Set(keys).size).toBe(keys.length)
  expect(keys).toEqual(expect.arrayContaining(USUAL))
  for (const one of columnsFor(true)) if (one.sort) expect(Object.keys(sortsFor(true))).toContain(one.sort)
  expect(rareOf(wanted({ stage: 'noted', late: '1', owner: '12', asked: '1' }))).toBe(2)
})

test('hours in reach are a range, or a dash', () => {
  expect(reach({ hours_low: 1200, hours_high: 2400 } as unknown as Row)).toBe('1,200–2,400')
  expect(reach({ hours_low: null, hours_high: null } as unknown as Row)).toBe('–')
})

const asked = (more: Partial<Question>): Question =>
  ({ key: 'x', kind: 'text', choices: [], value: null, shown: null, ...more }) as Question

describe('an answer in words', () => {
  test.each([
    [asked({}), 'not known'],
    [asked({ kind: 'volume', value: { amount: '40', rhythm: 'week' } as never }), '40 a week'],
    [
      asked({
        kind: 'arrives',
        value: [
          { kind: 'mail', part: '0.6' },
          { kind: 'scan', part: '0.4' },
        ] as never,
      }),
      'mail (0.6), scan (0.4)',
    ],
    [asked({ kind: 'of ten', value: '3' as never }), '3 of 10'],
    [asked({ key: 'minutes', value: '11' as never }), '11 minutes'],
    [
      asked({ kind: 'choice', value: 'b' as never, choices: [{ value: 'b', words: 'by hand' }] as never }),
      'by hand',
    ],
    [asked({ kind: 'choice', value: 'gone' as never }), 'gone'],
    [asked({ kind: 'person', value: 7 as never, shown: 'Ada Pell' as never }), 'Ada Pell'],
  ])('%#: %s', (question, text) => {
    expect(said(question)).toBe(text)
  })

  it('is sent once it says something', () => {
    expect(filled(asked({}), '')).toBe(false)
    expect(filled(asked({}), 'so')).toBe(true)
    expect(filled(asked({}), 0)).toBe(true)
    expect(filled(asked({ kind: 'volume' }), { amount: '', rhythm: 'week' })).toBe(false)
    expect(filled(asked({ kind: 'arrives' }), [])).toBe(false)
    expect(filled(asked({ kind: 'arrives' }), [{ kind: 'mail', part: '1' }])).toBe(true)
  })
})

const kept = {
  title: 'Whole',
  about: 'all questions',
  offered: true,
  steps: [
    {
      title: 'The work',
      questions: [
        { key: 'title', text: 'What?', help: '', needed: true, kind: 'text', standard: true, choices: [] },
        {
          key: 'own-1',
          text: 'Which?',
          help: '',
          needed: false,
          kind: 'choice',
          standard: false,
          choices: ['a'],
        },
      ],
    },
  ],
  left_out: [{ key: 'files', text: 'Files', help: '' }],
} as unknown as Parameters<typeof copied>[0]

describe('an interview in the editor', () => {
  it('is a copy: what is changed in it changes nothing that was read', () => {
    const draft = copied(kept)
    draft.steps[0]?.questions[1]?.choices.push('b')
    expect(kept.steps[0]?.questions[1]?.choices).toEqual(['a'])
    expect(draft.left_out[0]).toMatchObject({ key: 'files', kind: 'files', needed: false, standard: true })
  })

  it('begins anew as another without its name, or empty', () => {
    expect(emptyInterview(kept)).toMatchObject({ title: '', about: '', offered: false })
    expect(emptyInterview(kept).steps).toHaveLength(1)
    expect(emptyInterview(undefined)).toEqual({
      title: '',
      about: '',
      offered: false,
      steps: [],
      left_out: [],
    })
  })

  it('sends standard questions by their key alone', () => {
    const [title, own] = sent(copied(kept)).steps[0]?.questions ?? []
    expect(title).toMatchObject({ key: 'title', kind: '', choices: [] })
    expect(own).toMatchObject({ key: 'own-1', kind: 'choice', choices: ['a'] })
  })

  it('finds a key that is free', () => {
    expect(ownKey([])).toBe('own-1')
    expect(ownKey(['own-1', 'own-3', 'own-2'])).toBe('own-4')
  })
})

test('who sees no figures is offered none, and no order by them', () => {
  const keys = columnsFor(false).map((one) => one.key)
  expect(keys).not.toContain('worth')
  expect(keys).not.toContain('effort')
  expect(keys).toContain('reach')
  expect(Object.keys(sortsFor(false))).not.toContain('worth')
})
