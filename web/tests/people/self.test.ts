import { flushPromises } from '@vue/test-utils'
import { beforeEach, expect, test, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import { ProblemError } from '@/api/client'
import SelfFields from '@/people/SelfFields.vue'
import { useComingIn, type Self } from '@/people/self'
import { onPage } from '../within'

const post = vi.hoisted(() => vi.fn())
vi.mock('@/api/client', async (original) => ({
  ...(await original<typeof import('@/api/client')>()),
  api: { POST: post },
}))
const make = vi.fn<(self: Self) => Promise<string>>()

beforeEach(() => {
  make.mockReset().mockResolvedValue('ada.pell@merrowdale.example')
  post.mockReset().mockResolvedValue({ data: {}, response: new Response() })
})
async function shown() {
  let coming: ReturnType<typeof useComingIn> | undefined
  const Page = defineComponent({
    setup() {
      coming = useComingIn(make)
      return () =>
        h(SelfFields, { modelValue: coming!.self, error: coming!.comeIn.error.value }, () =>
          h('i', 'between'),
        )
    },
  })
  const page = await onPage(Page, {}, { at: '/welcome/token' })
  return { ...page, coming: coming! }
}

test('whoever comes in gives a name and a password, and is signed in with them', async () => {
  const { wrapper, router, coming } = await shown()
  const [name, password] = wrapper.findAll('input')
  await name?.setValue('Ada Pell')
  await password?.setValue('six-otters-swim-9')
  expect(coming.self.zone).toBe(Intl.DateTimeFormat().resolvedOptions().timeZone)
  await coming.comeIn.go()
  await flushPromises()
  expect(make.mock.calls[0]?.[0]).toMatchObject({ name: 'Ada Pell', password: 'six-otters-swim-9' })
  expect(post.mock.calls[0]?.[1].body).toEqual({
    email: 'ada.pell@merrowdale.example',
    password: 'six-otters-swim-9',
  })
  expect(router.currentRoute.value.path).toBe('/')
})

test('what does not fit stands at its field, and nobody is signed in', async () => {
  const told = [{ field: 'password', value: null, message: 'give at least 12 characters' }]
  make.mockRejectedValue(new ProblemError(422, 'input', 'Something does not fit.', '', told, {}))
  const { wrapper, router, coming } = await shown()
  await coming.comeIn.go()
  await flushPromises()
  expect(wrapper.text()).toContain('give at least 12 characters')
  expect(post).not.toHaveBeenCalled()
  expect(router.currentRoute.value.path).toBe('/welcome/token')
})

test('what else is asked stands between the name and the password', async () => {
  const { wrapper } = await shown()
  const text = wrapper.text()
  expect(text.indexOf('Your name')).toBeLessThan(text.indexOf('between'))
  expect(text.indexOf('between')).toBeLessThan(text.indexOf('A password'))
})
