/** Edits on their way are kept where a closed window does not lose them, and closing says that they are not sent yet. */

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
      if (open) localStorage.setItem(KEY + project, JSON.stringify(orders))
      else localStorage.removeItem(KEY + project)
    } catch {
      // More than the browser keeps: closing still says that it is not sent yet.
      localStorage.removeItem(KEY + project)
    }
  }

  /** What an earlier window left, to be sent again: each has its token, so that none is done twice. */
  function taken(project: string): Order[] {
    const left = localStorage.getItem(KEY + project)
    localStorage.removeItem(KEY + project)
    try {
      const orders: unknown = JSON.parse(left ?? '[]')
      return Array.isArray(orders) ? (orders as Order[]) : []
    } catch {
      return []
    }
  }

  return { keep, taken }
}
