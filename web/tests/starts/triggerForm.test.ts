import { describe, expect, it, test } from 'vitest'
import type { Schemas } from '@/api/client'
import { bodyOf, draftOf, empty, type Draft } from '@/starts/triggerForm'

const form = (more: Partial<Draft>) => bodyOf({ ...empty('Europe/Lisbon'), ...more }).form

describe('a start on the clock becomes the form that is kept', () => {
  test.each<[string, Partial<Draft>, object]>([
    ['weekdays', { kind: 'week' }, { expr: '30 7 * * MON,TUE,WED,THU,FRI' }],
    ['every day of the week', { kind: 'week', weekdays: [] }, { expr: '30 7 * * *' }],
    [
      'every other week',
      { kind: 'week', weekdays: ['MON'], weeks: 2, weeksFrom: '2026-11-02' },
      { expr: '30 7 * * MON', weeks: 2, weeks_from: '2026-11-02' },
    ],
    ['the last working day', { kind: 'month', monthDay: 'LW', time: '18:00' }, { expr: '0 18 LW * *' }],
    [
      'the first of some months',
      { kind: 'month', monthDay: '1', months: ['JAN', 'JUL'] },
      { expr: '30 7 1 JAN,JUL *' },
    ],
    ['a day of the year', { kind: 'year', yearDay: 24, yearMonth: 'DEC' }, { expr: '30 7 24 DEC *' }],
    [
      'every so many hours',
      { kind: 'interval', every: 3, unit: 'hours', anchor: '2026-11-02T06:00' },
      { every_minutes: 180, anchor: '2026-11-02T06:00:00Z' },
    ],
    ['once', { kind: 'once', once: '2026-11-04T18:00' }, { once: '2026-11-04T18:00' }],
    [
      'a code',
      { kind: 'code', code: ' 0 6 1-5#2 * * ', years: ' 2027 ' },
      { expr: '0 6 1-5#2 * *', years: '2027' },
    ],
  ])('%s', (_, draft, wanted) => {
    expect(form(draft)).toEqual(wanted)
  })
})

test('a window is sent only when it is wanted, and no bound is no bound', () => {
  const draft = empty('Europe/Lisbon')
  expect(bodyOf(draft)).toMatchObject({ window: null, latest_minutes: null, zone: 'Europe/Lisbon' })
  expect(bodyOf({ ...draft, windowed: true, latest: 0 })).toMatchObject({
    window: { from: '08:00', to: '18:00' },
    latest_minutes: null,
  })
})

test('what begins now lies ahead, whatever the hour and the zone', () => {
  expect(new Date(`${empty('UTC').once}:00Z`).getTime()).toBeGreaterThan(Date.now() + 14 * 3_600_000)
})

const kept = (formed: object, more: object = {}) =>
  ({
    form: formed,
    zone: 'UTC',
    on_closed: 'skip',
    window: { from: '20:00', to: '06:00' },
    missed: 'none',
    missed_hours: 5,
    latest_minutes: 15,
    ...more,
  }) as unknown as Schemas['Trigger']

describe('what is kept comes back as it was typed', () => {
  test.each([
    { expr: '30 7 * * MON', years: '2027', weeks: 2, weeks_from: '2026-11-02' },
    { every_minutes: 180, anchor: '2026-11-02T06:00:00Z' },
    { every_minutes: 45, anchor: '2026-11-02T06:00:00Z' },
    { once: '2026-11-04T18:00' },
  ])('%o', (formed) => {
    const draft = draftOf(kept(formed))
    expect(bodyOf(draft)).toEqual({
      form: formed,
      zone: 'UTC',
      on_closed: 'skip',
      window: { from: '20:00', to: '06:00' },
      missed: 'none',
      missed_hours: 5,
      latest_minutes: 15,
    })
  })

  it('with the usual hours ready where there is no window', () => {
    const draft = draftOf(kept({ expr: '0 6 * * *' }, { window: null }))
    expect([draft.windowed, draft.from, draft.to]).toEqual([false, '08:00', '18:00'])
  })
})
