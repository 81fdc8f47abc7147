import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it, test, vi } from 'vitest'
import MendsField from '@/cases/MendsField.vue'
import PeaksField from '@/cases/PeaksField.vue'
import SizingFacts from '@/cases/SizingFacts.vue'
import SystemsField from '@/cases/SystemsField.vue'
import Choice from '@/shared/Choice.vue'
import NumberField from '@/shared/NumberField.vue'
import Suggest from '@/shared/Suggest.vue'
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

describe('the systems that work touches', () => {
  const KNOWN = [
    { name: 'Assayroom', access: 'desktop', state: 'known' },
    { name: 'Kerbgate', access: 'web', state: 'new' },
  ]
  const shown = async (systems: unknown[]) => {
    const made = sheetOf({ systems })
    return { ...made, ...(await onPage(SystemsField, { sheet: made.sheet, known: KNOWN })) }
  }

  it('take their way in from the list, and are kept once each is whole', async () => {
    const { wrapper, kept } = await shown([])
    await wrapper.find('button').trigger('click')
    const name = wrapper.findComponent(Suggest)
    name.vm.$emit('typing')
    name.vm.$emit('update:modelValue', 'assayroom')
    name.vm.$emit('keep')
    await flushPromises()
    expect(kept).toEqual([['systems', [{ name: 'Assayroom', access: 'desktop' }], undefined]])
  })

  it('wait for the way in of one that nobody knows, which is marked new', async () => {
    const { wrapper, kept } = await shown([])
    await wrapper.find('button').trigger('click')
    const name = wrapper.findComponent(Suggest)
    name.vm.$emit('update:modelValue', 'Sumpbook')
    name.vm.$emit('keep')
    await flushPromises()
    expect(kept).toEqual([])
    expect(wrapper.find('.new').text()).toBe('new')
    wrapper.findComponent(Choice).vm.$emit('update:modelValue', 'web')
    await flushPromises()
    expect(kept.at(-1)?.[1]).toEqual([{ name: 'Sumpbook', access: 'web' }])
  })

  it('say that somebody else kept others while a row was typed', async () => {
    const { wrapper, kept, versions } = await shown([{ name: 'Kerbgate', access: 'web' }])
    wrapper.findComponent(Suggest).vm.$emit('typing')
    await flushPromises()
    versions.systems = 4
    wrapper.findComponent(Suggest).vm.$emit('keep')
    await flushPromises()
    expect(kept.at(-1)?.[2]).toBe(1)
  })

  it('follow what is kept elsewhere while nothing is typed, and are taken off', async () => {
    const { wrapper, facts, kept } = await shown([{ name: 'Kerbgate', access: 'web' }])
    facts.systems = [...KNOWN.map(({ name, access }) => ({ name, access }))]
    await flushPromises()
    expect(wrapper.findAllComponents(Suggest)).toHaveLength(2)
    await wrapper.find('[aria-label="Take off system 2"]').trigger('click')
    expect(kept.at(-1)?.[1]).toEqual([{ name: 'Assayroom', access: 'desktop' }])
  })

  it('are read only where the sheet is', async () => {
    const { wrapper, sheet } = await shown([{ name: 'Kerbgate', access: 'web' }])
    sheet.locked.value = true
    await flushPromises()
    expect(wrapper.findAll('button').filter((one) => /Add|Take/.test(one.text()))).toEqual([])
  })
})

describe('the ten points of what should be mended', () => {
  const shown = async (mends: Record<string, number> | null) => {
    const made = sheetOf({ mends })
    return { ...made, ...(await onPage(MendsField, { sheet: made.sheet })) }
  }

  it('are given one by one until none is left', async () => {
    const { wrapper, kept } = await shown({ cost: 9 })
    expect(wrapper.find('[role=status]').text()).toBe('1 of 10 points are left to give.')
    await wrapper.find('[aria-label="One point more for Errors"]').trigger('click')
    expect(kept).toEqual([['mends', { cost: 9, errors: 1 }]])
    expect(wrapper.find('[role=status]').text()).toBe('All 10 points are given.')
    const more = wrapper.findAll('button').filter((one) => one.attributes('aria-label')?.includes('more'))
    expect(more.every((one) => one.attributes('disabled') !== undefined)).toBe(true)
  })

  it('are taken back, and never fewer than none', async () => {
    const { wrapper, kept } = await shown({ cost: 1 })
    await wrapper.find('[aria-label="One point less for Cost"]').trigger('click')
    expect(kept).toEqual([['mends', { cost: 0 }]])
    expect(wrapper.find('[aria-label="One point less for Cost"]').attributes('disabled')).toBeDefined()
  })

  it('show why they were not taken', async () => {
    const { wrapper, faults } = await shown(null)
    faults.mends = 'give ten points in all'
    await flushPromises()
    expect(wrapper.find('[role=alert]').text()).toBe('give ten points in all')
  })
})

describe('how the year goes', () => {
  const even = Array.from({ length: 12 }, () => '1')

  it('begins alike, and keeps a month that is typed', async () => {
    const { sheet, kept } = sheetOf({ peaks: null })
    const { wrapper } = await onPage(PeaksField, { sheet, months: null })
    const months = wrapper.findAllComponents(NumberField)
    expect(months.map((one) => (one.props() as { modelValue: string }).modelValue)).toEqual(even)
    months[2]?.vm.$emit('keep', '2.5')
    expect(kept).toEqual([['peaks', even.map((one, n) => (n === 2 ? '2.5' : one))]])
  })

  it('is made alike again by one button, which stands only where it differs', async () => {
    const { sheet, kept, facts } = sheetOf({ peaks: ['2', ...even.slice(1)] })
    const { wrapper } = await onPage(PeaksField, { sheet, months: even.map(() => '40') })
    expect(wrapper.text()).toContain('40')
    await wrapper.find('button').trigger('click')
    expect(kept).toEqual([['peaks', null]])
    facts.peaks = null
    await flushPromises()
    expect(wrapper.find('button').exists()).toBe(false)
    expect(wrapper.findAllComponents(NumberField)[0]?.find('input').element.value).toBe('1')
  })
})

test('an expert is shown the facts they were asked for, and no heads of others', async () => {
  const { sheet } = sheetOf({ volume: '40', mends: null })
  const { wrapper } = await onPage(SizingFacts, { sheet, systems: [], months: null, explain: true })
  expect(wrapper.findAll('h2').map((one) => one.text())).toEqual(['How much', 'What it should mend'])
  expect(wrapper.findAll('[data-field]').map((one) => one.attributes('data-field'))).toEqual([
    'volume',
    'mends',
  ])
})
