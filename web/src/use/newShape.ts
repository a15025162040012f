/** New shapes over the playhead, taken in hand with their handles on the picture. */
import type { Edit } from '../api/client'
import { useDesk, type ShapeForm } from '../stores/desk'
import { useProject } from '../stores/project'
import { newId, useEdits } from './edits'

type AddShape = Extract<Edit, { kind: 'add_shape' }>
const SECONDS = 4

export function useNewShape() {
  const desk = useDesk()
  const project = useProject()
  const edits = useEdits()

  /** Over what is in hand from the playhead on, if a second of that is left, else four seconds long. */
  function length(): number {
    const held = desk.clip
    const left = held ? Math.round(project.endOf(held)) - desk.frame : 0
    return held && desk.frame >= held.head && left >= project.rate ? left : Math.round(SECONDS * project.rate)
  }

  function add(form: ShapeForm, where: Partial<Pick<AddShape, 'x' | 'y' | 'width' | 'height' | 'turn' | 'outline'>> = {}) {
    const id = newId()
    const unit = project.settings!.height / 4
    // A polygon, a star and an ellipse begin as wide as they are high.
    const size = form === 'rectangle' ? { width: Math.round(unit * 1.6), height: Math.round(unit) } : { width: Math.round(form === 'line' ? unit * 2 : unit), height: Math.round(unit) }
    edits.put({ kind: 'add_shape', clip: id, frame: desk.frame, length: length(), form, x: 0, y: 0, turn: 0, ...size, ...where })
    desk.takeUp([id], () => { desk.openRow = 'content' })
  }

  /** A drawing from an SVG file, each of its shapes a clip within a group. */
  async function addDrawing(file: File) {
    if (file.size > 500_000) {
      project.problem = `“${file.name}” is larger than half a megabyte; nothing was added. Save a simpler drawing.`
      return
    }
    const group = newId()
    edits.put({ kind: 'add_drawing', group, frame: desk.frame, length: length(), svg: await file.text(), name: file.name.replace(/\.svg$/i, '').slice(0, 60) || 'Drawing' })
    desk.takeUp([group])
  }

  return { add, addDrawing }
}
