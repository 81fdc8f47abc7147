import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, expect, test, vi } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import FactFields from '@/cases/FactFields.vue'
import FactState from '@/cases/FactState.vue'
import { useFactSheet, type FactSheet, type SheetField } from '@/cases/factSheet'
import type { Fact } from '@/cases/useFacts'

const post = vi.hoisted(() => vi.fn())
vi.mock('@/api/client', async (original) => ({
  ...(await original<typeof import('@/api/client')>()),
  api: { GET: vi.fn(), POST: post, PUT: vi.fn() },
}))
const fact = (field: string, label: string, value: unknown): Fact => ({
  field,
  label,
  value,
  source: 'the answers',
  date: '2026-10-02',
  own: false,
  version: 2,
})
const put = vi.fn().mockResolvedValue(null)
const locked = ref(false)

beforeEach(() => {
  put.mockClear()
  post.mockReset()
  post.mockResolvedValue({
    data: { faults: [], results: null, ranges: null, figures: null },
    response: new Response(),
  })
  locked.value = false
})

async function shown(fields: SheetField[], facts: Fact[] | undefined, asked = true) {
  let sheet: FactSheet | undefined
  const Page = defineComponent({
    setup() {
      sheet = useFactSheet({
        idea: () => 104,
        fields: () => facts,
        locked: () => locked.value,
        ...(asked ? { put } : {}),
      })
      return () => [
        h(FactFields, { sheet: sheet!, fields, explain: true }),
        h(FactState, { sheet: sheet!, reads: 'You read this sheet.' }),
      ]
    },
  })
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:all(.*)*', component: { render: () => null } }],
  })
  await router.push('/ideas/104?sheet=sizing')
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const wrapper = mount(Page, { global: { plugins: [router, [VueQueryPlugin, { queryClient: queries }]] } })
  await flushPromises()
  return { wrapper, sheet: sheet! }
}

test('each fact stands in its field with its source, and is kept when the field is left', async () => {
  const { wrapper } = await shown(
    [{ field: 'volume', unit: 'items', about: 'how many come' }],
    [fact('volume', 'Volume', '40')],
  )
  const field = wrapper.find('[data-field=volume]')
  expect(field.text()).toContain('Volume')
  expect(field.text()).toContain('how many come · the answers, 2 Oct 2026')
  expect(field.text()).toContain('items')
  await field.find('input').setValue('1,200')
  await field.find('input').trigger('blur')
  await flushPromises()
  expect(put.mock.calls).toEqual([[{ values: { volume: '1200' }, versions: { volume: 2 }, source: '' }]])
})

test('a fact that the answers lack is missing, unless a sizing can do without it', async () => {
  const { wrapper } = await shown(
    [{ field: 'steps' }, { field: 'people' }],
    [fact('steps', 'Steps', null), fact('people', 'People', null)],
  )
  expect(wrapper.find('[data-field=steps]').text()).toContain('missing')
  expect(wrapper.find('[data-field=people]').text()).toContain('not given')
})

test('what is read only, or stands fixed, cannot be typed', async () => {
  const fields = [{ field: 'volume' }, { field: 'costs_on', kind: 'text' as const, fixed: true }]
  const facts = [fact('volume', 'Volume', '40'), fact('costs_on', 'Costs of', '2026-10-02')]
  const { wrapper } = await shown(fields, facts)
  const inputs = () => wrapper.findAll('input').map((one) => one.attributes('disabled') !== undefined)
  expect(inputs()).toEqual([false, true])
  expect(wrapper.find('[role=status]').text()).toContain('Each fact is kept')
  locked.value = true
  await flushPromises()
  expect(inputs()).toEqual([true, true])
  expect(wrapper.find('[role=status]').text()).toContain('You read this sheet.')
})

test('a sheet has what its facts are, and takes what is not there as nothing', async () => {
  const { sheet } = await shown([], [fact('peaks', 'Peaks', ['1', '2'])])
  expect(sheet.has('peaks')).toBe(true)
  expect(sheet.has('mends')).toBe(false)
  expect(sheet.of('mends')).toMatchObject({ label: 'mends', value: null, version: 0 })
  expect(sheet.rowsOf('peaks')).toEqual(['1', '2'])
  expect(sheet.rowsOf('mends')).toEqual([])
})

test('an asked expert is shown no figures while typing; the team is, with what does not fit', async () => {
  expect((await shown([], [])).sheet.preview).toBeNull()
  post.mockResolvedValue({
    data: { faults: [{ field: 'volume', message: 'give a number above 0', value: '-1' }] },
    response: new Response(),
  })
  vi.useFakeTimers()
  const { sheet } = await shown([{ field: 'volume' }], [fact('volume', 'Volume', '40')], false)
  sheet.preview?.type('volume', '-1')
  await vi.advanceTimersByTimeAsync(300)
  await flushPromises()
  vi.useRealTimers()
  expect(sheet.fault('volume')).toBe('give a number above 0')
})
