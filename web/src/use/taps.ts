/** A beat tapped along while the film plays becomes hits of a sound when it stops: one act. */
import { watch } from 'vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from './edits'

export function useTaps() {
  const desk = useDesk()
  const project = useProject()
  const edits = useEdits()

  watch(() => desk.playing, (playing) => {
    const taps = desk.taps
    if (playing || !taps.length) return
    desk.taps = []
    const over = project.clips.filter((clip) => clip.content.kind === 'sound' && taps.some((at) => at >= clip.head && at < project.endOf(clip)))
    const sound = over.find((clip) => clip.id === desk.selected) ?? over[0]
    if (!sound || sound.content.kind !== 'sound') {
      project.problem = 'A beat is tapped to a sound; there is none where it was tapped.'
      return
    }
    edits.put({ kind: 'tap_hits', clip: sound.id, frames: taps.filter((at) => at >= sound.head && at < project.endOf(sound)).map((at) => at - sound.head) })
    desk.select(sound.id)
  })
}
