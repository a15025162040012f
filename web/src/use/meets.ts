/** What ends of clips in hand stand exactly on, while they are dragged; told by the service. */
import { ref } from 'vue'
import { post, type Meeting } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'

const meets = ref<Meeting[]>([])
let asked = 0

export function useMeets() {
  const project = useProject()
  const desk = useDesk()

  async function ask(clips: string[]) {
    const serial = ++asked
    const found = await post<Meeting[]>(`/projects/${project.id}/meetings`, { clips, playhead: desk.frame }).catch(() => [])
    if (serial === asked) meets.value = found
  }

  function clear() {
    asked += 1
    meets.value = []
  }

  return { meets, ask, clear }
}
