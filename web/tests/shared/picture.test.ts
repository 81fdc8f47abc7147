import { describe, expect, it, test } from 'vitest'
import { drawing, type Picture } from '@/shared/picture'

const style = { getPropertyValue: (name: string) => ` ${name} ` }
const base: Picture = {
  title: 'Net by year',
  columns: ['Year', 'Promised', 'Delivered'],
  rows: [
    [1, -4000, null],
    [2, 12_000, 9000],
  ],
  kind: 'line',
  unit: '€',
}
interface Drawn {
  legend?: object
  xAxis: { type: string; data?: string[]; min?: string }
  yAxis: { name?: string }
  series: {
    name?: string
    type: string
    stack?: string
    data: unknown[]
    markLine?: { data: { xAxis: number; name: string; label: { distance: number } }[] }
  }[]
  color: string[]
  tooltip: { trigger: string; formatter?: (one: { name: string }) => string }
}
const drawn = (picture: Partial<Picture>): Drawn =>
  drawing({ ...base, ...picture }, style) as unknown as Drawn

describe('a line', () => {
  it('draws each column against the first, with gaps where nothing is known', () => {
    const { series } = drawn({})
    expect(series.map((one) => [one.name, one.data])).toEqual([
      [
        'Promised',
        [
          [1, -4000],
          [2, 12_000],
        ],
      ],
      [
        'Delivered',
        [
          [1, null],
          [2, 9000],
        ],
      ],
    ])
  })

  it('puts the words of near marks above each other', () => {
    const marks = [
      { at: 1, words: 'go-live' },
      { at: 1.1, words: 'payback' },
    ]
    const lines = drawn({ marks }).series[0]?.markLine?.data ?? []
    expect(lines.map((one) => [one.xAxis, one.name])).toEqual([
      [1, 'go-live'],
      [1.1, 'payback'],
    ])
    expect(lines[1]?.label.distance).toBeGreaterThan(lines[0]?.label.distance ?? 0)
  })
})

test.each([
  ['bars', undefined],
  ['stack', 'whole'],
] as const)('%s stand over the words of the first column', (kind, stack) => {
  const { xAxis, series } = drawn({ kind })
  expect(xAxis).toMatchObject({ type: 'category', data: ['1', '2'] })
  expect(series.map((one) => [one.type, one.stack, one.data])).toEqual([
    ['bar', stack, [-4000, 12_000]],
    ['bar', stack, [null, 9000]],
  ])
})

test('a field names both axes and each point', () => {
  const rows = [['I-104 Leak claims', 12, 40_000]]
  const { yAxis, series, tooltip } = drawn({ kind: 'field', rows, columns: ['Idea', 'Days', 'Worth'] })
  expect(yAxis.name).toBe('€')
  expect(series[0]?.data).toEqual([{ name: 'I-104 Leak claims', value: [12, 40_000] }])
  expect(tooltip.formatter?.({ name: 'I-104 Leak claims' })).toBe('I-104 Leak claims')
})

test('there is a legend only where there is more than one column to tell apart', () => {
  expect(drawn({}).legend).toBeDefined()
  expect(drawn({ columns: ['Year', 'Net'] }).legend).toBeUndefined()
})

test('colours are those of the theme', () => {
  expect(drawn({}).color).toEqual(['--act', '--hair-2', '--rule'])
})
