/** The Desk by night (soot) or by day (bone), and whether the Steps run its full height; remembered. */
import { useLocalStorage } from '@vueuse/core'
import { watchEffect } from 'vue'
import { useTheme } from 'vuetify'

export function useLook() {
  const look = useLocalStorage<'soot' | 'bone'>('look', 'soot')
  const tall = useLocalStorage('steps-tall', true)
  const theme = useTheme()
  watchEffect(() => {
    document.documentElement.dataset.look = look.value
    theme.change(look.value)
  })
  return { look, tall }
}
