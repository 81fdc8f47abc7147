import { onScopeDispose, reactive, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'

const PAUSE = 250

/** The figures while somebody types: asked a moment after the last key, from what stands in the fields. */
export function usePreview(idea: () => number) {
  const typed = reactive<Record<string, string>>({})
  const live = ref<Schemas['FiguresPreview'] | null>(null)
  let timer = 0
  let asked = 0

  async function look() {
    const mine = ++asked
    try {
      const params = { path: { number: idea() } }
      const found = await ask(
        api.POST('/api/v1/ideas/{number}/preview', { params, body: { values: { ...typed } } }),
      )
      if (mine === asked && Object.keys(typed).length) live.value = found
    } catch {
      // What is typed is looked at again when the field is left, and a fault is shown there.
      live.value = null
    }
  }
  function type(field: string, value: string) {
    typed[field] = value
    window.clearTimeout(timer)
    timer = window.setTimeout(() => void look(), PAUSE)
  }
  /** The field was left: what is kept counts again. */
  function left(field: string) {
    delete typed[field]
    window.clearTimeout(timer)
    asked += 1
    if (Object.keys(typed).length) void look()
    else live.value = null
  }
  const fault = (field: string): string | undefined =>
    live.value?.faults.find((one) => one.field === field)?.message
  onScopeDispose(() => window.clearTimeout(timer))
  return { live, type, left, fault }
}
