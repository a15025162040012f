/** What is pasted over the page: the Desk's own clips and keys, or text from elsewhere. */
import { useEventListener } from '@vueuse/core'

const OWN = 'application/x-idle-comet'
let copies = false

/** What was copied last is the Desk's own: what other programs left in the clipboard is older. */
export function ownClipboard() {
  copies = true
  document.execCommand('copy')
  copies = false
}

/** Calls `paste` with the text of the clipboard, or with null where what was copied last is the Desk's own. */
export function usePasted(paste: (text: string | null) => void) {
  useEventListener(document, 'copy', (event) => {
    if (!copies) return
    event.clipboardData?.setData(OWN, 'own')
    event.preventDefault()
  })
  useEventListener(document, 'paste', (event) => {
    if ((event.target as Element | null)?.closest?.('input, textarea, [contenteditable]')) return
    event.preventDefault()
    const text = event.clipboardData?.getData('text/plain').trim()
    paste(text && !event.clipboardData?.types.includes(OWN) ? text : null)
  })
}
