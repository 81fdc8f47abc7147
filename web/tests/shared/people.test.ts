import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { ElSelect } from 'element-plus'
import { beforeEach, expect, test, vi } from 'vitest'
import { nextTick } from 'vue'
import AreaField from '@/shared/AreaField.vue'
import DivisionField from '@/shared/DivisionField.vue'
import PersonField from '@/shared/PersonField.vue'
import TreeField from '@/shared/TreeField.vue'
import { usePeople } from '@/shared/people'
import { within } from '../within'

const get = vi.hoisted(() => vi.fn())
vi.mock('@/api/client', async (original) => ({
  ...(await original<typeof import('@/api/client')>()),
  api: { GET: get, POST: vi.fn() },
}))
const person = (id: number, name: string, state = 'active') => ({
  id,
  name,
  state,
  division: 'Water',
  email: '',
  roles: null,
})
const ANSWERS: Record<string, unknown> = {
  '/api/v1/people': { people: [person(1, 'Ada Pell'), person(2, 'Sol Marin', 'invited')], more: true },
  '/api/v1/me': { zone: 'UTC', permissions: ['area.see'], everywhere: [] },
  '/api/v1/areas': {
    areas: [
      { id: 1, name: 'Water', parent_id: null },
      { id: 2, name: 'Metering', parent_id: 1 },
    ],
  },
  '/api/v1/divisions': [
    { id: 5, name: 'Customer care', own: 'Customer care', parent_id: null },
    { id: 6, name: 'Customer care › Letters', own: 'Letters', parent_id: 5 },
    { id: 7, name: 'Stores', own: 'Stores', parent_id: null },
  ],
}
beforeEach(() => {
  get.mockReset()
  get.mockImplementation((path: string) => Promise.resolve({ data: ANSWERS[path], response: new Response() }))
})
async function shown(part: unknown, props: Record<string, unknown>) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const wrapper = mount(part as never, {
    props: { modelValue: null, ...props } as never,
    attachTo: document.body,
    global: { plugins: [[VueQueryPlugin, { queryClient: queries }]] },
  })
  await flushPromises()
  return wrapper
}
const asked = () =>
  get.mock.calls
    .filter(([path]) => path === '/api/v1/people')
    .map(([, given]) => given.params.query as unknown)

test('people are looked for by the server, and the chosen one is always among them', async () => {
  vi.useFakeTimers()
  const { given } = within(() => usePeople([7, null, undefined]))
  await flushPromises()
  expect(asked()).toEqual([{ text: '', keep: [7] }])
  given.words.value = ' pell '
  await vi.advanceTimersByTimeAsync(250)
  await flushPromises()
  expect(asked().at(-1)).toEqual({ text: 'pell', keep: [7] })
  vi.useRealTimers()
  expect(given.nameOf(1)).toBe('Ada Pell')
  expect(given.nameOf(99)).toBeUndefined()
  expect(given.more.value).toBe(true)
})

test('a person is chosen, taken back, and nobody left out is offered', async () => {
  const wrapper = await shown(PersonField, { but: [1], label: 'Owner' })
  const select = wrapper.findComponent(ElSelect)
  const options = wrapper.findAllComponents({ name: 'ElOption' })
  expect(options.map((one) => one.props('label'))).toEqual(['Sol Marin (invited)'])
  select.vm.$emit('update:modelValue', 2)
  select.vm.$emit('update:modelValue', undefined)
  expect(wrapper.emitted('update:modelValue')).toEqual([[2], [null]])
})

test('a person can be invited on the spot, unless the field is plain', async () => {
  expect((await shown(PersonField, {})).text()).toContain('Invite somebody else')
  expect((await shown(PersonField, { plain: true })).text()).not.toContain('Invite')
})

async function placesOf(part: unknown, props: Record<string, unknown>) {
  const wrapper = await shown(part, props)
  return wrapper.findComponent(TreeField).props()
}

test('areas are those that the reader sees, or those that are given', async () => {
  const { places, nothing } = await placesOf(AreaField, { nothing: 'the whole company' })
  expect(places.map((one) => [one.id, one.parent])).toEqual([
    [1, null],
    [2, 1],
  ])
  expect(nothing).toBe('the whole company')
  get.mockClear()
  const among = [{ id: 9, name: 'Stores', parent_id: null }]
  expect((await placesOf(AreaField, { among })).places).toEqual([{ id: 9, name: 'Stores', parent: null }])
  expect(get.mock.calls.some(([path]) => path === '/api/v1/areas')).toBe(false)
})

test('a division that is moved is not offered as its own upper, nor what lies below it', async () => {
  expect((await placesOf(DivisionField, { without: 5 })).places.map((one) => one.id)).toEqual([7])
  expect((await placesOf(DivisionField, {})).places).toHaveLength(3)
})

test('the choice of none is kept as null, and shown by its name', async () => {
  const { default: TreePicker } = await import('@/shared/TreePicker.vue')
  const wrapper = await shown(TreePicker, {
    places: [{ id: 3, name: 'Letters', parent: null, way: 'Care › Letters' }],
    nothing: 'nothing: at the top',
    label: 'Below',
  })
  const tree = wrapper.findComponent({ name: 'ElTreeSelect' })
  expect(tree.vm.$attrs.modelValue ?? tree.props('modelValue')).toBe(0)
  tree.vm.$emit('update:modelValue', 3)
  await nextTick()
  expect(wrapper.emitted('update:modelValue')).toEqual([[3]])
  tree.vm.$emit('update:modelValue', 0)
  expect(wrapper.emitted('update:modelValue')?.at(-1)).toEqual([null])
})
