/** Trying an edit on one's own clip: resting on it for a quarter of a second plays it in the Preview; leaving restores. */
import { onBeforeUnmount } from 'vue'
import type { Clip, Edit } from '../api/client'
import { useDesk } from '../stores/desk'

export function useTryout() {
  const desk = useDesk()
  let timer = 0
  let before: { frame: number } | null = null

  function rest(edit: Edit, clip: Clip) {
    clearTimeout(timer)
    timer = window.setTimeout(() => {
      before ??= { frame: desk.frame }
      const last = clip.head + clip.length - 1
      desk.playing = false
      desk.trying = { edit, range: [clip.head, Math.min(last, clip.head + Math.max(40, clip.arrival + 20))] }
      desk.frame = clip.head
      desk.playing = true
    }, 250)
  }

  function leave() {
    clearTimeout(timer)
    desk.trying = null
    if (!before) return
    desk.playing = false
    desk.frame = before.frame
    before = null
  }

  onBeforeUnmount(leave)
  return { rest, leave }
}
