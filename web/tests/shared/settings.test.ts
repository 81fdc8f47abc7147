import { flushPromises } from '@vue/test-utils'
import { beforeEach, expect, test, vi } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { ProblemError } from '@/api/client'
import SettingsForm from '@/shared/SettingsForm.vue'
import { useSettings, type Settings } from '@/shared/useSettings'
import { onPage } from '../within'

interface Rule {
  days: number
}
const version = (number: number) => ({
  version: number,
  note: `note ${number}`,
  person: 'Ines Varga',
  made_at: '2026-10-02T08:00:00Z',
})
const put = vi.fn()
const rule = ref<{ version: number; versions: ReturnType<typeof version>[]; days: number }>()

beforeEach(() => {
  localStorage.clear()
  put.mockReset().mockResolvedValue(null)
  rule.value = { version: 2, versions: [version(2), version(1)], days: 5 }
})
async function shown() {
  let settings: Settings<Rule> | undefined
  const Page = defineComponent({
    setup() {
      settings = useSettings<Rule>({
        what: 'The limits',
        name: 'limits',
        rule: () => rule.value,
        given: () => rule.value && { days: rule.value.days },
        put,
        touched: [['rules']],
      })
      return () => h(SettingsForm as never, { settings }, () => 'the fields')
    },
  })
  return { ...(await onPage(Page)), settings: settings! }
}
const send = async (page: Awaited<ReturnType<typeof shown>>['wrapper']) => {
  await page.find('form').trigger('submit')
  await flushPromises()
}

test('a rule that nobody changes shows its versions and asks for nothing', async () => {
  const { wrapper } = await shown()
  expect(wrapper.find('form').exists()).toBe(false)
  expect(wrapper.text()).toContain('the fields')
  expect(wrapper.text()).toContain('In force: version 3; 2 changes')
})

test('a rule as it comes says so', async () => {
  rule.value = { version: 0, versions: [], days: 5 }
  expect((await shown()).wrapper.text()).toContain('As Tallyman comes; nothing was changed yet.')
})

test('a change waits for the note on what changes and why', async () => {
  const { wrapper, settings } = await shown()
  settings.fields.value.days = 7
  await flushPromises()
  const button = () => wrapper.find('form button[type=submit]')
  expect(button().text()).toBe('Keep it as version 4')
  expect(button().attributes('disabled')).toBeDefined()
  expect(wrapper.text()).toContain('Say what changes, and why.')
  await wrapper.find('form input').setValue('more come in autumn')
  expect(button().attributes('disabled')).toBeUndefined()
  await send(wrapper)
  expect(put.mock.calls).toEqual([[{ days: 7 }, 'more come in autumn', { 'if-match': '"2"' }]])
})

test('what is left goes back to what is in force', async () => {
  const { wrapper, settings } = await shown()
  settings.fields.value.days = 7
  await flushPromises()
  await wrapper
    .findAll('form button')
    .find((one) => one.text() === 'Cancel')
    ?.trigger('click')
  expect(settings.fields.value).toEqual({ days: 5 })
  expect(wrapper.find('form').exists()).toBe(false)
})

test('a change of two people shows both texts instead of the note', async () => {
  put.mockRejectedValue(new ProblemError(409, 'conflict', 'Somebody changed them meanwhile.', '', [], {}))
  const { wrapper, settings } = await shown()
  settings.fields.value.days = 7
  settings.note.value = 'sooner'
  await flushPromises()
  rule.value = { version: 3, versions: [version(3)], days: 6 }
  await send(wrapper)
  expect(wrapper.text()).toContain('Somebody changed them meanwhile.')
  expect(wrapper.find('form input[maxlength="600"]').exists()).toBe(false)
  expect(settings.rows.value).toMatchObject([{ path: 'days', theirs: 6, mine: 7 }])
})
