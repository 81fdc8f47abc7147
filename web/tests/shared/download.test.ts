import { beforeEach, expect, test, vi } from 'vitest'
import { fileName, give, tableFile } from '@/shared/download'

const post = vi.hoisted(() => vi.fn())
vi.mock('@/api/client', async (original) => ({
  ...(await original<typeof import('@/api/client')>()),
  api: { POST: post },
}))
const clicked: { name: string; href: string }[] = []
beforeEach(() => {
  clicked.length = 0
  post.mockReset()
  vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
    clicked.push({ name: this.download, href: this.href })
  })
  URL.createObjectURL = () => 'blob:here'
  URL.revokeObjectURL = vi.fn()
})

test('a title becomes the name of a file', () => {
  expect(fileName('Net a year, € (2026)', 'png')).toBe('net-a-year-2026.png')
  expect(fileName('', 'csv')).toBe('picture.csv')
})

test('a file is given under its name, and its place in memory given back', () => {
  give('a.txt', new Blob(['text']))
  give('b.png', 'data:image/png;base64,AA')
  expect(clicked).toEqual([
    { name: 'a.txt', href: 'blob:here' },
    { name: 'b.png', href: 'data:image/png;base64,AA' },
  ])
  expect(URL.revokeObjectURL).toHaveBeenCalledTimes(1)
})

test('the table of a picture is written by the server', async () => {
  post.mockResolvedValue({ data: new Blob(['x']), response: new Response() })
  const picture = {
    title: 'Delivered',
    columns: ['month', 'EUR'],
    rows: [['Oct', 12.5]],
    kind: 'bars' as const,
    unit: 'EUR',
  }
  await tableFile(picture, 'xlsx')
  expect(post.mock.calls[0]?.[1]).toMatchObject({
    params: { path: { ending: 'xlsx' } },
    body: { title: 'Delivered', columns: ['month', 'EUR'], rows: [['Oct', 12.5]] },
  })
  expect(clicked).toEqual([{ name: 'delivered.xlsx', href: 'blob:here' }])
})
