import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, expect, test } from 'vitest'
import { defineComponent, h, nextTick, ref } from 'vue'
import FormEnd from '@/shared/FormEnd.vue'

afterEach(() => (document.body.innerHTML = ''))

/** A page with a button that opens a form; whether the form has a way out. */
function page(leave?: string) {
  const open = ref(false)
  const end = () => h(FormEnd, { action: 'Keep it', busy: false, error: null, leave })
  const form = () => h('form', [h('input', { type: 'hidden' }), h('input', { id: 'name' }), end()])
  const one = defineComponent(() => () => h('div', [h('button', 'Add'), open.value ? form() : null]))
  const wrapper = mount(one, { attachTo: document.body })
  wrapper.find('button').element.focus()
  return { open, wrapper }
}
const focused = () => document.activeElement

test('a form that was opened has the focus in its first field, and gives it back', async () => {
  const { open, wrapper } = page('Cancel')
  open.value = true
  await flushPromises()
  expect(focused()?.id).toBe('name')
  open.value = false
  await nextTick()
  await new Promise((done) => setTimeout(done))
  expect(focused()).toBe(wrapper.find('button').element)
})

test('what took the focus as a form closed keeps it', async () => {
  const { open, wrapper } = page('Cancel')
  open.value = true
  await flushPromises()
  const other = document.body.appendChild(document.createElement('input'))
  open.value = false
  await nextTick()
  other.focus()
  await new Promise((done) => setTimeout(done))
  expect(focused()).toBe(other)
  wrapper.unmount()
})

test('a form that always stands on its page leaves the focus where it is', async () => {
  const { open, wrapper } = page()
  open.value = true
  await flushPromises()
  expect(focused()).toBe(wrapper.find('button').element)
})

test('what is waited for stands beside the act, which waits', () => {
  const wrapper = mount(FormEnd, {
    props: { action: 'Move it', busy: false, error: null, wait: 'Choose first.' },
  })
  expect(wrapper.find('button').attributes('disabled')).toBeDefined()
  expect(wrapper.text()).toContain('Choose first.')
})
