import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'

/** A one-time code as it is shown, once. */
export interface CodeShown {
  host: string
  code: string
  until: string
}

/** Makes a new code for a host, and keeps it to be shown. */
export function useCode() {
  const code = ref<CodeShown | null>(null)
  const renew = useAction(async (host: { id: number; name: string }) => {
    const made = await ask(api.POST('/api/v1/hosts/{number}/code', { params: { path: { number: host.id } } }))
    code.value = { host: host.name, code: made.code, until: made.until }
  })
  return { code, renew }
}
