import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { defineComponent, h } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'

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

/** A part as it stands on a page: with a cache of queries, and an address. */
export async function onPage(
  part: unknown,
  props: Record<string, unknown> = {},
  options: { at?: string; slots?: Record<string, unknown> } = {},
) {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:all(.*)*', component: { render: () => null } }],
  })
  await router.push(options.at ?? '/')
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const wrapper = mount(part as never, {
    props: props as never,
    slots: options.slots as never,
    global: { plugins: [router, [VueQueryPlugin, { queryClient: queries }]] },
  })
  await flushPromises()
  return { wrapper, router, queries }
}
