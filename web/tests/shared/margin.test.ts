import { mount } from '@vue/test-utils'
import { defineComponent, h, nextTick, ref } from 'vue'
import { expect, test } from 'vitest'
import { marginHolds, useHolds } from '@/shared/margin'

const note = (holds: () => boolean) =>
  mount(
    defineComponent({
      setup() {
        useHolds(holds)
        return () => h('p')
      },
    }),
  )

test('the margin holds something for as long as any part of the page says so', async () => {
  expect(marginHolds.value).toBe(false)
  const history = ref(false)
  const one = note(() => history.value)
  const help = note(() => false)
  expect(marginHolds.value).toBe(false)
  history.value = true
  await nextTick()
  expect(marginHolds.value).toBe(true)
  const other = note(() => true)
  one.unmount()
  expect(marginHolds.value).toBe(true)
  other.unmount()
  help.unmount()
  expect(marginHolds.value).toBe(false)
})
