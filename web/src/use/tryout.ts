/** Trying an edit on one's own clip: resting on it for a quarter of a second plays it in the Preview; leaving restores. */
import { onBeforeUnmount } from 'vue'
import type { Clip, Edit } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'

export function useTryout() {
  const desk = useDesk()
  const project = useProject()
  let timer = 0
  let before: { frame: number } | null = null

  /** Over some frames, or a clip's arrival and a little of its stay unless other frames are named. */
  function rest(edit: Edit, over: Clip | [first: number, last: number], frames?: [first: number, last: number]) {
    clearTimeout(timer)
    timer = window.setTimeout(() => {
      before ??= { frame: desk.frame }
      const [first, last] = frames ?? (Array.isArray(over) ? over : [Math.round(over.head), Math.round(project.filmFrame(over, Math.min(over.length - 1, Math.max(40, over.arrival + 20))))])
      desk.playing = false
      // What is tried may make the film longer.
      desk.trying = { edit, range: [Math.max(0, first), Math.max(0, first, last)] }
      desk.frame = Math.max(0, first)
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

  /** As `rest`, from the head of a clip to its tail. */
  const whole = (edit: Edit, clip: Clip) => rest(edit, [Math.round(clip.head), Math.round(project.filmFrame(clip, clip.length - 1))])

  onBeforeUnmount(leave)
  return { rest, whole, leave }
}
