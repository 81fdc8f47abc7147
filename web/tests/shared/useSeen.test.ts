import { expect, test } from 'vitest'
import { nextTick, ref } from 'vue'
import { ProblemError } from '@/api/client'
import { useSeen } from '@/shared/useSeen'
import { within } from '../within'

function edited(first?: number) {
  const current = ref(first)
  const error = ref<unknown>(null)
  const touched = ref(false)
  const { given } = within(() =>
    useSeen(
      () => current.value,
      error,
      () => touched.value,
    ),
  )
  return { seen: given, current, error, touched }
}
const conflict = (more: Record<string, unknown>) =>
  new ProblemError(409, 'conflict', 'Somebody changed this.', '', [], more)

test('follows what is read for as long as nothing is typed', async () => {
  const { seen, current } = edited()
  expect(seen.value).toBe(0)
  current.value = 4
  await nextTick()
  expect(seen.value).toBe(4)
})

test('stays where it was once typing began, whatever is read since', async () => {
  const { seen, current, touched } = edited(4)
  touched.value = true
  await nextTick()
  current.value = 5
  await nextTick()
  expect(seen.value).toBe(4)
})

test('stands on the newer version once the server has told of it', async () => {
  const { seen, current, error, touched } = edited(4)
  touched.value = true
  current.value = 6
  error.value = conflict({ version: 6 })
  await nextTick()
  expect(seen.value).toBe(6)
})

test('is not moved by any other refusal', async () => {
  const { seen, error, touched } = edited(4)
  touched.value = true
  error.value = new ProblemError(422, 'input', 'No.', '', [], { version: 9 })
  await nextTick()
  error.value = new Error('no answer')
  await nextTick()
  expect(seen.value).toBe(4)
})

test('follows again when what was typed is kept or left', async () => {
  const { seen, current, touched } = edited(4)
  touched.value = true
  current.value = 5
  await nextTick()
  touched.value = false
  await nextTick()
  expect(seen.value).toBe(5)
})
