import { reactive } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'

/** Who comes in for the first time: what they give, `make`, which gives their mail address, then in. */
export function useComingIn(make: (self: Self) => Promise<string>) {
  const router = useRouter()
  const self = reactive<Self>({
    name: '',
    password: '',
    zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  })
  const comeIn = useAction(async () => {
    const email = await make(self)
    await ask(api.POST('/api/v1/session', { body: { email, password: self.password } }))
    await router.replace('/')
  }, [])
  return { self, comeIn }
}
export interface Self {
  name: string
  password: string
  zone: string
}
