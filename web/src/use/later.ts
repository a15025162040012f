/** Parts of the Desk that the first screen does without: each is loaded when it is opened, and all of them as soon as nothing else is to be done. */
import { defineAsyncComponent, type Component } from 'vue'

type Load = () => Promise<{ default: Component }>

const loads: Load[] = []

export function later(load: Load) {
  loads.push(load)
  return defineAsyncComponent(load)
}

export function loadTheRest() {
  const all = () => { for (const load of loads) void load().catch(() => undefined) }
  if ('requestIdleCallback' in window) requestIdleCallback(all, { timeout: 3000 })
  else setTimeout(all, 500)
}
