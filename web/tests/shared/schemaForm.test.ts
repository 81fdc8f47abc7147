import { flushPromises } from '@vue/test-utils'
import { afterEach, expect, test, vi } from 'vitest'
import { ref } from 'vue'
import { ProblemError } from '@/api/client'
import { momentOf, wallOf } from '@/shared/wall'
import { begun, hintOf, inWords, kindOf, kindSaid, withValue, type Schema } from '@/shared/schema'
import SchemaForm from '@/shared/SchemaForm.vue'
import { onPage } from '../within'

vi.mock('@/shared/session', () => ({ useMe: () => ({ zone: ref('Europe/Lisbon') }) }))
afterEach(() => {
  document.body.innerHTML = ''
})

const STREET: Schema = {
  type: 'object',
  title: 'Street',
  properties: {
    name: { type: 'string', title: 'Name' },
    houses: { type: 'integer', title: 'Houses', minimum: 1 },
  },
  required: ['name'],
}

/** The form over a schema, with what it gave last. */
async function form(
  properties: Record<string, Schema>,
  given: Record<string, unknown> = {},
  error?: unknown,
) {
  const values = ref<Record<string, unknown>>(given)
  const { wrapper } = await onPage(SchemaForm, {
    schema: { type: 'object', properties },
    modelValue: values.value,
    error,
    'onUpdate:modelValue': async (now: Record<string, unknown>) => {
      values.value = now
      await wrapper.setProps({ modelValue: now } as never)
    },
  })
  return { wrapper, values }
}
const button = (wrapper: Awaited<ReturnType<typeof form>>['wrapper'], words: string) =>
  wrapper.findAll('button').find((one) => one.text() === words)!

test.each([
  [{ type: 'string' }, 'text'],
  [{ type: 'string', format: 'file' }, 'file'],
  [{ type: 'string', format: 'date' }, 'day'],
  [{ type: 'string', format: 'date-time' }, 'moment'],
  [{ type: 'integer' }, 'number'],
  [{ type: 'boolean' }, 'yes'],
  [{ enum: [1, 'two'] }, 'choice'],
  [{ const: 3 }, 'always'],
  [STREET, 'table'],
  [{ type: 'object' }, 'json'],
  [{ type: 'array', items: STREET }, 'list'],
  [{ type: 'array' }, 'json'],
])('%j is asked for as %s', (schema, kind) => {
  expect(kindOf(schema as Schema)).toBe(kind)
})

test.each([
  [{ type: 'integer' }, 'whole number'],
  [{ type: 'boolean' }, 'yes or no'],
  [{ type: 'string', format: 'time' }, 'time of day'],
  [{ enum: [1, 'two'] }, 'one of 1, two'],
  [{ type: 'array', items: STREET }, 'list, each: values by name: name, houses'],
  [{ type: 'array' }, 'list'],
])('%j is called %s', (schema, words) => {
  expect(kindSaid(schema as Schema)).toBe(words)
})

test('a hint says what it is for, what it may be, and what it is without', () => {
  const hint = hintOf({
    description: 'Who signs',
    examples: ['Networks', 'Metering', 'x'],
    default: 'Networks',
  })
  expect(hint).toBe('Who signs; such as Networks, Metering; left out: Networks')
  expect(inWords({ a: [1] })).toBe('{"a":[1]}')
  expect(inWords('x'.repeat(80))).toHaveLength(60)
})

test('nothing given leaves a name out, and a new row begins with what its schema says', () => {
  expect(withValue({ a: 1, b: 2 }, 'a', '')).toEqual({ b: 2 })
  expect(withValue('no table', 'a', 0)).toEqual({ a: 0 })
  expect([begun(STREET), begun({ type: 'boolean' }), begun({ type: 'string', default: 'x' })]).toEqual([
    {},
    false,
    'x',
  ])
})

test('moments are written by the clock of the reader', () => {
  expect(wallOf('2026-07-01T08:00:00Z', 'Europe/Lisbon')).toBe('2026-07-01T09:00')
  expect(momentOf('2026-07-01T09:00', 'Europe/Lisbon')).toBe('2026-07-01T08:00:00Z')
  expect(momentOf('2026-12-01T09:00', 'Europe/Lisbon')).toBe('2026-12-01T09:00:00Z')
  expect(wallOf('soon', 'UTC')).toBe('')
})

test('lists of values by name are made row by row, and a row that goes takes its own fields', async () => {
  const { wrapper, values } = await form({ streets: { type: 'array', title: 'Streets', items: STREET } })
  for (const name of ['Weir Lane', 'Dock Road']) {
    await button(wrapper, 'Add to Streets').trigger('click')
    await flushPromises()
    await wrapper.findAll('[data-at$=".name"] input').at(-1)!.setValue(name)
  }
  expect(values.value).toEqual({ streets: [{ name: 'Weir Lane' }, { name: 'Dock Road' }] })
  await wrapper.find('button[aria-label="Take Street 1 out"]').trigger('click')
  await flushPromises()
  expect(values.value).toEqual({ streets: [{ name: 'Dock Road' }] })
  const left = wrapper
    .findAll('[data-at$=".name"] input')
    .map((one) => (one.element as HTMLInputElement).value)
  expect(left).toEqual(['Dock Road'])
  await wrapper.find('button[aria-label="Take Street 1 out"]').trigger('click')
  expect(values.value).toEqual({})
})

test('no more rows are added than the list takes', async () => {
  const list: Schema = { type: 'array', title: 'Names', items: { type: 'string' }, maxItems: 1 }
  const { wrapper } = await form({ names: list }, { names: ['a'] })
  expect(button(wrapper, 'Add to Names').attributes('disabled')).toBeDefined()
  expect(wrapper.text()).toContain('up to 1 in the list')
})

test('what the server finds wrong stands at its field, however deep that lies', async () => {
  const faults = [
    { field: 'inputs.streets.0.name', value: null, message: 'is needed' },
    { field: 'inputs.streets', value: null, message: 'at least 2 in the list' },
  ]
  const error = new ProblemError(422, 'input', 'x', 'y', faults, {})
  const { wrapper } = await form(
    { streets: { type: 'array', items: STREET, title: 'Streets' } },
    { streets: [{}] },
    error,
  )
  const alerts = wrapper.findAll('[role="alert"]').map((one) => one.text())
  expect(alerts).toEqual(['at least 2 in the list', 'is needed'])
})

test('numbers are read as numbers, and what is no JSON yet is handed on as it stands', async () => {
  const { wrapper, values } = await form({
    most: { type: 'number', title: 'Most' },
    more: { type: 'array', title: 'More' },
  })
  await wrapper.find('[data-at="inputs.most"] input').setValue('1.5')
  expect(values.value).toEqual({ most: 1.5 })
  const text = wrapper.find('[data-at="inputs.more"] textarea')
  await text.setValue('[1, 2')
  expect(values.value).toEqual({ most: 1.5, more: '[1, 2' })
  expect(wrapper.text()).toContain('not valid JSON yet')
  await text.setValue('[1, 2]')
  expect(values.value).toEqual({ most: 1.5, more: [1, 2] })
  await wrapper.find('[data-at="inputs.most"] input').setValue('')
  expect(values.value).toEqual({ more: [1, 2] })
})

test('a switch that is left out shows what the release declares, and is kept once it is set', async () => {
  const { wrapper, values } = await form({ signed: { type: 'boolean', title: 'Signed', default: true } })
  const box = wrapper.find('input[type="checkbox"]')
  expect((box.element as HTMLInputElement).checked).toBe(true)
  await box.setValue(false)
  expect(values.value).toEqual({ signed: false })
})
