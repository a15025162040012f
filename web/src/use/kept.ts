/** What a window keeps from one visit to the next. Where the browser keeps nothing, it is kept while the page is open. */
import { useStorage, type RemovableRef, type StorageLike } from '@vueuse/core'

function found(): StorageLike {
  try {
    // Reading it throws where the browser is told to keep nothing; writing where it has no room at all.
    const storage = window.localStorage
    storage.setItem('idle-comet-tried', '1')
    storage.removeItem('idle-comet-tried')
    return storage
  } catch {
    const held = new Map<string, string>()
    return { getItem: (key) => held.get(key) ?? null, setItem: (key, value) => { held.set(key, value) }, removeItem: (key) => { held.delete(key) } }
  }
}

export const storage = found()

/** A value that is kept under a name; `first` until it is set. */
export function useKept<T extends string>(name: string, first: T): RemovableRef<T>
export function useKept(name: string, first: boolean): RemovableRef<boolean>
export function useKept(name: string, first: number): RemovableRef<number>
export function useKept<T extends object>(name: string, first: T): RemovableRef<T>
export function useKept(name: string, first: unknown): RemovableRef<unknown> {
  return useStorage(name, first, storage)
}
