/** Variants of ease to be seen side by side: each is the edit that would make it. */
import type { Ease, Edit } from '../api/client'
import { sameEase } from './eases'
import { keyOf, propertyOf } from './properties'
import type { Beside, ChosenKey, useDesk } from '../stores/desk'
import type { useProject } from '../stores/project'

const SOFT: Ease = { kind: 'strengths', start: 1 / 3, end: 1 / 3 }
const LANDING: Ease = { kind: 'strengths', start: 0, end: 0.9 }
const LEAVING: Ease = { kind: 'strengths', start: 0.9, end: 0 }
const HOLD: Ease = { kind: 'hold' }
/** What a rise and a fall that follow each other are tried with. */
const PAIRS: [string, Ease, Ease][] = [
  ['both soft', SOFT, SOFT], ['both sudden, soft landing', LANDING, LANDING], ['both soft start, sudden end', LEAVING, LEAVING],
  ['hold, hold', HOLD, HOLD], ['hold, then a soft fall', HOLD, SOFT], ['soft rise, hold and drop', SOFT, HOLD],
  ['fast rise, slow fall', LANDING, SOFT], ['spring, soft fall', { kind: 'spring', damping: 0.35 }, SOFT], ['even, even', { kind: 'linear' }, { kind: 'linear' }],
]

/** The keys of each property by turns: the first, third… with one ease, the second, fourth… with the other. */
function byTurns(label: string, keys: ChosenKey[], order: (key: ChosenKey) => number, first: Ease, second: Ease): Edit {
  const place = (key: ChosenKey) => `${key.clip} ${key.step} ${key.name}`
  const turn = (key: ChosenKey) => keys.filter((each) => place(each) === place(key) && order(each) < order(key)).length % 2
  const halves = [[keys.filter((key) => !turn(key)), first], [keys.filter(turn), second]] as const
  return { kind: 'several', label: `eases: ${label}`, edits: halves.filter(([some]) => some.length).map(([some, ease]) => ({ kind: 'ease_keys' as const, keys: some, ease })) }
}

/** The keys in hand, else what moves in the arrival (or the departure, if the playhead is past the clip's middle). */
export function besideEases(desk: ReturnType<typeof useDesk>, project: ReturnType<typeof useProject>): Beside | null {
  const clip = desk.clip
  if (!clip) return null
  const eases = desk.catalogue!.eases.filter((each) => each.name !== 'hold').slice(0, 9)
  const saved = (project.settings?.eases ?? []).map(({ name, ease }) => ({ name, ease }))
  const all = [...saved.slice(-3), ...eases].slice(0, 9)
  if (desk.keys.length) {
    const keys = desk.keys
    const own = keyOf(clip, keys[0])?.ease
    const alike = all.map(({ name, ease }) => ({ label: name, edit: { kind: 'ease_keys' as const, keys, ease }, now: own !== undefined && sameEase(own, ease) }))
    const order = (key: ChosenKey) => {
      const property = propertyOf(project.project!.clips[key.clip], key)
      return property?.state === 'moving' ? property.keys.findIndex((each) => each.id === key.key) : 0
    }
    if (keys.length === 1) return { title: 'ease of the key in hand', variants: alike }
    return { title: `eases of ${keys.length} keys, by turns`, variants: PAIRS.map(([label, first, second]) => ({ label, edit: byTurns(label, keys, order, first, second) })) }
  }
  const span = desk.local > clip.length / 2 ? 'departure' : 'arrival'
  const own = desk.course?.[span]
  return { title: `ease of the ${span}`, variants: all.map(({ name, ease }) => ({ label: name, edit: { kind: 'set_span_ease', clip: clip.id, span, ease }, now: !!own?.ease && !own.mixed && sameEase(own.ease, ease) })) }
}
