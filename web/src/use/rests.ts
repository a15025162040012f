/** `v-rests="[rest, leave]"`: what happens as the pointer or the focus comes to an element, and as it goes.
 *
 * Only a pointer that moves comes: an element that a longer list pushes under a pointer at rest is left alone.
 */
import type { Directive } from 'vue'

type Rests = [rest: (event: PointerEvent | FocusEvent) => void, leave: () => void]
type Resting = HTMLElement & { rests: Rests }

export const rests: Directive<HTMLElement, Rests> = {
  mounted(element, { value }) {
    const one = element as Resting
    let here = false
    one.rests = value
    one.addEventListener('pointermove', (event) => {
      if (here || !(event.movementX || event.movementY)) return
      here = true
      one.rests[0](event)
    })
    one.addEventListener('pointerleave', () => {
      here = false
      one.rests[1]()
    })
    one.addEventListener('focusin', (event) => one.rests[0](event))
    one.addEventListener('focusout', () => one.rests[1]())
  },
  updated(element, { value }) {
    (element as Resting).rests = value
  },
}
