import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { ProblemError } from '@/api/client'
import PageState from '@/selfservice/PageState.vue'
import SayAboutIt from '@/selfservice/SayAboutIt.vue'
import SelfServicePage from '@/selfservice/SelfServicePage.vue'
import ServiceRunPage from '@/selfservice/ServiceRunPage.vue'
import WhatIsSaid from '@/selfservice/WhatIsSaid.vue'
import { onPage } from '../within'

const asked = vi.hoisted(() => ({ get: vi.fn(), post: vi.fn(), put: vi.fn() }))
vi.mock('@/api/client', async (original) => ({
  ...(await original<object>()),
  api: { GET: asked.get, POST: asked.post, PUT: asked.put },
  ask: (one: Promise<unknown>) => one,
}))

const words = (text: string) => text.replace(/\s+/g, ' ')
const card = {
  id: 3,
  title: 'Leak allowance',
  does: 'Works out an allowance.',
  word: 'ready',
  why: '',
  favourite: false,
  last_worked: null,
  usual_seconds: 120,
}
const run = {
  id: 9,
  page_id: 3,
  title: 'Leak allowance',
  state: 'done',
  said: 'Done',
  made_at: '2026-03-10T09:00:00Z',
  started_at: '2026-03-10T09:00:00Z',
  ended_at: '2026-03-10T09:01:00Z',
  stopping: false,
  may_stop: false,
  progress: null,
  files: 1,
}
const list = { pages: [card], runs: [], may_publish: false, now: '2026-03-10T09:00:00Z' }

beforeEach(() => vi.clearAllMocks())

describe('what reaches a colleague', () => {
  it('says how each page stands and why', async () => {
    const waits = { ...card, id: 4, title: 'Labels', word: 'waits', why: 'It is at work for somebody else' }
    asked.get.mockResolvedValue({ ...list, pages: [card, waits], runs: [run] })
    const { wrapper } = await onPage(SelfServicePage)
    expect(words(wrapper.text())).toContain('2 pages, 1 ready this moment')
    expect(words(wrapper.text())).toContain('takes about 2 min')
    expect(wrapper.text()).toContain('It is at work for somebody else.')
    expect(words(wrapper.text())).toContain('Done, 1 file')
  })

  it('leads on where nothing is published: to an idea, or to the Workshop for who may publish', async () => {
    asked.get.mockResolvedValue({ ...list, pages: [] })
    const { wrapper } = await onPage(SelfServicePage)
    expect(wrapper.find('a[href="/ideas/begin"]').exists()).toBe(true)
    asked.get.mockResolvedValue({ ...list, pages: [], may_publish: true })
    const other = await onPage(SelfServicePage)
    expect(other.wrapper.find('a[href="/workshop"]').exists()).toBe(true)
  })

  it('keeps a page among the favourites', async () => {
    asked.get.mockResolvedValue(list)
    asked.put.mockResolvedValue({ ok: true })
    const { wrapper } = await onPage(SelfServicePage)
    await wrapper.find('button[aria-label="Favourite: Leak allowance"]').trigger('click')
    expect(asked.put.mock.calls[0]?.[1].body).toEqual({ on: true })
  })
})

describe("one's own run", () => {
  const whole = {
    run,
    inputs: [{ name: 'Used', value: '386' }],
    outputs: [{ name: 'Allowance', value: '516.60' }],
    files: [{ id: 2, name: 'allowance.csv', size: 90, at: '2026-03-10T09:01:00Z' }],
    usual_seconds: null,
    keeper: 'Owen Tarr',
    keeper_email: 'owen.tarr@merrowdale.example',
  }

  it('gives what came of it and its files, and says done once', async () => {
    asked.get.mockResolvedValue(whole)
    const { wrapper } = await onPage(ServiceRunPage)
    expect(words(wrapper.text())).toContain('Allowance 516.60')
    expect(wrapper.find('a[download="allowance.csv"]').attributes('href')).toContain('/files/2')
    expect(wrapper.find('.note').exists()).toBe(false)
    expect(wrapper.find('a.filled').attributes('href')).toBe('/self-service/3')
  })

  it('is stopped with a second press', async () => {
    asked.get.mockResolvedValue({
      ...whole,
      run: { ...run, state: 'waiting', said: 'It begins in a moment', ended_at: null, may_stop: true },
    })
    asked.post.mockResolvedValue({ state: 'cancelled' })
    const { wrapper } = await onPage(ServiceRunPage)
    expect(wrapper.find('.note').text()).toBe('It begins in a moment.')
    const press = () => wrapper.find('.spread button').trigger('click')
    await press()
    expect(asked.post).not.toHaveBeenCalled()
    await press()
    expect(asked.post).toHaveBeenCalledOnce()
  })
})

describe('what is said of a page', () => {
  const page = { id: 3, keeper: 'Owen Tarr', thanked: false, my_marks: null, my_remark: '', idea_id: 5 }

  it('goes to an idea, which is named', async () => {
    asked.post.mockResolvedValue({ idea_id: 121, stage: 'noted' })
    const { wrapper } = await onPage(SayAboutIt, { page })
    await wrapper.findAll('button')[2]!.trigger('click')
    await wrapper.find('textarea').setValue('it did more')
    await wrapper.find('form').trigger('submit')
    await flushPromises()
    expect(words(wrapper.text())).toContain('It is I-121 now, handed in')
  })

  it('keeps what was typed where it is refused', async () => {
    asked.post.mockRejectedValue(
      new ProblemError(422, 'input', 'no', '', [{ field: 'text', value: '', message: 'say it' }], {}),
    )
    const { wrapper } = await onPage(SayAboutIt, { page })
    await wrapper.findAll('button')[2]!.trigger('click')
    await wrapper.find('textarea').setValue('it did more')
    await wrapper.find('form').trigger('submit')
    await flushPromises()
    expect(wrapper.find('textarea').element.value).toBe('it did more')
  })

  it('waits for marks before it is sent', async () => {
    const { wrapper } = await onPage(SayAboutIt, { page })
    await wrapper.findAll('button')[1]!.trigger('click')
    expect(wrapper.text()).toContain('Choose how many marks.')
  })

  it('is read by who looks after it', async () => {
    const said = [
      {
        id: 2,
        kind: 'wish',
        marks: null,
        remark: 'it did more',
        person: 'Jana Birk',
        at: run.made_at,
        idea_id: 7,
        idea: 'More',
      },
      {
        id: 1,
        kind: 'rating',
        marks: 4,
        remark: '',
        person: 'Felix Orme',
        at: run.made_at,
        idea_id: null,
        idea: null,
      },
    ]
    const { wrapper } = await onPage(WhatIsSaid, { said })
    expect(words(wrapper.text())).toContain('it would help me if …')
    expect(words(wrapper.text())).toContain('became I-7 More')
    expect(words(wrapper.text())).toContain('4 of 5 marks')
  })
})

describe('the state of a page', () => {
  it('is paused with the version that was seen, and a sentence', async () => {
    asked.put.mockResolvedValue({ ok: true })
    const page = { id: 3, state: 'open', version: 4 }
    const { wrapper } = await onPage(PageState, { page })
    await wrapper.findAll('button')[0]!.trigger('click')
    await wrapper.find('input').setValue('Until Friday')
    await wrapper.find('form').trigger('submit')
    const given = asked.put.mock.calls[0]?.[1]
    expect(given.params.header).toEqual({ 'if-match': '"4"' })
    expect(given.body).toEqual({ state: 'paused', why: 'Until Friday' })
  })
})
