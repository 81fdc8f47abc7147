import { expect, it } from 'vitest'
import DroppedInputs from '@/workshop/DroppedInputs.vue'
import { onPage } from '../within'

it('names inputs that a release does not take, and leaves them out by a press', async () => {
  const schema = { properties: { rows: {} } }
  const { wrapper } = await onPage(DroppedInputs, { schema, modelValue: { rows: 3, list: 'a' } })
  expect(wrapper.text().replace(/\s+/g, ' ')).toContain('does not take list (now "a").')
  await wrapper.find('button').trigger('click')
  expect(wrapper.emitted('update:modelValue')?.[0]).toEqual([{ rows: 3 }])
})

it('says nothing while the release is read, nor where all fit', async () => {
  const { wrapper } = await onPage(DroppedInputs, { schema: {}, modelValue: { list: 'a' } })
  expect(wrapper.text()).toBe('')
})
