/**
 * Words being typed: the field is ahead of the service, and others may type into the same words. What they change at
 * another place comes into the field; what they change at the same place is left to the service, which refuses one of both.
 */
import { computed, ref, watch, type ComputedRef, type Ref } from 'vue'
import { useProject } from '../stores/project'
import { mergedWords } from '../sync/words'

export interface Draft {
  words: Ref<string>
  /** The film's words that those in the field go on from, and the revision at which they stood there. */
  base: Ref<string>
  saw: ComputedRef<number>
}

/** `changed` is called with the words before and after others came into the field. */
export function useDraft(clip: () => string | null, text: () => string, changed?: (before: string, after: string) => void): Draft {
  const project = useProject()
  const words = ref(text())
  const base = ref(text())
  const known = ref(project.revision)
  const saw = computed(() => (text() === base.value ? project.revision : known.value))
  let typed: string | undefined

  // As soon as the film's words change: two changes at once could not be told apart.
  watch([clip, text], ([of, now], [before]) => {
    // What this field goes on from: the words of this window that were acknowledged last, if that is news.
    const acknowledged = of === null ? undefined : project.typedOn(of)
    const own = acknowledged !== undefined && acknowledged !== typed ? acknowledged : base.value
    typed = acknowledged
    const idle = of !== before || words.value === base.value || words.value === own
    const merged = idle ? now : mergedWords(own, words.value, now)
    if (merged === null) return
    base.value = now
    known.value = project.revision
    if (merged === words.value) return
    const old = words.value
    words.value = merged
    if (of === before) changed?.(old, merged)
  }, { flush: 'sync' })
  // What was refused, or given up, is not what the film says: with nothing on its way any more, the film is right.
  watch(() => project.saveState === 'saved' && !project.keptEdits.length, (settled) => {
    if (settled) words.value = base.value = text()
  }, { flush: 'post' })
  return { words, base, saw }
}
