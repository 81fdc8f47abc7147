import { mount } from '@vue/test-utils'
import { describe, expect, it, test } from 'vitest'
import { nextTick } from 'vue'
import Choice from '@/shared/Choice.vue'
import { dayPattern } from '@/shared/days'
import FileField from '@/shared/FileField.vue'
import { writeAs } from '@/shared/format'
import NumberField from '@/shared/NumberField.vue'
import WholeField from '@/shared/WholeField.vue'

function field(props: Record<string, unknown>) {
  const wrapper = mount(NumberField, { props: { modelValue: '', label: 'Amount', ...props } as never })
  const input = wrapper.find('input')
  const type = async (text: string) => {
    await input.setValue(text)
    await input.trigger('blur')
    const given = wrapper.emitted('update:modelValue')?.at(-1)?.[0]
    if (given !== undefined) await wrapper.setProps({ modelValue: given } as never)
    await nextTick()
  }
  const shown = (): string => (input.element as HTMLInputElement).value
  const given = () => wrapper.emitted('update:modelValue')?.at(-1)?.[0]
  return { wrapper, type, shown, given, input }
}

describe('a number field', () => {
  it('shows a number as its reader writes it, and keeps it exactly', async () => {
    writeAs('de-DE')
    const { type, shown, given } = field({ modelValue: '1200.5' })
    expect(shown()).toBe('1.200,5')
    await type('12.345,678')
    expect(given()).toBe('12345.678')
    expect(shown()).toBe('12.345,678')
  })

  it('never keeps another value than the one it shows', async () => {
    writeAs('de-DE')
    const { type, shown, given } = field({})
    await type('1.200')
    expect(given()).toBe('1200')
    expect(shown()).toBe('1.200')
  })

  it('asks back what can be read in two ways, and takes the answer', async () => {
    const { wrapper, type, given, shown, input } = field({})
    await type('1,5')
    expect(given()).toBe('1,5')
    expect((input.element as HTMLInputElement).validationMessage).toContain('1.5 or 15')
    expect(wrapper.find('[role=alert]').text()).toContain('is it 1.5 or 15?')
    expect(input.attributes('aria-invalid')).toBe('true')
    const note = wrapper.find('[role=alert]').attributes('id')
    expect(input.attributes('aria-describedby')).toBe(note)
    await wrapper.findAll('[role=alert] button')[0]?.trigger('click')
    expect(given()).toBe('1.5')
    await wrapper.setProps({ modelValue: '1.5' } as never)
    expect(shown()).toBe('1.5')
    expect(wrapper.find('[role=alert]').exists()).toBe(false)
  })

  it('keeps what was typed and cannot be read, and says so only once it is left', async () => {
    const { wrapper, input, shown } = field({ modelValue: '7' })
    await input.setValue('sev')
    expect(wrapper.find('[role=alert]').exists()).toBe(false)
    await input.trigger('blur')
    expect(wrapper.find('[role=alert]').text()).toContain('sev is not a number')
    expect(shown()).toBe('sev')
    expect(wrapper.emitted('update:modelValue')?.at(-1)).toEqual(['sev'])
    expect(wrapper.emitted('keep')).toBeUndefined()
  })

  it('writes shares in hundredths, with the sign behind', async () => {
    const { wrapper, type, given, shown } = field({ kind: 'share', modelValue: '0.4845' })
    expect(shown()).toBe('48.45')
    expect(wrapper.text()).toContain('%')
    await type('5 %')
    expect(given()).toBe('0.05')
    expect(shown()).toBe('5')
    await type('0.05')
    expect(given()).toBe('0.05')
    expect(wrapper.find('[role=alert]').text()).toContain('5 % or 0.05 %')
    const offered = wrapper.findAll('[role=alert] button')
    expect(offered.map((one) => one.text())).toEqual(['5 %', '0.05 %'])
    await offered[1]?.trigger('click')
    expect(given()).toBe('0.0005')
  })

  it('is meant when it is left or entered, and only once it can be read', async () => {
    const { wrapper, input } = field({ min: 1, max: 5 })
    await input.setValue('9')
    await input.trigger('keydown', { key: 'Enter' })
    expect(wrapper.find('[role=alert]').text()).toBe('at most 5')
    expect(wrapper.emitted('keep')).toBeUndefined()
    await input.setValue('3')
    await input.trigger('keydown', { key: 'Enter' })
    expect(wrapper.emitted('keep')).toEqual([['3']])
  })

  it('takes what comes from elsewhere when nothing else is typed', async () => {
    const { wrapper, shown } = field({ modelValue: '7' })
    await wrapper.setProps({ modelValue: '1200' } as never)
    expect(shown()).toBe('1,200')
  })
})

test('a whole number is a number, and nothing is null', async () => {
  const wrapper = mount(WholeField, { props: { modelValue: 3, label: 'Seats', min: 0 } as never })
  const input = wrapper.find('input')
  const given = () => wrapper.emitted('update:modelValue')?.at(-1)
  await input.setValue('1,200')
  expect(given()).toEqual([1200])
  await input.setValue('')
  expect(given()).toEqual([null])
  await input.setValue('2.5')
  await input.trigger('blur')
  expect(input.element.validationMessage).toBe('give a whole number')
  expect(wrapper.find('[role=alert]').text()).toBe('give a whole number')
})

test('a choice is as wide as its longest words, that of none among them', () => {
  const options = [
    { value: 1, words: 'Metering' },
    { value: 2, words: 'Street works' },
  ]
  const wrapper = mount(Choice, {
    props: { modelValue: null, options, nothing: 'the whole company' } as never,
  })
  expect(wrapper.find('.el-select').attributes('style')).toContain('--chars: 17')
})

test.each([
  ['en-GB', 'DD/MM/YYYY'],
  ['en-US', 'MM/DD/YYYY'],
  ['de-DE', 'DD.MM.YYYY'],
  ['fr-FR', 'DD/MM/YYYY'],
  ['sv-SE', 'YYYY-MM-DD'],
])('days in %s are written %s', (locale, pattern) => {
  expect(dayPattern('date', locale)).toBe(pattern)
  expect(dayPattern('datetime', locale)).toContain('HH:mm')
  expect(dayPattern('month', locale)).not.toContain('DD')
})

test('a file is handed on, and the same one again', async () => {
  const wrapper = mount(FileField, { props: { words: 'Choose a file', label: 'List', accept: '.csv' } })
  const input = wrapper.find('input').element as HTMLInputElement
  const file = new File(['a,b'], 'list.csv')
  Object.defineProperty(input, 'files', { value: [file], configurable: true })
  await wrapper.find('input').trigger('change')
  await wrapper.find('input').trigger('change')
  expect(wrapper.emitted('chosen')).toEqual([[[file]], [[file]]])
  expect(wrapper.text()).toBe('Choose a file')
})
