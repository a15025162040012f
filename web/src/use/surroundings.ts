/** Where the camera is and what stands before it, at the playhead. */
import { ref, watch } from 'vue'
import { answered, api, type Surroundings } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'

/** Asked for anew with every frame and revision while it is wanted; `clip` is one of the timeline that is meant. */
export function useSurroundings(wanted: () => boolean, clip: () => string | null) {
  const project = useProject()
  const desk = useDesk()
  const found = ref<Surroundings | null>(null)
  let asked = 0
  watch(() => [wanted(), clip(), desk.frame, project.revision, desk.playing], async () => {
    const serial = ++asked
    if (!wanted() || desk.playing) return
    const answer = await answered(api.GET('/api/projects/{project_id}/surroundings', {
      params: { path: { project_id: project.id }, query: { at: desk.frame, clip: clip() ?? undefined } },
    })).catch(() => null)
    if (serial === asked) found.value = answer
  }, { immediate: true })
  return found
}

/** A distance as an editor reads it. */
export const px = (value: number) => `${Math.round(value).toLocaleString('en').replace(/,/g, ' ')} px`
