/** Variants of ease to be seen side by side: each is the edit that would make it. */
import type { Ease, Edit } from '../api/client'
import type { Beside, useDesk } from '../stores/desk'
import type { useProject } from '../stores/project'

/** The keys in hand, else what moves in the arrival (or the departure, if the playhead is past the clip's middle). */
export function besideEases(desk: ReturnType<typeof useDesk>, project: ReturnType<typeof useProject>): Beside | null {
  const clip = desk.clip
  if (!clip) return null
  const eases = desk.catalogue!.eases.filter((each) => each.name !== 'hold').slice(0, 9)
  const saved = (project.settings?.eases ?? []).map(({ name, ease }) => ({ name, ease }))
  const all = [...saved.slice(-3), ...eases].slice(0, 9)
  if (desk.keys.length) {
    const keys = desk.keys
    return { title: keys.length === 1 ? 'ease of the key in hand' : `ease of ${keys.length} keys`,
      variants: all.map(({ name, ease }) => ({ label: name, edit: { kind: 'ease_keys', keys, ease: ease as Ease } as Edit })) }
  }
  const span = desk.local > clip.length / 2 ? 'departure' : 'arrival'
  return { title: `ease of the ${span}`, variants: all.map(({ name, ease }) => ({ label: name, edit: { kind: 'set_span_ease', clip: clip.id, span, ease: ease as Ease } as Edit })) }
}
