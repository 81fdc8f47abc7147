import { beforeEach, expect, test } from 'vitest'
import { nextTick, ref } from 'vue'
import { ProblemError } from '@/api/client'
import { both, differing, merged, usual, written } from '@/shared/differing'
import { draftsOf } from '@/shared/unsaved'
import { useEdit } from '@/shared/useEdit'
import { within } from '../within'

beforeEach(() => {
  localStorage.clear()
  draftsOf(7)
})
interface Area {
  name: string
  note: string
}
function edited(place = 'area-3') {
  const server = ref<(Area & { version: number }) | undefined>({ name: 'North', note: '', version: 4 })
  const sent: [Area, number][] = []
  const { given: edit, wrapper } = within(() =>
    useEdit<Area>(
      () => server.value && { name: server.value.name, note: server.value.note },
      (fields, version) => {
        sent.push([{ ...fields }, version])
        if (!server.value || version !== server.value.version)
          throw new ProblemError(409, 'conflict', 'Somebody changed this.', '', [], {})
        server.value = { ...fields, version: version + 1 }
        return Promise.resolve()
      },
      { what: 'The area', place: () => place, version: () => server.value?.version, touched: [['areas']] },
    ),
  )
  return { server, sent, edit, wrapper }
}

test('follows the server while nothing is typed, and keeps what is typed when it changes', async () => {
  const { server, edit } = edited()
  expect(edit.fields.value.name).toBe('North')
  server.value = { name: 'Plant North', note: '', version: 5 }
  await nextTick()
  await nextTick()
  expect(edit.fields.value.name).toBe('Plant North')
  edit.fields.value.note = 'by the river'
  await nextTick()
  server.value = { name: 'N', note: '', version: 6 }
  await nextTick()
  expect(edit.fields.value).toEqual({ name: 'Plant North', note: 'by the river' })
})

test('sends what was typed to the version it began with, and is clean afterwards', async () => {
  const { sent, edit } = edited()
  edit.fields.value.name = 'Plant North'
  await edit.save.go()
  expect(sent).toEqual([[{ name: 'Plant North', note: '' }, 4]])
  await nextTick()
  expect(edit.changed.value).toBe(false)
  edit.fields.value.name = 'Plant N'
  await edit.save.go()
  expect(sent[1]).toEqual([{ name: 'Plant N', note: '' }, 5])
})

test('a conflict shows both texts; what only they changed is theirs, and the next try stands on theirs', async () => {
  const { server, sent, edit } = edited()
  edit.fields.value.name = 'Plant North'
  await nextTick()
  server.value = { name: 'North works', note: 'closed on Fridays', version: 9 }
  await edit.save.go()
  expect(edit.refused.value?.message).toBe('Somebody changed this.')
  expect(edit.rows.value).toEqual([
    { path: 'name', was: 'North', theirs: 'North works', mine: 'Plant North' },
    { path: 'note', was: '', theirs: 'closed on Fridays', mine: '' },
  ])
  edit.settle({})
  expect(edit.refused.value).toBeNull()
  await edit.save.go()
  expect(sent[1]).toEqual([{ name: 'Plant North', note: 'closed on Fridays' }, 9])
})

test('all of theirs leaves nothing to send', async () => {
  const { server, edit } = edited()
  edit.fields.value.name = 'Plant North'
  await nextTick()
  server.value = { name: 'North works', note: '', version: 9 }
  await edit.save.go()
  edit.settle({ name: 'theirs' })
  expect(edit.fields.value.name).toBe('North works')
  expect(edit.changed.value).toBe(false)
})

test('a draft comes back on the version it was typed on, so that a newer one is not written over', async () => {
  const first = edited('area-5')
  first.edit.fields.value.name = 'Plant North'
  await nextTick()
  first.wrapper.unmount()
  const again = edited('area-5')
  expect(again.edit.fields.value.name).toBe('Plant North')
  expect(again.edit.seen.value).toBe(4)
  again.edit.read()
  await nextTick()
  expect(again.edit.changed.value).toBe(false)
  again.wrapper.unmount()
  expect(edited('area-5').edit.fields.value.name).toBe('North')
})

test('two texts differ line by line, into records and not into lists', () => {
  const was = { noted: { days: 5, needs: ['owner'] }, sized: { days: 9 } }
  const theirs = { noted: { days: 6, needs: ['owner'] }, sized: { days: 9 } }
  const mine = { noted: { days: 5, needs: ['owner', 'area'] }, sized: { days: 8 } }
  const rows = differing(was, theirs, mine)
  expect(rows.map((row) => [row.path, usual(row), both(row)])).toEqual([
    ['noted.days', 'theirs', false],
    ['noted.needs', 'mine', false],
    ['sized.days', 'mine', false],
  ])
  expect(merged(mine, rows, {})).toEqual({ noted: { days: 6, needs: ['owner', 'area'] }, sized: { days: 8 } })
  expect(merged(mine, rows, { 'sized.days': 'theirs' }).sized.days).toBe(9)
})

test('a line that they took out goes, if theirs is taken', () => {
  const rows = differing({ one: 1, two: 2 }, { one: 1 }, { one: 1, two: 2 })
  expect(merged({ one: 1, two: 2 }, rows, {})).toEqual({ one: 1 })
})

test.each([
  [null, 'nothing'],
  ['', 'nothing'],
  [false, 'no'],
  [['a', 'b'], 'a; b'],
  [[], 'nothing'],
  [{ amount: '40', rhythm: 'week', rest: null }, '40, week'],
  [12.5, '12.5'],
])('writes %j as %s', (value, words) => expect(written(value)).toBe(words))
