/** New titles, typed into as soon as they are there. */
import { watch } from 'vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { newId, useEdits } from './edits'

export function useNewTitle() {
  const desk = useDesk()
  const project = useProject()
  const edits = useEdits()

  function typeInto(id: string) {
    const stop = watch(() => project.project?.clips[id], (clip) => {
      if (!clip) return
      stop()
      desk.select(id)
      desk.typing = true
    })
    setTimeout(stop, 10_000)
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
