import { beforeEach, describe, expect, it, vi } from 'vitest'
import { releaseMarks } from '@/shared/picture'
import RolloutPage from '@/workshop/RolloutPage.vue'
import RolloutRoutine from '@/workshop/RolloutRoutine.vue'
import { onPage } from '../within'

const asked = vi.hoisted(() => ({ get: vi.fn(), post: vi.fn() }))
vi.mock('@/api/client', async (original) => ({
  ...(await original<object>()),
  api: { GET: asked.get, POST: asked.post },
  ask: (one: Promise<unknown>) => one,
}))

const words = (text: string) => text.replace(/\s+/g, ' ')
const row = {
  id: 7,
  name: 'Count rows',
  area: 'Metering',
  area_id: 1,
  on_trial: false,
  release_id: 3,
  release_version: '1.0.0',
  changes: [],
  inputs: { rows: 2 },
  needs: [
    { key: 'inputs', words: 'Inputs fit the release', met: false, fact: 'Place is needed', mend: '' },
    { key: 'free', words: 'that is free', met: true, fact: 'Dipper 1', mend: '' },
  ],
  against: ['Inputs fit the release: Place is needed'],
  waiting: 2,
  rollout: null,
}
const schema = { properties: { rows: { type: 'integer' }, place: { type: 'string', title: 'Place' } } }

describe('a routine that could take a release', () => {
  it('says once what is against it, and cannot be chosen', async () => {
    const { wrapper } = await onPage(RolloutRoutine, { row, schema, chosen: false, inputs: null })
    expect(wrapper.text().split('Place is needed')).toHaveLength(2)
    expect(wrapper.find('input[type=checkbox]').attributes('disabled')).toBeDefined()
    expect(words(wrapper.text())).toContain('2 runs wait with 1.0.0')
  })

  it('is given other inputs in place', async () => {
    const { wrapper } = await onPage(RolloutRoutine, { row, schema, chosen: false, inputs: null })
    const open = wrapper.findAll('button').find((one) => one.text() === 'Its inputs')
    await open?.trigger('click')
    const place = wrapper.findAll('input[type=text]').at(-1)
    await place?.setValue('Quay')
    await place?.trigger('change')
    expect(wrapper.emitted('inputs')?.at(-1)).toEqual([{ rows: 2, place: 'Quay' }])
  })
})

describe('the page of a roll-out', () => {
  const data = {
    id: 4,
    release_id: 9,
    package: 'count-rows',
    version: '2.0.0',
    how: 'staged',
    state: 'under way',
    why: 'The list',
    person: 'Sol Marin',
    made_at: '2026-03-10T09:00:00Z',
    first: 'the area Street works',
    good_wanted: 3,
    bad_allowed: 1,
    good: 1,
    bad: 0,
    said: '1 of 3 runs ended well, 0 failed or lost; it goes back at 2',
    ended_at: null,
    ended_by: null,
    ended_words: '',
    parts: [
      {
        routine_id: 7,
        routine: 'Count rows',
        area: 'Street works',
        goes_first: true,
        state: 'changed',
        words: '',
        old_release: 3,
        old_version: '1.0.0',
        changed_at: null,
        good: 1,
        bad: 0,
      },
    ],
    unseen: 2,
    still: 1,
    may: true,
    against: '',
  }
  beforeEach(() => asked.get.mockReset())
  const shown = async (more: object) => {
    asked.get.mockImplementation((path = '') =>
      Promise.resolve(
        String(path).includes('/rollouts/') ? { ...data, ...more } : path === '/api/v1/me' ? {} : [],
      ),
    )
    return (await onPage(RolloutPage)).wrapper
  }

  it('says how the first do and what follows from it', async () => {
    const wrapper = await shown({})
    const text = words(wrapper.text())
    expect(text).toContain(data.said)
    expect(text).toContain('goes back by themselves at 2 runs'.replace('goes', 'go'))
    expect(text).toContain('2 more routines of it you do not see.')
    expect(text).toContain('Let the rest follow now')
  })

  it('offers nothing to who may change none of it, nor where it is over', async () => {
    expect((await shown({ may: false, against: 'Some lie elsewhere.' })).text()).not.toContain('Go back')
    expect((await shown({ state: 'gone back' })).text()).not.toContain('Go back')
    expect((await shown({ state: 'done', still: 0 })).text()).not.toContain('Go back')
  })
})

it('marks of releases stand at their place, those of one place together, and none outside', () => {
  const places: Record<string, number> = { a: 2, b: 2, c: 5 }
  const given = [
    { version: '1.0.0', since: 'before' },
    { version: '1.1.0', since: 'a' },
    { version: '1.1.1', since: 'b' },
    { version: '2.0.0', since: 'c' },
  ]
  expect(releaseMarks(given, (since) => places[since] ?? -1)).toEqual([
    { at: 2, words: '1.1.0, 1.1.1' },
    { at: 5, words: '2.0.0' },
  ])
})
