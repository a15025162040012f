/** Dragging with the pointer: one gesture is one undo. */

export interface Drag {
  /** Total movement since the press, in CSS px. */
  dx: number
  dy: number
  event: PointerEvent
  gesture: string
}

/** Follow a press until it is released; `move` gets movement from the start, `end` says whether it moved at all. */
export function followDrag(press: PointerEvent, move: (drag: Drag) => void, end?: (moved: boolean) => void) {
  if (press.button !== 0) return
  press.preventDefault()
  const gesture = crypto.randomUUID()
  const target = press.currentTarget as Element
  target.setPointerCapture(press.pointerId)
  let moved = false
  const onMove = (event: PointerEvent) => {
    const dx = event.clientX - press.clientX
    const dy = event.clientY - press.clientY
    if (!moved && Math.abs(dx) + Math.abs(dy) < 2) return
    moved = true
    move({ dx, dy, event, gesture })
  }
  const onEnd = () => {
    target.removeEventListener('pointermove', onMove as EventListener)
    target.removeEventListener('pointerup', onEnd)
    target.removeEventListener('pointercancel', onEnd)
    // What was dragged lets go of the focus, so that arrow keys go on stepping through the film; one reached by keyboard keeps it.
    // A handle on the picture that was moved keeps it: arrow keys move it on.
    if (moved && target.matches('.picture [role=slider]')) (target as SVGElement).focus()
    else if (target instanceof SVGElement || target.matches('[role=separator]')) (target as HTMLElement).blur()
    end?.(moved)
  }
  target.addEventListener('pointermove', onMove as EventListener)
  target.addEventListener('pointerup', onEnd)
  target.addEventListener('pointercancel', onEnd)
}
