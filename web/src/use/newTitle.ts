/** New titles, typed into as soon as they are there. */
import { reactive, watch } from 'vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { newId, useEdits } from './edits'

export function useNewTitle() {
  const desk = useDesk()
  const project = useProject()
  const edits = useEdits()

  /** From now on keys belong to the title, however late the answer that makes it. */
  function typeInto(id: string) {
    const coming = reactive({ clip: id, words: '', left: false })
    desk.coming = coming
    // The field on the picture is not there while something else is shown over it.
    desk.beside = null
    desk.framed = null
    const waits = watch([() => project.project?.clips[id], () => project.saveState], ([clip, state]) => {
      if (!clip && state !== 'saved') return
      waits()
      if (clip && !coming.left && desk.coming === coming) {
        // The field on the picture goes on from what was typed.
        desk.select(id)
        desk.typing = true
        return
      }
      if (desk.coming === coming) desk.coming = null
      if (!coming.words) return
      if (clip?.content.kind === 'text') edits.text(id, { text: coming.words, typed_on: clip.content.text })
      else project.notes = [...project.notes, `The title was not made. What was typed for it: “${coming.words}”`]
    })
  }

  function addTitle() {
    const id = newId()
    edits.addTitle(id)
    typeInto(id)
  }

  /** A line below a title, a little later, moving the other way. */
  function addSecondLine(title: string) {
    const id = newId()
    edits.addSecondLine(title, id)
    typeInto(id)
  }

  return { addTitle, addSecondLine, typeInto }
}
