/** Where the camera is and what stands before it, at the playhead. */
import { answered, api, type Surroundings } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useAnswer } from './answer'

/** Asked for anew with every frame and revision while it is wanted; `clip` is one of the timeline that is meant. */
export function useSurroundings(wanted: () => boolean, clip: () => string | null) {
  const project = useProject()
  const desk = useDesk()
  return useAnswer<Surroundings>(() => [wanted(), clip(), desk.frame, project.revision, desk.playing], () => {
    if (!wanted() || desk.playing) return undefined
    return () => answered(api.GET('/api/projects/{project_id}/surroundings', {
      params: { path: { project_id: project.id }, query: { at: desk.frame, clip: clip() ?? undefined } },
    }))
  })
}

/** A distance as an editor reads it. */
export const px = (value: number) => `${Math.round(value).toLocaleString('en').replace(/,/g, ' ')} px`
