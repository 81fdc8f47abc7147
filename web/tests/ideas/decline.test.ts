import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { ProblemError } from '@/api/client'
import DeclineIdea from '@/ideas/DeclineIdea.vue'
import Choice from '@/shared/Choice.vue'
import { doing, isPending, readRefused, SECONDS, takeBack } from '@/shared/undo'
import { onPage } from '../within'

const post = vi.hoisted(() => vi.fn())
vi.mock('@/api/client', async (original) => ({
  ...(await original<typeof import('@/api/client')>()),
  api: { POST: post },
}))
const IDEA = { id: 104, title: 'Leak allowance claims', proposer: 'Ada Pell' }

beforeEach(() => {
  localStorage.clear()
  post.mockReset().mockResolvedValue({ data: {}, response: new Response() })
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
})
afterEach(() => {
  while (doing.value.length) takeBack()
  readRefused()
  vi.useRealTimers()
})
async function filled(soon: boolean, words = 'Two a year at most') {
  const { wrapper } = await onPage(DeclineIdea, { idea: IDEA, soon })
  wrapper.findComponent(Choice).vm.$emit('update:modelValue', 'too little volume')
  await wrapper.find('textarea').setValue(words)
  await wrapper.find('form').trigger('submit')
  await flushPromises()
  return wrapper
}
const said = async () =>
  (await onPage(DeclineIdea, { idea: IDEA })).wrapper.find<HTMLTextAreaElement>('textarea').element.value

test('an idea is declined at once from its own page', async () => {
  const wrapper = await filled(false)
  expect(post.mock.calls[0]?.[1].body).toEqual({ reason: 'too little volume', words: 'Two a year at most' })
  expect(wrapper.emitted('done')).toHaveLength(1)
  expect(await said()).toBe('')
})

test('from the review it waits, goes on to the next, and is then done', async () => {
  const wrapper = await filled(true)
  expect(post).not.toHaveBeenCalled()
  expect(wrapper.emitted('done')).toHaveLength(1)
  expect(isPending('/ideas/104')).toBe(true)
  expect(doing.value[0]?.words).toBe('I-104 Leak allowance claims is declined')
  await vi.advanceTimersByTimeAsync(SECONDS * 1000)
  expect(post).toHaveBeenCalledTimes(1)
  expect(await said()).toBe('')
})

test('taken back, its words stand in the form again', async () => {
  const wrapper = await filled(true)
  wrapper.unmount()
  takeBack()
  await vi.advanceTimersByTimeAsync(SECONDS * 1000)
  expect(post).not.toHaveBeenCalled()
  expect(await said()).toBe('Two a year at most')
})

test('refused after all, its words stand in the form again', async () => {
  post.mockRejectedValue(new ProblemError(409, 'conflict', 'It was merged meanwhile.', '', [], {}))
  const wrapper = await filled(true)
  wrapper.unmount()
  await vi.advanceTimersByTimeAsync(SECONDS * 1000)
  expect(await said()).toBe('Two a year at most')
})

test('without words it is refused at once, at its field, and nothing waits', async () => {
  const told = { field: 'words', value: '', message: 'explain it to the proposer in a sentence' }
  const answer = { code: 'input', detail: 'Something does not fit.', mend: '', errors: [told] }
  post.mockResolvedValue({ error: answer, response: new Response(null, { status: 422 }) })
  const wrapper = await filled(true, ' ')
  expect(wrapper.text()).toContain('explain it to the proposer in a sentence')
  expect(wrapper.emitted('done')).toBeUndefined()
  expect(doing.value).toEqual([])
})
