import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { defineComponent, h } from 'vue'

/** Runs a composable within a component that has a cache of queries; gives what it gives. */
export function within<T>(composable: () => T) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  let given: T | undefined
  const wrapper = mount(
    defineComponent({
      setup() {
        given = composable()
        return () => h('p')
      },
    }),
    { global: { plugins: [[VueQueryPlugin, { queryClient: queries }]] } },
  )
  return { given: given as T, queries, wrapper }
}
