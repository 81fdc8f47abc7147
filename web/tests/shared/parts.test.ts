import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, expect, test, vi } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'
import FilePreview from '@/shared/FilePreview.vue'
import Fold from '@/shared/Fold.vue'
import Loaded from '@/shared/Loaded.vue'
import Sheets from '@/shared/Sheets.vue'
import Steps from '@/shared/Steps.vue'
import Thread from '@/shared/Thread.vue'
import TimeAxis from '@/shared/TimeAxis.vue'
import { has } from '@/shared/words'
import { weekStart } from '@/shared/days'
import { plural, several } from '@/shared/format'

const get = vi.hoisted(() => vi.fn())
vi.mock('@/api/client', async (original) => ({
  ...(await original<typeof import('@/api/client')>()),
  api: { GET: get, POST: vi.fn() },
}))
beforeEach(() => {
  get.mockReset()
  get.mockResolvedValue({ data: { zone: 'Europe/Berlin', permissions: [] }, response: new Response() })
})
async function shown(part: unknown, props: Record<string, unknown>, slots: Record<string, string> = {}) {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:all(.*)*', component: { render: () => null } }],
  })
  await router.push('/ideas/104')
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const wrapper = mount(part as never, {
    props: props as never,
    slots,
    global: { plugins: [router, [VueQueryPlugin, { queryClient: queries }]] },
  })
  await flushPromises()
  return { wrapper, router }
}

test('a fold hides what it holds until its words are pressed, and says which it is', async () => {
  const { wrapper } = await shown(Fold, { words: 'Add a remark' }, { default: '<p>the remark</p>' })
  const button = wrapper.find('button')
  expect(button.attributes('aria-expanded')).toBe('false')
  expect(wrapper.text()).not.toContain('the remark')
  await button.trigger('click')
  expect(button.attributes('aria-expanded')).toBe('true')
  expect(wrapper.find(`[id="${button.attributes('aria-controls')}"]`).text()).toBe('the remark')
  await button.trigger('click')
  expect(wrapper.text()).not.toContain('the remark')
})

test('a fold can stand open from the first', async () => {
  const { wrapper } = await shown(Fold, { words: 'More', open: true }, { default: '<p>inside</p>' })
  expect(wrapper.text()).toContain('inside')
})

test('sheets are links of their own, and the one that is open says so', async () => {
  const sheets = [
    { key: 'answers', words: 'Answers', query: { sheet: 'answers' } },
    { key: 'case', words: 'Case', query: { sheet: 'case' } },
  ]
  const { wrapper, router } = await shown(Sheets, { label: 'Sheets of the idea', sheets, now: 'answers' })
  const [first, second] = wrapper.findAll('a')
  expect(first?.attributes('aria-current')).toBe('page')
  expect(second?.attributes('aria-current')).toBeUndefined()
  expect(second?.attributes('href')).toBe('/ideas/104?sheet=case')
  await second?.trigger('click')
  await flushPromises()
  expect(router.currentRoute.value.query).toEqual({ sheet: 'case' })
})

test('steps say which are done, and lead to where each is done', async () => {
  const { wrapper } = await shown(Steps, {
    steps: [
      { title: 'Add a host', words: 'a machine', link: '/robots?add=host', fact: '2 hosts', done: true },
      { title: 'Set up a routine', done: false },
    ],
  })
  const [first, second] = wrapper.findAll('li')
  expect(first?.text()).toContain('done')
  expect(first?.text()).toContain('2 hosts')
  expect(first?.find('a').attributes('href')).toBe('/robots?add=host')
  expect(second?.text()).toContain('step 2')
  expect(second?.find('a').exists()).toBe(false)
})

test('a thread tells what is to come from what was left out', async () => {
  const { wrapper } = await shown(Thread, {
    stages: [
      { stage: 'noted', at: '2026-10-02T08:00:00Z', by: 'Sol Marin', now: false },
      { stage: 'screened', at: null, by: null, now: false },
      { stage: 'in service', at: '2026-11-02T08:00:00Z', by: 'Ines Varga', now: true },
      { stage: 'retired', at: null, by: null, now: false },
    ],
  })
  const [noted, screened, live, retired] = wrapper.findAll('li').map((one) => one.text())
  expect(noted).toContain('Sol Marin')
  expect(screened).toContain('left out')
  expect(live).toContain('Ines Varga')
  expect(retired).toContain('not yet')
  expect(wrapper.find('[aria-current=step]').text()).toContain('in service')
})

test('bars lie where their time lies, and say in words what they stand for', async () => {
  const { wrapper } = await shown(TimeAxis, {
    label: 'Phases over time',
    now: '2026-10-06T00:00:00Z',
    rows: [
      { name: 'Design', bars: [{ from: '2026-10-01T00:00Z', to: '2026-10-06T00:00Z', words: 'five days' }] },
      {
        name: 'Build',
        bars: [
          { from: '2026-10-06T00:00Z', to: '2026-10-11T00:00Z', words: 'expected' },
          { from: '2026-10-05T00:00Z', to: '2026-10-08T00:00Z', words: 'promised', behind: true },
        ],
      },
    ],
  })
  expect(wrapper.findAll('[role=rowheader]').map((one) => one.text())).toEqual(['Design', 'Build'])
  const bars = wrapper
    .findAll<HTMLElement>('.bar')
    .map((one) => [one.text(), one.element.style.left, one.element.style.width])
  expect(bars).toEqual([
    ['five days', '0%', '50%'],
    ['expected', '50%', '50%'],
    ['promised', '40%', '30%'],
  ])
  expect(wrapper.find<HTMLElement>('.now').element.style.left).toBe('50%')
})

test('an axis without anything on it is not drawn', async () => {
  const { wrapper } = await shown(TimeAxis, { label: 'Phases', rows: [{ name: 'Design', bars: [] }] })
  expect(wrapper.find('.axis').exists()).toBe(false)
})

test('words are looked for in all parts of a row, in any order', () => {
  expect(has('claims leak', 'Leak allowance claims', null, 'I-105')).toBe(true)
  expect(has('leak i-106', 'Leak allowance claims', 'I-105')).toBe(false)
  expect(has('', 'anything')).toBe(true)
  expect(has(undefined, 'anything')).toBe(true)
})

test('a week begins as its reader begins it', () => {
  const known = 'getWeekInfo' in Intl.Locale.prototype || 'weekInfo' in Intl.Locale.prototype
  expect(weekStart('de-DE')).toBe(1)
  expect(weekStart('en-US')).toBe(known ? 0 : 1)
})

test('what is counted stands in its form', () => {
  expect(plural(1, 'robot', 'robots')).toBe('robot')
  expect(plural(0, 'robot', 'robots')).toBe('robots')
  expect(several(1200, 'open idea stands', 'open ideas stand')).toBe('1,200 open ideas stand')
})

test('a chosen text shows its first lines, whatever its length', async () => {
  const lines = Array.from({ length: 40 }, (_, n) => `${n},${'x'.repeat(300)}`)
  const file = new File([lines.join('\r\n')], 'readings.csv', { type: 'text/csv' })
  const { wrapper } = await shown(FilePreview, { file })
  await vi.waitFor(() => expect(wrapper.find('pre').exists()).toBe(true))
  const text = wrapper.find('pre').text().split('\n')
  expect(text).toHaveLength(8)
  expect(text[3]).toBe(`3,${'x'.repeat(158)}`)
  expect(wrapper.find('figcaption').text()).toContain('readings.csv, 12')
})

test('a chosen picture is shown, and its place given back; of other files the name and size', async () => {
  URL.createObjectURL = () => 'blob:here'
  const given = (URL.revokeObjectURL = vi.fn())
  const { wrapper } = await shown(FilePreview, {
    file: new File(['x'], 'drawing.png', { type: 'image/png' }),
  })
  expect(wrapper.find('img').attributes('src')).toBe('blob:here')
  await wrapper.setProps({ file: new File(['zip'], 'package.zip', { type: 'application/zip' }) } as never)
  await flushPromises()
  expect(given).toHaveBeenCalledWith('blob:here')
  expect(wrapper.find('img').exists()).toBe(false)
  expect(wrapper.find('pre').exists()).toBe(false)
  expect(wrapper.text()).toContain('package.zip')
})

test('rows that come stand as lines, and say so to those who listen', async () => {
  const { wrapper } = await shown(Loaded, { pending: true, error: null, lines: 3 }, { default: 'the rows' })
  expect(wrapper.find('[aria-busy=true]').text()).toContain('Reading …')
  expect(wrapper.text()).not.toContain('the rows')
  await wrapper.setProps({ pending: false } as never)
  expect(wrapper.text()).toContain('the rows')
})
