/** Whether elements are in sight of the list that they are in, or near it: one observer for each list. */

const MARGIN = '600px 0px'

interface List { observer: IntersectionObserver; told: WeakMap<Element, (near: boolean) => void> }
const lists = new WeakMap<Element, List>()

function listOf(root: Element): List {
  const known = lists.get(root)
  if (known) return known
  const told: List['told'] = new WeakMap()
  const observer = new IntersectionObserver((entries) => {
    for (const { target, isIntersecting } of entries) told.get(target)?.(isIntersecting)
  }, { root, rootMargin: MARGIN })
  const made = { observer, told }
  lists.set(root, made)
  return made
}

/** Calls `tell` as the element comes near the view of its scrolled list (`.inside`) and as it leaves; gives what ends that. */
export function watchNear(element: Element, tell: (near: boolean) => void): () => void {
  const list = listOf(element.closest('.inside') ?? document.documentElement)
  list.told.set(element, tell)
  list.observer.observe(element)
  return () => list.observer.unobserve(element)
}
