/** What the service is asked anew whenever what it depends on changes. */
import { ref, shallowRef, watch, type Ref } from 'vue'
import { filmRevision } from '../sync/revision'

/** The newest answer, and the film's revision when it was asked for. */
export type Answer<T> = Ref<T | null> & { at: Ref<number> }

/**
 * The newest answer. Whenever `on` changes, `question` says what is to be asked: null where there is nothing to be told,
 * undefined where the last answer is to stay.
 *
 * One question is on its way at a time: after a change the next one leaves when its answer is in, and an answer that
 * was overtaken does not count. So what takes long to answer is asked no more often than it can be, however quickly an
 * editor drags. A question that fails is answered by null. With a `pause` it leaves after so many ms without another
 * change: what nobody waits for gives way to the picture.
 */
export function useAnswer<T>(on: () => unknown, question: () => (() => Promise<T>) | null | undefined, pause = 0): Answer<T> {
  const told: Ref<T | null> = shallowRef(null)
  const at = ref(0)
  let next: (() => Promise<T>) | null = null
  let underWay = false
  let overtaken = false
  let changed = 0

  /** Until nothing has changed for the pause. */
  async function calm() {
    for (let left = pause; left > 0; left = changed + pause - performance.now()) await new Promise((resume) => setTimeout(resume, left))
  }

  async function ask() {
    underWay = true
    while (next) {
      if (pause) await calm()
      const own = next
      if (!own) break
      next = null
      overtaken = false
      const revision = filmRevision.value
      const answer = await own().catch(() => null)
      if (!overtaken) {
        told.value = answer
        at.value = revision
      }
    }
    underWay = false
  }

  watch(on, () => {
    const wanted = question()
    overtaken = true
    changed = performance.now()
    next = wanted ?? null
    if (wanted === null) told.value = null
    if (wanted && !underWay) void ask()
  }, { immediate: true })
  return Object.assign(told, { at })
}
