import { afterEach, expect, it, vi } from 'vitest'
import { api } from '@/api/client'
import IdeaCounts from '@/tally/IdeaCounts.vue'
import IdeaMeasure from '@/tally/IdeaMeasure.vue'
import NotTallied from '@/tally/NotTallied.vue'
import { onPage } from '../within'

const answers = (data: unknown) =>
  vi.spyOn(api, 'GET').mockResolvedValue({ data, response: new Response() } as never)
afterEach(() => vi.restoreAllMocks())

const suggested = {
  volume_per_year: null,
  minutes_before: null,
  minutes_after: null,
  once: '0',
  running: '0',
  go_live: null,
}
const measure = (more = {}) => ({
  fits: true,
  before: null,
  after: null,
  former: [],
  saved: null,
  rate: null,
  rate_state: null,
  rate_since: null,
  promise_number: 0,
  promised_by_case: false,
  suggested,
  may_measure: true,
  may_promise: false,
  ...more,
})
const measured = (id: number, phase: string, minutes: string) => ({
  id,
  phase,
  minutes,
  items: 40,
  day: '2026-09-01',
  evidence: 'a week at two desks',
  person: 'Mei Tanaka',
})

it('says what was not measured, and who says what it is to bring', async () => {
  answers(measure())
  const { wrapper } = await onPage(IdeaMeasure, { idea: 4, liveOn: null })
  expect(wrapper.findAll('tbody tr')).toHaveLength(2)
  expect(wrapper.text()).toContain('not measured yet')
  expect(wrapper.text()).toContain('The lead says what it is to bring.')
})

it('shows what is saved and whether it counts', async () => {
  const both = { before: measured(1, 'before', '12'), after: measured(2, 'after', '7'), saved: '5' }
  const rate = { rate: '5', rate_state: 'proposed', rate_since: '2026-09-01' }
  answers(measure({ ...both, ...rate, promise_number: 1 }))
  const { wrapper } = await onPage(IdeaMeasure, { idea: 4, liveOn: '2026-08-01' })
  expect(wrapper.text()).toContain('Saved each')
  expect(wrapper.text()).toContain('waits for somebody else to approve it')
  expect(wrapper.text()).not.toContain('Nothing is promised')
})

it('is not there for work that a robot takes', async () => {
  answers(measure({ fits: false }))
  const { wrapper } = await onPage(IdeaMeasure, { idea: 4, liveOn: null })
  expect(wrapper.text()).toBe('')
})

it('says which counts wait, and offers nothing to who may not', async () => {
  const row = (id: number, more = {}) => ({
    id,
    first: '2026-09-01',
    last: '2026-09-30',
    units: '60',
    evidence: 'the book',
    source: 'by hand',
    person: 'Corin Dahl',
    at: '2026-10-01T08:00:00Z',
    taken_back: false,
    posted: false,
    ...more,
  })
  const rows = [row(1), row(2, { posted: true }), row(3, { taken_back: true })]
  answers({ rows, may_count: false, counted_since: null, live_on: '2026-08-01' })
  const { wrapper } = await onPage(IdeaCounts, { idea: 4 })
  expect(wrapper.text()).toContain('1 of these is not in the tally yet')
  expect(wrapper.text()).toContain('taken back')
  expect(wrapper.findAll('button')).toHaveLength(0)
})

it('says what makes the tally begin', async () => {
  const robot = await onPage(NotTallied, { idea: 4, routine: 7, name: 'Check readings' })
  expect(robot.wrapper.text()).toContain('the runs of its counting point')
  expect(robot.wrapper.find('a').text()).toBe('Check readings')
  const hand = await onPage(NotTallied, { idea: 4, routine: null, byHand: true })
  expect(hand.wrapper.text()).toContain('give the units as they come')
})
