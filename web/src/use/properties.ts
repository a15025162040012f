/** Finding a property of a clip, its declaration, and its keys. */
import type { Clip, ClipCourse, ParameterInfo, Property } from '../api/client'
import { useDesk, type ChosenKey } from '../stores/desk'

export type Key = Extract<Property, { state: 'moving' }>['keys'][number]
export interface Place { step: string; name: string }

const isProperty = (value: unknown): value is Property => typeof value === 'object' && value !== null && 'state' in value

/** The property as it stands; undefined where it was never set. */
export function propertyOf(clip: Clip, { step, name }: Place): Property | undefined {
  if (step === 'content') {
    if (clip.content.kind === 'generated' || clip.content.kind === 'shape' || clip.content.kind === 'camera' || clip.content.kind === 'light' || clip.content.kind === 'model') return clip.content.values[name]
    const found = Object.entries(clip.content).find(([each]) => each === name)?.[1]
    return isProperty(found) ? found : undefined
  }
  const [id, mask] = step.split('/')
  const owner = clip.steps.find((each) => each.id === id)
  if (mask) return owner?.masks.find((each) => each.id === mask)?.values[name]
  return name === 'mix' ? owner?.mix : owner?.values[name]
}

/** The same step of other clips, by its kind and its place among its kind; their content where it is of one kind. */
export function likeIt(clip: Clip, step: string, others: Clip[]): { clip: Clip; step: string }[] {
  const rest = others.filter((each) => each.id !== clip.id)
  if (step === 'content') return rest.filter((each) => each.content.kind === clip.content.kind && (clip.content.kind !== 'generated' || each.content.kind !== 'generated' || each.content.pattern === clip.content.pattern)).map((each) => ({ clip: each, step }))
  const kind = clip.steps.find((each) => each.id === step)?.kind
  const place = clip.steps.filter((each) => each.kind === kind).findIndex((each) => each.id === step)
  return kind ? rest.flatMap((each) => {
    const found = each.steps.filter((one) => one.kind === kind)[place]
    return found ? [{ clip: each, step: found.id }] : []
  }) : []
}

export function keyOf(clip: Clip, place: Place & { key: number }): Key | undefined {
  const property = propertyOf(clip, place)
  return property?.state === 'moving' ? property.keys.find((each) => each.id === place.key) : undefined
}

export function useParameters() {
  const desk = useDesk()
  /** How a property is declared: its label, unit, range and sort. */
  return (clip: Clip, { step, name }: Place): ParameterInfo | undefined => {
    if (name === 'mix') return desk.catalogue!.mix
    const [id, mask] = step.split('/')
    if (mask) {
      const form = clip.steps.find((each) => each.id === id)?.masks.find((each) => each.id === mask)?.form
      return form ? desk.catalogue!.masks[form]?.find((each) => each.name === name) : undefined
    }
    const kind = clip.steps.find((each) => each.id === step)?.kind
    const known = step === 'content' ? desk.contentOf(clip) : desk.kindOf(kind ?? '')?.parameters
    return known?.find((each) => each.name === name)
  }
}

export type { ChosenKey }

export type Choice = 'text' | 'typeface' | 'align' | 'stand_x' | 'stand_y' | 'measured_by'

/** What a title's words or a choice of its are at a frame of the clip: as held by the last key up to it, or as set. */
export function choiceAt(clip: Clip, name: Choice, course: ClipCourse | null, frame: number): string {
  const { content } = clip
  if (content.kind !== 'text') return ''
  const ruling = [...(course?.held[name] ?? [])].reverse().find(([at]) => at <= frame)
  const key = ruling && content.held[name]?.find((each) => each.id === ruling[1])
  return String(key ? key.value : content[name])
}
