import { ref, watch, type Ref } from 'vue'
import { ProblemError } from '@/api/client'

/**
 * The version that an edit stands on: the one that stood there when typing began, however often the page has
 * read a newer one since, so that nobody writes over what they have not seen. Once the server has refused and
 * told of the newer one, the next try stands on that.
 */
export function useSeen(
  current: () => number | undefined,
  error: Ref<unknown>,
  touched: () => boolean = () => true,
): Ref<number> {
  const seen = ref(current() ?? 0)
  watch([current, touched], () => {
    if (!touched()) seen.value = current() ?? 0
  })
  watch(error, (problem) => {
    if (!(problem instanceof ProblemError) || problem.code !== 'conflict') return
    seen.value = Number(problem.more.version ?? current() ?? seen.value)
  })
  return seen
}
