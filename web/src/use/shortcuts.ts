/** Keys to commands, by the one table. */
import { onKeyStroke, useEventListener } from '@vueuse/core'
import type { Command } from './commands'

/** A key press as the table spells it. */
function pressed(event: KeyboardEvent): string {
  const ctrl = event.ctrlKey || event.metaKey ? 'Ctrl+' : ''
  const key = event.key === ' ' ? 'Space' : event.key === 'Backspace' ? 'Delete' : event.key === '=' ? '+' : event.key
  if (key.length === 1 && !/[a-z]/i.test(key)) return `${ctrl}${key}`
  return `${ctrl}${event.shiftKey ? 'Shift+' : ''}${key.length === 1 ? key.toUpperCase() : key}`
}

export function useShortcuts(table: Command[]) {
  const known = new Map(table.flatMap((each) => [each.keys, each.orKeys].flatMap((keys) => (keys && !each.native ? [[keys, each] as const] : []))))

  // An open list is closed by Esc, and nothing else is: by the time its own handler has run it is gone.
  let listOpen = false
  useEventListener(window, 'keydown', () => { listOpen = Boolean(document.querySelector('.v-overlay--active .v-list')) }, { capture: true })

  // A button that was clicked lets go of the focus, so that Space goes on playing; one reached by keyboard keeps it. So
  // does a list from which a word was clicked: it takes the focus back as it closes.
  let chosen = -Infinity
  const free = (field: Element | null) => { if (field?.matches('.v-select input')) (field as HTMLElement).blur() }
  useEventListener(document, 'click', (event) => {
    if (!event.detail) return
    const target = event.target as Element
    target.closest<HTMLElement>('button')?.blur()
    if (!target.closest('.v-list-item')) return
    chosen = performance.now()
    setTimeout(() => free(document.activeElement))
  })
  useEventListener(document, 'focusin', (event) => { if (performance.now() - chosen < 600) free(event.target as Element) })

  onKeyStroke(true, (event) => {
    if (event.altKey || event.isComposing || (event.key === 'Escape' && listOpen)) return
    const found = known.get(pressed(event))
    const target = event.target as HTMLElement
    if (!found || (target.matches('input, textarea, [contenteditable]') && !found.whileTyping)) return
    // A focused control keeps its own keys, as everywhere.
    const own = target.matches('[role=slider], [role=separator], [role=listbox], video') ? ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown', 'Home', 'End', 'PageUp', 'PageDown', ' ', 'Enter'] :
      target.matches('button, [role=switch], [role=radio], a') ? [' ', 'Enter'] : []
    if (own.includes(event.key) && !event.ctrlKey) return
    event.preventDefault()
    if (found.can?.() ?? true) found.run()
  })
}
