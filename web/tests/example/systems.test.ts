import { readFileSync } from 'node:fs'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import ElementPlus from 'element-plus'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'
import SystemsPage from './SystemsPage.vue'

const ROWS = [
  { id: 1, name: 'Fettlebook', access: 'web', note: '', owner: null, owner_id: null, ideas: 3, version: 4 },
  {
    id: 2,
    name: 'Job book',
    access: 'desktop',
    note: 'old',
    owner: null,
    owner_id: null,
    ideas: 1,
    version: 1,
  },
]
const kept = vi.fn<(body: unknown, version: string | null) => Response>()

vi.mock('@/api/client', async (original) => {
  const real = await original<typeof import('@/api/client')>()
  const answer = (request: Request): Promise<Response> | Response => {
    const path = new URL(request.url, 'http://here').pathname
    if (request.method === 'PUT')
      return request.json().then((body) => kept(body, request.headers.get('if-match')))
    if (path.endsWith('/systems')) return Response.json(ROWS)
    if (path.endsWith('/me')) return Response.json({ permissions: ['system.change'], locale: 'en-GB' })
    return Response.json([])
  }
  type Calls = Record<string, (path: string, init?: object) => unknown>
  const calls = real.api as unknown as Calls
  const through = (verb: string) => (path: string, init?: object) =>
    calls[verb]?.(path, { ...init, baseUrl: 'http://here', fetch: answer })
  return { ...real, api: { GET: through('GET'), PUT: through('PUT'), POST: through('POST') } }
})
beforeEach(() => {
  localStorage.clear()
  kept.mockReset()
})
afterEach(() => ROWS.splice(0, 1, { ...ROWS[0]!, name: 'Fettlebook', version: 4 }))

async function shown(address: string) {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', component: SystemsPage }],
  })
  await router.push(address)
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const plugins = [router, ElementPlus, [VueQueryPlugin, { queryClient: queries }]] as never
  const page = mount(SystemsPage, { global: { plugins, stubs: { Chart: true, MarginNotes: true } } })
  await flushPromises()
  await flushPromises()
  return { page, router }
}
const press = async (page: Awaited<ReturnType<typeof shown>>['page'], words: string) => {
  await page
    .findAll('button')
    .find((one) => one.text() === words)
    ?.trigger('click')
  await flushPromises()
}

test('the example is composed in under 150 lines', () => {
  expect(readFileSync('tests/example/SystemsPage.vue', 'utf8').split('\n').length).toBeLessThan(150)
})

test('it lists what fits its address', async () => {
  const { page } = await shown('/?access=desktop')
  expect(page.findAll('tbody tr').map((one) => one.find('td').text())).toEqual(['Job book old'])
})

test('a row is changed on the version that stood there', async () => {
  kept.mockReturnValue(Response.json({}))
  const { page, router } = await shown('/?system=1')
  await page.find('form input').setValue('Fettle book')
  await page.find('form').trigger('submit')
  await flushPromises()
  expect(kept.mock.calls[0]).toEqual([expect.objectContaining({ name: 'Fettle book' }), '"4"'])
  await vi.waitFor(() => expect(router.currentRoute.value.query.system).toBeUndefined())
})

test('two people who change one thing see both texts, and nothing is written over', async () => {
  const conflict = { code: 'conflict', detail: 'Somebody changed it.', more: {} }
  kept.mockReturnValue(Response.json(conflict, { status: 409 }))
  const { page } = await shown('/?system=1')
  await page.find('form input').setValue('Fettle book')
  ROWS.splice(0, 1, { ...ROWS[0]!, name: 'Fettlebook North', version: 5 })
  await page.find('form').trigger('submit')
  await vi.waitFor(() => expect(page.text()).toContain('Theirs, as it stands now'))
  expect(page.text()).toContain('Fettlebook North')
  kept.mockReturnValue(Response.json({}))
  await press(page, 'Keep mine')
  await vi.waitFor(() => expect(kept.mock.calls[1]?.[1]).toBe('"5"'))
})
