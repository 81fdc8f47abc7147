import { flushPromises } from '@vue/test-utils'
import { beforeEach, expect, test, vi } from 'vitest'
import MoveRelease from '@/workshop/MoveRelease.vue'
import TryIt from '@/workshop/TryIt.vue'
import UnseenReleases from '@/workshop/UnseenReleases.vue'
import { onPage } from '../within'

const api = vi.hoisted(() => ({ GET: vi.fn(), POST: vi.fn() }))
vi.mock('@/api/client', async (original) => ({
  ...(await original<object>()),
  api,
  ask: (answer: unknown) => answer,
}))

const RELEASE = {
  id: 7,
  package: 'hydrant-letters',
  version: 'try-out 1',
  note: 'Shorter',
  seen_by: 'maker' as const,
  area: null,
  mine: true,
}
const LOOK = {
  package: 'hydrant-letters',
  about: '',
  before: '1.1.0',
  before_id: 4,
  found: 'addition',
  changes: [],
  numbers: [
    { says: 'fix', number: '1.1.1', enough: false },
    { says: 'addition', number: '1.2.0', enough: true },
  ],
  number: null,
  said: null,
  against: [],
}
const dialog = () => document.querySelector('[role="dialog"]')!
const yes = () => dialog().querySelector<HTMLButtonElement>('footer .el-button--primary')!

beforeEach(() => {
  document.body.innerHTML = ''
  api.GET.mockReset()
  api.POST.mockReset()
})

test('a try-out that others come to see gets the number that says enough', async () => {
  api.POST.mockResolvedValue({ gains: ['Sol Marín', 'Ines Varga'], loses: [], against: [], look: LOOK })
  const { wrapper } = await onPage(MoveRelease, { release: RELEASE })
  await flushPromises()
  expect(dialog().textContent).toContain('2 people will see it: Sol Marín, Ines Varga.')
  expect(yes().textContent).toBe('Release it as 1.2.0')
  yes().click()
  await flushPromises()
  const sent = api.POST.mock.calls.find(([path]) => path === '/api/v1/releases/{number}/move')!
  expect(sent[1].body).toEqual({
    seen_by: 'company',
    area_id: null,
    note: 'Shorter',
    says: 'addition',
    number: '',
  })
  expect(wrapper.emitted('leave')).toHaveLength(1)
})

test('who loses sight of it is named, and what stands against it holds the yes back', async () => {
  const against = ['Count rows is set up with it and would lose it; give it another release first']
  api.POST.mockResolvedValue({ gains: [], loses: ['A', 'B', 'C', 'D', 'E', 'F'], against, look: null })
  const moved = { ...RELEASE, version: '1.1.0', seen_by: 'area' as const, area: 'Street works' }
  await onPage(MoveRelease, { release: moved })
  await flushPromises()
  expect(dialog().textContent).toContain('Now it is seen by the area Street works.')
  expect(dialog().textContent!.replace(/\s+/g, ' ')).toContain('see it no more: A, B, C, D and 2 others.')
  expect(dialog().textContent).toContain(against[0])
  expect(yes().disabled).toBe(true)
})

test('what is beside a list is said with its reasons, and nothing where nothing is', async () => {
  api.GET.mockResolvedValue({ tryouts: 1, areas: 2 })
  const { wrapper } = await onPage(UnseenReleases, { text: 'hydrant' })
  expect(wrapper.text()).toContain(
    '1 release is a try-out that nobody but the maker sees, and 2 releases are seen by areas that you do not work in',
  )
  expect(api.GET.mock.calls[0]![1]).toEqual({ params: { query: { text: 'hydrant' } } })
  api.GET.mockResolvedValue({ tryouts: 0, areas: 0 })
  expect((await onPage(UnseenReleases, { text: '' })).wrapper.text()).toBe('')
})

test('who may start runs nowhere is told so, instead of a form that cannot be sent', async () => {
  api.POST.mockResolvedValue({ areas: [], area_id: null, robots: [], pre_check: [], last: [] })
  const { wrapper } = await onPage(TryIt, { release: { id: 7, inputs: {} } })
  expect(wrapper.text()).toContain('You may start runs in no area')
  expect(wrapper.find('form').exists()).toBe(false)
})

test('it is tried where it was looked at, on any robot unless one is chosen', async () => {
  const area = { id: 3, name: 'Metering' }
  const view = { areas: [area], area_id: 3, robots: [], pre_check: [], last: [] }
  api.POST.mockImplementation((path: string) => Promise.resolve(path.endsWith('/look') ? view : { id: 12 }))
  const { wrapper, router } = await onPage(TryIt, { release: { id: 7, inputs: {} } })
  await wrapper.find('form').trigger('submit')
  await flushPromises()
  const sent = api.POST.mock.calls.filter(([path]) => path === '/api/v1/releases/{number}/tryouts')
  expect(sent.map(([, given]) => given.body)).toEqual([{ area_id: 3, robot_id: null, inputs: {} }])
  expect(router.currentRoute.value.path).toBe('/runs/12')
})
