/** The Desk by night (soot) or by day (bone), and whether the Steps run its full height; remembered. */
import { watchEffect } from 'vue'
import { useTheme } from 'vuetify'
import { useKept } from './kept'

export function useLook() {
  const look = useKept<'soot' | 'bone'>('look', 'soot')
  const tall = useKept('steps-tall', true)
  const theme = useTheme()
  watchEffect(() => {
    document.documentElement.dataset.look = look.value
    theme.change(look.value)
  })
  return { look, tall }
}
