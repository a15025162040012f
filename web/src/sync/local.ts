/**
 * What the hand has set and the service has not acknowledged yet, so that the next gesture goes on from there.
 *
 * An edit that says plainly what it sets is known by the address of that: a clip's place on its track, a value, a key. What
 * needs the rules of the core (a value where the property moves, a snapped place) is known by what was asked for, until the
 * answer has come and what was worked out from it is newer.
 */
import type { Clip, Edit, Project, Property, Value } from '../api/client'

/** What is known at an address. Only what an edit names is there. */
export interface Local {
  clip: { head?: number; length?: number; track?: string; start?: number }
  spans: { arrival?: number; departure?: number }
  place: Record<string, number>
  value: { value: Value }
  key: { frame?: number; value?: Value }
  tangents: { into: [number, number] | null; out: [number, number] | null }
  corner: { at?: [number, number]; into?: [number, number]; out?: [number, number] }
  framing: { x?: number; y?: number; scale?: number; roll?: number }
  point: { x: number; y: number }
}
export type Sort = keyof Local

/** `clip` a clip's place and length, by its id; the others by clip, owner, name and id of what they are of. */
export const addressOf = (sort: Sort, ...of: (string | number)[]) => [sort, ...of].join(' ')

type Known = [address: string, what: object]

/** Leaves out what an edit does not name. */
const given = (all: Record<string, unknown>) => Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined && value !== null))

/** What an edit sets. */
export function setBy(edit: Edit): Known[] {
  switch (edit.kind) {
    case 'several': return edit.edits.flatMap(setBy)
    case 'move_clips': return Object.entries(edit.heads).map(([id, head]) => [addressOf('clip', id), given({ head, track: edit.tracks?.[id] })])
    case 'trim_clip': return [[addressOf('clip', edit.clip), { head: edit.head, length: edit.length }]]
    case 'slip_clip': return [[addressOf('clip', edit.clip), { start: edit.start }]]
    case 'set_spans': return [[addressOf('spans', edit.clip), given({ arrival: edit.arrival, departure: edit.departure })]]
    case 'place_clip': {
      const { clip, x, y, scale, rotation, pivot_x, pivot_y } = edit
      return [[addressOf('place', clip), given({ x, y, scale, rotation, pivot_x, pivot_y })]]
    }
    case 'set_value': return [[addressOf('value', edit.clip, edit.step, edit.name), { value: edit.value }]]
    case 'move_key': return [[addressOf('key', edit.clip, edit.step, edit.name, edit.key), given({ frame: edit.frame, value: edit.value })]]
    case 'place_keys': return edit.keys.map(({ clip, step, name, key, frame }) => [addressOf('key', clip, step, name, key), { frame }])
    case 'set_tangents': return [[addressOf('tangents', edit.clip, edit.step, edit.name, edit.key), { into: edit.into ?? null, out: edit.out ?? null }]]
    case 'move_corner': return [[addressOf('corner', edit.clip, edit.step, edit.corner), given({ at: edit.at, into: edit.into, out: edit.out })]]
    case 'change_framing': return [[addressOf('framing', edit.clip, edit.step, edit.key ?? 0), given({ x: edit.x, y: edit.y, scale: edit.scale, roll: edit.roll })]]
    case 'mend_point': return [[addressOf('point', edit.clip, edit.point), { x: edit.x, y: edit.y }]]
    default: return []
  }
}

interface Entry { token: string; what: object; /** Of the answer; null while it is on its way. */ revision: number | null }

/** Revisions for which something acknowledged is kept for answers that are older. */
const KEPT = 50

export class Locals {
  private known = new Map<string, Entry[]>()

  clear() {
    this.known.clear()
  }

  add(token: string, edit: Edit) {
    for (const [address, what] of setBy(edit)) this.known.set(address, [...(this.known.get(address) ?? []), { token, what, revision: null }])
  }

  drop(token: string) {
    this.keep((entry) => entry.token !== token)
  }

  acknowledge(token: string, revision: number) {
    for (const entries of this.known.values()) for (const entry of entries) if (entry.token === token) entry.revision = revision
    this.keep((entry) => entry.revision === null || entry.revision > revision - KEPT)
  }

  private keep(passes: (entry: Entry) => boolean) {
    for (const [address, entries] of this.known) {
      const left = entries.filter(passes)
      if (!left.length) this.known.delete(address)
      else if (left.length < entries.length) this.known.set(address, left)
    }
  }

  /** What was set at an address since the revision from which what is known otherwise was worked out. */
  at<S extends Sort>(sort: S, of: (string | number)[], since: number): Partial<Local[S]> {
    const entries = this.known.get(addressOf(sort, ...of)) ?? []
    return Object.assign({}, ...entries.filter(({ revision }) => revision === null || revision > since).map(({ what }) => what)) as Partial<Local[S]>
  }

  /** The film with what is on its way, as far as it is plain: where clips stand, fixed values, values of keys. */
  over(project: Project): Project {
    const clips: Record<string, Clip> = {}
    for (const [address, entries] of this.known) {
      const [sort, id, step, name, key] = address.split(' ')
      const clip = clips[id] ?? project.clips[id]
      const pending = entries.filter(({ revision }) => revision === null)
      if (!clip || !pending.length) continue
      const what = Object.assign({}, ...pending.map((each) => each.what))
      if (sort === 'clip') {
        const { start, track, ...place }: Local['clip'] = what
        const { content } = clip
        const known = project.tracks.some((each) => each.id === track)
        const slipped = start !== undefined && (content.kind === 'footage' || content.kind === 'sound') ? { ...content, start } : content
        clips[id] = { ...clip, ...place, ...(known && { track }), content: slipped }
      } else if (sort === 'spans') clips[id] = { ...clip, ...what }
      else if (sort === 'value') clips[id] = withProperty(clip, step, name, (property) => (property.state === 'fixed' ? { ...property, value: what.value } : property))
      else if (sort === 'key' && what.value !== undefined) clips[id] = withProperty(clip, step, name, (property) => withKey(property, Number(key), () => what.value))
      else if (sort === 'framing') clips[id] = withProperty(clip, step, 'framing', (property) => withKey(property, Number(name), (framing): Value => Object.assign({}, framing, what)))
    }
    return Object.keys(clips).length ? { ...project, clips: { ...project.clips, ...clips } } : project
  }
}

/** With a key of a property, or (0) its fixed value, changed. */
function withKey(property: Property, key: number, change: (value: Value) => Value): Property {
  if (property.state === 'fixed') return key ? property : { ...property, value: change(property.value) }
  if (property.state !== 'moving') return property
  return { ...property, keys: property.keys.map((each) => (each.id === key ? { ...each, value: change(each.value) } : each)) }
}

const isProperty = (value: unknown): value is Property => typeof value === 'object' && value !== null && 'state' in value

/** With a property changed, wherever it stands; where it was never set, the clip as it is. */
function withProperty(clip: Clip, owner: string, name: string, change: (property: Property) => Property): Clip {
  const inValues = <Holder extends { values: Record<string, Property> }>(holder: Holder): Holder =>
    (holder.values[name] ? { ...holder, values: { ...holder.values, [name]: change(holder.values[name]) } } : holder)
  if (owner === 'content') {
    const { content } = clip
    if ('values' in content) return { ...clip, content: inValues(content) }
    const found = Object.entries(content).find(([each]) => each === name)?.[1]
    if (!isProperty(found)) return clip
    const changed: Clip['content'] = Object.assign({}, content, { [name]: change(found) })
    return { ...clip, content: changed }
  }
  const [id, mask] = owner.split('/')
  const steps = clip.steps.map((step) => {
    if (step.id !== id) return step
    if (mask) return { ...step, masks: step.masks.map((each) => (each.id === mask ? inValues(each) : each)) }
    return name === 'mix' ? { ...step, mix: change(step.mix) } : inValues(step)
  })
  return { ...clip, steps }
}
