/** What ends of clips in hand stand exactly on, while they are dragged; told by the service. */
import { computed, ref } from 'vue'
import { answered, api, type Meeting } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useAnswer } from './answer'

const held = ref<string[]>([])

/** Clips are being dragged, or (none) let go. */
export function holdClips(clips: string[]) {
  held.value = clips
}

/** For the timeline: what is met, asked anew as the film changes under the drag. */
export function useMeets() {
  const project = useProject()
  const desk = useDesk()
  const found = useAnswer<Meeting[]>(() => [project.revision, held.value], () => {
    const clips = held.value
    if (!clips.length) return null
    return () => answered(api.POST('/api/projects/{project_id}/meetings', { params: { path: { project_id: project.id } }, body: { clips, playhead: desk.frame } }))
  })
  return { meets: computed(() => found.value ?? []) }
}
