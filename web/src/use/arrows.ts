/** Handles and borders that are moved by arrow keys while they have the focus. */

const WAYS: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }
/** Milliseconds within which presses in a row are one act, with one undo. */
const IN_A_ROW = 900

let last = { at: 0, owner: null as EventTarget | null, gesture: '', way: [0, 0] as [number, number] }

/**
 * Calls `act` with how far the arrow keys of one act have led so far (ten times as far with Shift), the name of the act,
 * and whether it just began. Answers to earlier presses may be on their way yet, so what is moved is counted from where it
 * stood as the act began.
 */
export function byArrows(event: KeyboardEvent, act: (x: number, y: number, gesture: string, begins: boolean) => void) {
  const way = WAYS[event.key]
  if (!way || event.altKey || event.ctrlKey || event.metaKey) return
  event.preventDefault()
  event.stopPropagation()
  const row = last.owner === event.currentTarget && event.timeStamp - last.at < IN_A_ROW
  const far = event.shiftKey ? 10 : 1
  const [x, y] = row ? last.way : [0, 0]
  last = { at: event.timeStamp, owner: event.currentTarget, gesture: row ? last.gesture : crypto.randomUUID(), way: [x + way[0] * far, y + way[1] * far] }
  act(...last.way, last.gesture, !row)
}

/** Alt with an arrow up or down: a place earlier (−1) or later (1) in a list; 0 for any other key. */
export function byPlace(event: KeyboardEvent): -1 | 0 | 1 {
  if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return 0
  event.preventDefault()
  event.stopPropagation()
  return event.key === 'ArrowUp' ? -1 : 1
}
