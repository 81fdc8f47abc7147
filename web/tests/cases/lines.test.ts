import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import CaseLines from '@/cases/CaseLines.vue'
import Choice from '@/shared/Choice.vue'
import NumberField from '@/shared/NumberField.vue'
import { onPage } from '../within'
import { sheetOf } from './sheet'

const ME = { currency: 'EUR', permissions: [], locale: 'en-GB', zone: 'UTC' }

vi.mock('@/api/client', async (original) => ({
  ...(await original<typeof import('@/api/client')>()),
  api: {
    GET: () => Promise.resolve({ data: ME, response: new Response() }),
  },
}))
beforeEach(() => localStorage.clear())

describe('lines in money', () => {
  const shown = async (field: string, rows: unknown[], more: Record<string, unknown> = {}) => {
    const made = sheetOf({ [field]: rows }, 3)
    const props = { idea: 104, field, sheet: made.sheet, reckoned: [], ...more }
    return { ...made, ...(await onPage(CaseLines, props)) }
  }
  const press = async (wrapper: Awaited<ReturnType<typeof shown>>['wrapper'], words: string) => {
    await wrapper
      .findAll('button')
      .find((one) => one.text() === words)
      ?.trigger('click')
    await flushPromises()
  }

  it('are kept by a button only, with the version that the typing began with', async () => {
    const { wrapper, kept, versions } = await shown('running_lines', [])
    await press(wrapper, 'Add a line')
    await wrapper.find('[aria-label="Name of line 1"]').setValue('Reading licence')
    wrapper.findComponent(NumberField).vm.$emit('update:modelValue', '1200')
    expect(kept).toEqual([])
    versions.running_lines = 5
    await press(wrapper, 'Keep the lines')
    expect(kept).toEqual([['running_lines', [{ name: 'Reading licence', amount: '1200' }], 3]])
  })

  it('are reckoned another way, which takes the figures of that way', async () => {
    const { wrapper, kept } = await shown('running_lines', [{ name: 'Desk', amount: '900' }])
    wrapper.findComponent(Choice).vm.$emit('update:modelValue', 'share')
    await flushPromises()
    expect(wrapper.findAllComponents(NumberField)).toHaveLength(3)
    await press(wrapper, 'Keep the lines')
    expect(kept[0]?.[1]).toEqual([{ name: 'Desk', share: '', days: '', day_cost: '' }])
  })

  it('are as they were when the change is left', async () => {
    const { wrapper, kept } = await shown('running_lines', [{ name: 'Desk', amount: '900' }])
    await wrapper.find('[aria-label="Take off line 1"]').trigger('click')
    expect(wrapper.text()).toContain('None.')
    await press(wrapper, 'Cancel')
    expect(wrapper.find<HTMLInputElement>('[aria-label="Name of line 1"]').element.value).toBe('Desk')
    expect(kept).toEqual([])
  })

  it('of benefit say their kind and how they come about', async () => {
    const { wrapper, kept } = await shown('benefit_lines', [])
    await press(wrapper, 'Add a line')
    await wrapper.find('[aria-label="How line 1 comes about"]').setValue('fewer letters come back')
    await press(wrapper, 'Keep the lines')
    expect(kept[0]?.[1]).toEqual([
      { name: '', amount: '', kind: 'errors avoided', how: 'fewer letters come back' },
    ])
  })

  it('are taken from the cost tables', async () => {
    const offers = [{ name: 'Map licence', per_robot: '300' }]
    const { wrapper, kept } = await shown('running_lines', [], { offers })
    wrapper.findComponent(Choice).vm.$emit('update:modelValue', 'Map licence')
    await flushPromises()
    await press(wrapper, 'Keep the lines')
    expect(kept[0]?.[1]).toEqual(offers)
  })

  it('stand again for whoever left them unkept', async () => {
    const first = await shown('running_lines', [])
    await press(first.wrapper, 'Add a line')
    await first.wrapper.find('[aria-label="Name of line 1"]').setValue('Reading licence')
    await flushPromises()
    first.wrapper.unmount()
    const { wrapper } = await shown('running_lines', [])
    expect(wrapper.find<HTMLInputElement>('[aria-label="Name of line 1"]').element.value).toBe(
      'Reading licence',
    )
    expect(wrapper.text()).toContain('Keep the lines')
  })
})
