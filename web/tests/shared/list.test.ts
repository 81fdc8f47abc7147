import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, expect, test, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import ListPage from '@/shared/ListPage.vue'
import ListTable from '@/shared/ListTable.vue'
import { useList, wantedOf, type List, type Page, type Wanted } from '@/shared/useList'

interface Row {
  id: number
  name: string
}
const ROWS: Row[] = [
  { id: 1, name: 'Meter letters' },
  { id: 2, name: 'Leak claims' },
]
const asked = vi.fn<(wanted: Wanted, sort: string, after?: string) => Page<Row>>()

beforeEach(() => {
  asked.mockReset()
  asked.mockImplementation((_, __, after) =>
    after ? { rows: [{ id: 3, name: 'Later' }], next: null } : { rows: ROWS, next: 'more' },
  )
})
async function listed(address: string, slots: Record<string, unknown> = {}) {
  let list: List<Row> | undefined
  const Page = defineComponent({
    setup() {
      list = useList<Row>({
        key: ['things'],
        filters: { text: 'words', owner: 'whole', late: 'yes' },
        columns: [
          { key: 'name', name: 'Name', sort: 'name' },
          { key: 'worth', name: 'Worth', num: true },
        ],
        usual: ['name'],
        sorts: { newest: 'newest', name: 'name' },
        out: '/api/things/export',
        ask: (wanted, sort, after) => Promise.resolve(asked(wanted, sort, after)),
      })
      return () =>
        h(
          ListPage,
          { list: list as never, title: 'Things', first: 'Thing', words: 'Words', ticks: true },
          {
            first: ({ row }: { row: Row }) => row.name,
            cell: ({ column }: { column: { key: string } }) => `cell ${column.key}`,
            ...slots,
          },
        )
    },
  })
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', component: Page }],
  })
  await router.push(address)
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const page = mount(Page, { global: { plugins: [router, [VueQueryPlugin, { queryClient: queries }]] } })
  await flushPromises()
  return { page, router, list: list as List<Row> }
}

test('an address says what is asked for, and only what can be', () => {
  const address: Record<string, string> = { text: 'meter', owner: '12', late: '1', odd: 'x' }
  const filters = { text: 'words', owner: 'whole', late: 'yes', other: 'whole' } as const
  expect(wantedOf((name) => address[name], filters)).toEqual({ text: 'meter', owner: 12, late: true })
  expect(wantedOf(() => '1e9', filters).owner).toBeUndefined()
})

test('the server is asked for what the address names, and its rows stand in a table with heads', async () => {
  const { page } = await listed('/?owner=12&sort=name')
  expect(asked).toHaveBeenCalledWith({ owner: 12 }, 'name', undefined)
  expect(page.findAll('thead th').map((one) => one.text())).toEqual(['', 'Thing', 'Name ↓'])
  expect(page.findAll('tbody tr').map((one) => one.text())).toEqual([
    'Meter letters cell name',
    'Leak claims cell name',
  ])
  expect(page.find('[aria-sort="descending"]').text()).toBe('Name ↓')
})

test('more rows come when they are asked for, after those that stand there', async () => {
  const { page } = await listed('/')
  await page
    .findAll('button')
    .find((one) => one.text() === 'Show more')
    ?.trigger('click')
  await flushPromises()
  expect(asked).toHaveBeenLastCalledWith({}, 'newest', 'more')
  expect(page.findAll('tbody tr').length).toBe(3)
  expect(page.text()).not.toContain('Show more')
})

test('nothing that fits says so, and how to see all again', async () => {
  asked.mockReturnValue({ rows: [], next: null })
  const { page, list, router } = await listed('/?late=1&cols=worth', { empty: () => 'Nothing is late.' })
  expect(page.text()).toContain('Nothing is late.')
  list.clear()
  await flushPromises()
  expect(router.currentRoute.value.query).toEqual({ cols: 'worth' })
})

test('columns are chosen in the address, and stand in their own order', async () => {
  const { page, list, router } = await listed('/')
  list.showColumn('worth', true)
  await flushPromises()
  expect(router.currentRoute.value.query.cols).toBe('name-worth')
  expect(
    page
      .findAll('thead th')
      .map((one) => one.text())
      .slice(2),
  ).toEqual(['Name', 'Worth'])
  list.showColumn('name', false)
  await flushPromises()
  expect(list.columns.value.map((one) => one.key)).toEqual(['worth'])
})

test('what is shown is what is saved as a view and taken out', async () => {
  const { list } = await listed('/?owner=12&sort=name&text=meter&page=odd')
  expect(list.view.value).toBe('text=meter&owner=12&sort=name')
  expect(list.out('csv')).toBe('/api/things/export.csv?text=meter&owner=12&sort=name')
})

test('a saved view opens with its words, and words that are typed go into the address once they settle', async () => {
  const { list, router } = await listed('/')
  list.openView('text=leak&sort=name')
  await flushPromises()
  expect([list.words.value, list.sort.value]).toEqual(['leak', 'name'])
  list.words.value = ' leak claims '
  await vi.waitFor(() => expect(router.currentRoute.value.query.text).toBe('leak claims'), 5000)
})

test('rows are ticked one by one and all at once, and no more once others are asked for', async () => {
  const { page, list } = await listed('/')
  await page.findAll('input[type="checkbox"]')[0]?.setValue(true)
  expect(list.ticked.value).toEqual([1, 2])
  await page.findAll('input[type="checkbox"]')[1]?.setValue(false)
  expect(list.ticked.value).toEqual([2])
  list.set({ late: '1' })
  await flushPromises()
  expect(list.ticked.value).toEqual([])
})

test('a row that stands open has what belongs to it below it', () => {
  const table = mount(ListTable, {
    props: { rows: ROWS, first: 'Thing', columns: [{ key: 'name', name: 'Name' }], open: 2 },
    slots: { first: 'x', cell: 'y', opened: ({ row }: { row: { id: number } }) => `more of ${row.id}` },
  })
  const rows = table.findAll('tbody tr').map((one) => one.text())
  expect(rows).toEqual(['x y', 'x y', 'more of 2'])
})
