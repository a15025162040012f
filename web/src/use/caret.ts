/** The caret of a field stays at its words when others come in before it. */
import { nextTick, type Ref } from 'vue'
import { caretIn } from '../sync/words'

export const keepCaret = (field: Ref<HTMLTextAreaElement | null>) => (before: string, after: string) => {
  const one = field.value
  if (!one || document.activeElement !== one) return
  const [from, to] = [caretIn(before, after, one.selectionStart), caretIn(before, after, one.selectionEnd)]
  void nextTick(() => one.setSelectionRange(from, to))
}
