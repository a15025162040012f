/** Sounds of the film that a clip can go by: those that are heard while it is there. */
import type { Clip } from '../api/client'
import { useProject } from '../stores/project'

export function useSounding() {
  const project = useProject()
  const over = (clip: Clip) => project.clips.filter((each) => each.id !== clip.id && each.content.kind === 'sound' && each.head < project.endOf(clip) && project.endOf(each) > clip.head)
  const choices = (clips: Clip[]) => clips.map((each) => ({ title: each.name, value: each.id as string | null }))
  return {
    /** Sounds whose hits lie over a clip. */
    withHits: (clip: Clip) => choices(over(clip).filter((each) => each.content.kind === 'sound' && each.content.hits.length)),
    sounds: (clip: Clip) => choices(over(clip)),
  }
}
