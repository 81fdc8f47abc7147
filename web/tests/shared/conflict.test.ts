import { mount } from '@vue/test-utils'
import { expect, test } from 'vitest'
import Conflict from '@/shared/Conflict.vue'
import type { Differing } from '@/shared/differing'

const ROWS: Differing[] = [
  { path: 'noted.days', was: 5, theirs: 6, mine: 5 },
  { path: 'noted.needs', was: [], theirs: ['area'], mine: ['owner'] },
]
const shown = (rows: Differing[]) =>
  mount(Conflict, {
    props: { said: 'Somebody changed this.', rows, names: { days: 'Days', needs: 'Needs' } },
  })
const button = (page: ReturnType<typeof shown>, words: string) =>
  page.findAll('button').find((one) => one.text() === words)

test('both texts stand side by side, each line called what the form calls it', () => {
  const page = shown(ROWS)
  expect(page.find('[role="alert"]').text()).toContain('Somebody changed this.')
  expect(page.findAll('tbody tr').map((one) => one.findAll('th, td').map((cell) => cell.text()))).toEqual([
    ['Days', '6', '5'],
    ['Needs both changed it', 'area', 'owner'],
  ])
})

test('what they alone changed is theirs, what both changed is mine, until it is chosen', async () => {
  const page = shown(ROWS)
  await button(page, 'Go on with what is chosen')?.trigger('click')
  expect(page.emitted('settle')?.[0]).toEqual([{ 'noted.days': 'theirs', 'noted.needs': 'mine' }])
  await page.findAll('input[type="radio"]')[2]?.setValue(true)
  await button(page, 'Go on with what is chosen')?.trigger('click')
  expect(page.emitted('settle')?.[1]).toEqual([{ 'noted.days': 'theirs', 'noted.needs': 'theirs' }])
})

test('all of theirs can be taken at once', async () => {
  const page = shown(ROWS)
  await button(page, 'Take all of theirs')?.trigger('click')
  expect(page.emitted('settle')?.[0]).toEqual([{ 'noted.days': 'theirs', 'noted.needs': 'theirs' }])
})

test('a single line asks for one of the two', async () => {
  const page = shown(ROWS.slice(1))
  await button(page, 'Keep theirs')?.trigger('click')
  await button(page, 'Keep mine')?.trigger('click')
  expect(page.emitted('settle')).toEqual([[{ 'noted.needs': 'theirs' }], [{ 'noted.needs': 'mine' }]])
})
