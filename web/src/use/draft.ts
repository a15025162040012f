/** Words being typed: the field is ahead of the service, and must never be set back by an older answer. */
import { ref, watch } from 'vue'
import { useProject } from '../stores/project'

export function useDraft(text: () => string) {
  const project = useProject()
  const draft = ref(text())
  watch(() => [text(), project.saveState] as const, ([words, state]) => {
    if (state === 'saved') draft.value = words
  })
  return draft
}
