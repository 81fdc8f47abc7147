import { expect, test } from 'vitest'
import type { Schemas } from '@/api/client'
import ReleaseChanges from '@/workshop/ReleaseChanges.vue'
import ReleaseLook from '@/workshop/ReleaseLook.vue'
import { onPage } from '../within'

const LINES: Schemas['ChangeLine'][] = [
  { weight: 'breaking', kind: 'input', name: 'list', words: 'is required now' },
  { weight: 'addition', kind: 'count', name: 'pages', words: 'is counted too' },
  { weight: 'fix', kind: 'file', name: 'main.py', words: 'is changed' },
]
const LOOK: Schemas['ReleaseLook'] = {
  package: 'hydrant-letters',
  about: 'Writes letters',
  before: '1.4.2',
  before_id: 7,
  found: 'addition',
  changes: LINES.slice(1),
  numbers: [
    { says: 'fix', number: '1.4.3', enough: false },
    { says: 'addition', number: '1.5.0', enough: true },
    { says: 'breaking', number: '2.0.0', enough: true },
  ],
  number: null,
  said: null,
  against: [],
}

test('the heaviest differences stand first, and what nobody sets up by is folded', async () => {
  const { wrapper } = await onPage(ReleaseChanges, { changes: LINES })
  expect(wrapper.findAll('li').map((one) => one.attributes('data-weight'))).toEqual(['breaking', 'addition'])
  expect(wrapper.text()).toContain('1 difference that nobody sets up by')
  await wrapper.find('button').trigger('click')
  expect(wrapper.text()).toContain('main.py is changed')
})

test('where only such differ, they are open', async () => {
  const { wrapper } = await onPage(ReleaseChanges, { changes: LINES.slice(2) })
  expect(wrapper.text()).toContain('main.py is changed')
})

test('without a number in its package, one that says enough is chosen', async () => {
  const { wrapper } = await onPage(ReleaseLook, { look: LOOK, modelValue: 'addition' })
  const radios = wrapper.findAll('input[type="radio"]')
  expect(radios.map((one) => (one.element as HTMLInputElement).disabled)).toEqual([true, false, false])
  expect(wrapper.text()).toContain('less than was found')
  await radios[2]!.setValue(true)
  expect(wrapper.emitted('update:modelValue')?.at(-1)).toEqual(['breaking'])
})

test('a number that says too little is refused with its reasons, before it is sent', async () => {
  const against = ['says fix, but input list is required now, which is breaking; make it 2.0.0']
  const look = {
    ...LOOK,
    numbers: [],
    number: '1.4.3',
    said: 'fix' as const,
    found: 'breaking' as const,
    against,
  }
  const { wrapper } = await onPage(ReleaseLook, { look, modelValue: '' })
  expect(wrapper.text()).toContain('Its number says fix')
  expect(wrapper.text()).toContain('1.4.3 says fix, but input list is required now')
})

test('a first release has nothing to be set against', async () => {
  const look = {
    ...LOOK,
    before: null,
    before_id: null,
    found: null,
    changes: [],
    numbers: [],
    number: '1.0.0',
  }
  const { wrapper } = await onPage(ReleaseLook, { look, modelValue: '' })
  expect(wrapper.text()).toContain('first release')
  expect(wrapper.findAll('input')).toEqual([])
})
