/** The one table of shortcuts; the "?" sheet is made from it. */
import { onKeyStroke } from '@vueuse/core'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from './edits'

interface Shortcut {
  keys: string
  does: string
  on: (event: KeyboardEvent) => boolean
  run: () => void
  whileTyping?: boolean
}

export function useShortcuts(): Shortcut[] {
  const desk = useDesk()
  const project = useProject()
  const edits = useEdits()
  const ctrl = (event: KeyboardEvent) => event.ctrlKey || event.metaKey
  const plain = (event: KeyboardEvent, key: string) => !ctrl(event) && !event.altKey && event.key === key
  const play = () => { desk.playing = !desk.playing }

  const table: Shortcut[] = [
    { keys: 'Space', does: 'Play or pause', on: (e) => plain(e, ' '), run: play },
    { keys: 'Ctrl+Space', does: 'Play or pause while typing', on: (e) => ctrl(e) && e.key === ' ', run: play, whileTyping: true },
    { keys: 'L', does: 'Play on; again: faster', on: (e) => plain(e, 'l'), run: () => shuttle(1) },
    { keys: 'K', does: 'Pause', on: (e) => plain(e, 'k'), run: () => { desk.playing = false } },
    { keys: 'J', does: 'Play backwards; again: faster', on: (e) => plain(e, 'j'), run: () => shuttle(-1) },
    { keys: '→', does: 'One frame on', on: (e) => plain(e, 'ArrowRight') && !e.shiftKey, run: () => desk.goTo(desk.frame + 1) },
    { keys: '←', does: 'One frame back', on: (e) => plain(e, 'ArrowLeft') && !e.shiftKey, run: () => desk.goTo(desk.frame - 1) },
    { keys: 'Shift+→', does: 'One second on', on: (e) => plain(e, 'ArrowRight') && e.shiftKey, run: () => desk.goTo(desk.frame + project.rate) },
    { keys: 'Shift+←', does: 'One second back', on: (e) => plain(e, 'ArrowLeft') && e.shiftKey, run: () => desk.goTo(desk.frame - project.rate) },
    { keys: 'Home', does: 'To the start', on: (e) => plain(e, 'Home'), run: () => desk.goTo(0) },
    { keys: 'End', does: 'To the last frame', on: (e) => plain(e, 'End'), run: () => desk.goTo(project.length - 1) },
    { keys: 'Enter', does: 'Type into the selected title', on: (e) => plain(e, 'Enter'), run: () => { if (desk.clip?.content.kind === 'text') desk.typing = true } },
    { keys: 'Delete', does: 'Remove the selected clip', on: (e) => plain(e, 'Delete') || plain(e, 'Backspace'), run: () => { if (desk.selected) { edits.removeClip(desk.selected); desk.select(null) } } },
    { keys: 'N', does: 'Key the whole placement at the playhead', on: (e) => plain(e, 'n'), run: () => keyPlacement() },
    { keys: 'Ctrl+Z', does: 'Undo', on: (e) => ctrl(e) && !e.shiftKey && e.key.toLowerCase() === 'z', run: () => { if (project.history.undo) project.undo() } },
    { keys: 'Ctrl+Shift+Z', does: 'Redo', on: (e) => ctrl(e) && e.shiftKey && e.key.toLowerCase() === 'z', run: () => { if (project.history.redo) project.redo() } },
    { keys: '?', does: 'This sheet', on: (e) => !ctrl(e) && e.key === '?', run: () => { desk.sheet = !desk.sheet } },
    { keys: 'Esc', does: 'Leave typing, close what is open', on: (e) => plain(e, 'Escape'), run: () => leave(), whileTyping: true },
  ]

  function shuttle(direction: 1 | -1) {
    const on = desk.playing && Math.sign(desk.speed) === direction
    desk.speed = on ? Math.min(Math.max(desk.speed * 2, -8), 8) : direction
    desk.playing = true
  }

  function keyPlacement() {
    const step = desk.clip?.steps.find((each) => each.kind === 'placement')
    if (desk.clip && step) edits.keyPlacement(desk.clip.id, step.id)
  }

  function leave() {
    if (desk.sheet) desk.sheet = false
    else if (desk.films) desk.films = false
    else if (desk.typing) desk.typing = false
    else if (desk.tray) desk.tray = null
    else desk.select(null)
  }

  onKeyStroke(true, (event) => {
    const target = event.target as HTMLElement
    const writes = target.matches('input, textarea, [contenteditable]')
    const found = table.find((each) => each.on(event) && (!writes || each.whileTyping))
    if (!found) return
    // A focused button keeps Space and Enter for itself, as everywhere.
    if (target.matches('button, [role=slider], [role=switch], video') && [' ', 'Enter', 'ArrowLeft', 'ArrowRight', 'Home', 'End'].includes(event.key) && !event.ctrlKey) return
    event.preventDefault()
    found.run()
  })
  return table
}
