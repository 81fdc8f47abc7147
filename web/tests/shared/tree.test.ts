import { expect, test } from 'vitest'
import { but, flat, treeOf } from '@/shared/tree'

const PLACES = [
  { id: 1, name: 'Water', parent: null },
  { id: 2, name: 'Metering', parent: 1 },
  { id: 3, name: 'Letters', parent: 2 },
  { id: 4, name: 'Stores', parent: null },
]

test('places stand below what lies above them, each with its whole way', () => {
  const trees = treeOf(PLACES)
  expect(trees.map((one) => one.label)).toEqual(['Water', 'Stores'])
  expect(flat(trees).map((one) => one.way)).toEqual([
    'Water',
    'Water › Metering',
    'Water › Metering › Letters',
    'Stores',
  ])
})

test('one whose upper cannot be seen stands at the top, in whatever order they come', () => {
  const trees = treeOf([
    { id: 3, name: 'Letters', parent: 2 },
    { id: 9, name: 'Valves', parent: 8 },
    { id: 2, name: 'Metering', parent: 1 },
  ])
  expect(trees.map((one) => [one.label, one.children.map((two) => two.label)])).toEqual([
    ['Valves', []],
    ['Metering', ['Letters']],
  ])
})

test('a way that is given stands before one that is made of names', () => {
  expect(treeOf([{ id: 1, name: 'Letters', parent: null, way: 'Care › Letters' }])[0]?.way).toBe(
    'Care › Letters',
  )
})

test('what is moved cannot be put below itself', () => {
  expect(but(PLACES, 2).map((one) => one.id)).toEqual([1, 4])
  expect(but(PLACES, undefined)).toEqual(PLACES)
  expect(but(PLACES, 77)).toEqual(PLACES)
})
