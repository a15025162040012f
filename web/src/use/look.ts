/** The Desk by night (soot) or by day (bone); remembered. */
import { useLocalStorage } from '@vueuse/core'
import { watchEffect } from 'vue'
import { useTheme } from 'vuetify'

export function useLook() {
  const look = useLocalStorage<'soot' | 'bone'>('look', 'soot')
  const theme = useTheme()
  watchEffect(() => {
    document.documentElement.dataset.look = look.value
    theme.change(look.value)
  })
  return { look }
}
