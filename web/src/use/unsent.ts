/** Edits on their way are kept where a closed window does not lose them, and closing says that they are not sent yet. */

import { storage } from './kept'

const KEY = 'idle-comet-unsent-'

export function useUnsent<Order>() {
  let open = false

  function warn(event: BeforeUnloadEvent) {
    if (open) event.preventDefault()
  }
  window.addEventListener('beforeunload', warn)

  /** All that is not acknowledged yet, in order. */
  function keep(project: string, orders: Order[]) {
    open = orders.length > 0
    try {
      if (open) storage.setItem(KEY + project, JSON.stringify(orders))
      else storage.removeItem(KEY + project)
    } catch {
      // More than the browser keeps: closing still says that it is not sent yet.
      storage.removeItem(KEY + project)
    }
  }

  /** What an earlier window left, to be sent again: each has its token, so that none is done twice. */
  function read(key: string, take: boolean): Order[] {
    try {
      const left = storage.getItem(key)
      if (take) storage.removeItem(key)
      const orders: unknown = JSON.parse(left ?? '[]')
      return Array.isArray(orders) ? (orders as Order[]) : []
    } catch {
      return []
    }
  }

  const ASIDE = `${KEY}aside-`

  /** Edits that the service never answered: kept, and not sent again by themselves. */
  function keepAside(project: string, orders: Order[]) {
    if (orders.length) storage.setItem(ASIDE + project, JSON.stringify(orders))
    else storage.removeItem(ASIDE + project)
  }

  return { keep, taken: (project: string) => read(KEY + project, true), keepAside, aside: (project: string) => read(ASIDE + project, false) }
}
