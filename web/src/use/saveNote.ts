/** What is said of saving: also what is the matter where an answer takes longer than three seconds. */
import { ref, watch, type Ref } from 'vue'
import { answered, api } from '../api/client'
import { useProject } from '../stores/project'

const LATE = 2200
const KEPT = 'your changes wait here and are sent again'

export function useSaveNote(): Ref<string> {
  const project = useProject()
  const note = ref('')
  let asking = 0

  async function look() {
    const own = (asking += 1)
    for (;;) {
      await new Promise((resume) => setTimeout(resume, LATE))
      if (own !== asking) return
      const service = await answered(api.GET('/api/alive', { signal: AbortSignal.timeout(LATE) })).catch(() => null)
      if (own !== asking) return
      note.value = !service ? `The service does not answer: ${KEPT}` : service.database_waits > 2 ? `The database does not answer: ${KEPT}` : `Saving takes long: ${KEPT}`
    }
  }

  watch(() => project.saveState, (state) => {
    if (state === 'saved') {
      asking += 1
      note.value = ''
    } else if (!note.value || state === 'offline') {
      if (state === 'offline' && !note.value) note.value = `Not saved yet: ${KEPT}`
      void look()
    }
  }, { immediate: true })
  return note
}
