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
    const { start, speed, hits } = sound.content
    const tapped = taps.filter((at) => at >= sound.head && at < project.endOf(sound)).map((at) => ({ at: Math.max(0, (start + (at - sound.head) * speed) / project.rate), strength: 1 }))
    // Tapped again over the same stretch, the new taps take the old ones' place.
    const [first, last] = [Math.min(...tapped.map((each) => each.at)), Math.max(...tapped.map((each) => each.at))]
    edits.put({ kind: 'set_hits', clip: sound.id, hits: [...hits.filter((each) => each.at < first - 0.1 || each.at > last + 0.1), ...tapped] })
    desk.select(sound.id)
  })
}
