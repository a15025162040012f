/** What ends of clips in hand stand exactly on, while they are dragged; told by the service. */
import { ref, watch } from 'vue'
import { answered, api, type Meeting } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'

const held = ref<string[]>([])
const meets = ref<Meeting[]>([])

/** Clips are being dragged, or (none) let go. */
export function holdClips(clips: string[]) {
  held.value = clips
}

/** For the timeline: what is met, asked anew as the film changes under the drag. */
export function useMeets() {
  const project = useProject()
  const desk = useDesk()
  let asked = 0

  watch(() => [project.revision, held.value] as const, async () => {
    const serial = ++asked
    if (!held.value.length) {
      meets.value = []
      return
    }
    const found = await answered(api.POST('/api/projects/{project_id}/meetings', { params: { path: { project_id: project.id } }, body: { clips: held.value, playhead: desk.frame } })).catch(() => [])
    if (serial === asked) meets.value = found
  })
  return { meets }
}
