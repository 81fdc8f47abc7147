import { expect, it } from 'vitest'
import { copyOf, leftBehind } from '@/workshop/routineFields'

const routine = {
  id: 7,
  name: 'Count rows',
  area_id: 1,
  release_id: 3,
  priority: 2,
  run_limit: 4,
  again_after_lost: true,
  most_attempts: 5,
  lease_minutes: 15,
  limit_minutes: 60,
  memory_mb: 512,
  idea_id: 104,
  idea: 'Tanker log',
  attended: '',
  attended_for: null,
  inputs: { rows: 4 },
  tags: ['print'],
  asked: { system: 'Debian', processors: 2, memory_gb: 0, disk_gb: 0, screen: false, applications: ['a'] },
  locks: ['the login'],
  basis: 'count',
  count_name: 'rows',
  triggers: [{}, {}],
} as never

it('a copy is set up alike, but for its name, its area and what one routine alone can have', () => {
  const copy = copyOf(routine)
  expect(copy).toMatchObject({ name: '', area_id: 0, idea_id: null, basis: 'run', count_name: '' })
  expect(copy).toMatchObject({
    release_id: 3,
    priority: 2,
    inputs: { rows: 4 },
    tags: ['print'],
    locks: ['the login'],
  })
  expect(copy.asked).toMatchObject({ system: 'Debian', processors: 2 })
})

it('says what it does not take along', () => {
  expect(leftBehind(routine)).toEqual([
    'the idea it counts for, I-104 Tanker log',
    'its starts on the clock (2)',
    'its address for other programs, if it has one',
  ])
})
