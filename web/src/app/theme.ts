import { useLocalStorage } from '@vueuse/core'
import { watchEffect } from 'vue'

/** Light or dark, as this browser's reader chose it. */
export function useTheme() {
  const theme = useLocalStorage<'light' | 'dark'>('tallyman-theme', 'light')
  watchEffect(() => (document.documentElement.dataset.theme = theme.value))
  const turn = () => (theme.value = theme.value === 'light' ? 'dark' : 'light')
  return { theme, turn }
}
