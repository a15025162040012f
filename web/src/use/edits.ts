/** The edits the Desk makes, by the names of what an editor does. */
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import type { Edit } from '../api/client'

type ChangeText = Omit<Extract<Edit, { kind: 'change_text' }>, 'kind' | 'clip'>
type Ease = Extract<Edit, { kind: 'set_span_ease' }>['ease']

export const newId = () => `c-${crypto.randomUUID().slice(0, 12)}`

export function useEdits() {
  const project = useProject()
  const desk = useDesk()

  return {
    text: (clip: string, change: Partial<ChangeText>, gesture?: string) =>
      project.edit({ kind: 'change_text', clip, ...change } as Edit, gesture),
    value: (clip: string, step: string, name: string, value: number, gesture?: string) =>
      project.edit({ kind: 'set_value', clip, step, name, value, frame: desk.local }, gesture),
    spans: (clip: string, spans: { arrival?: number; departure?: number }, gesture?: string) =>
      project.edit({ kind: 'set_spans', clip, ...spans } as Edit, gesture),
    spanEase: (clip: string, span: 'arrival' | 'departure', ease: Ease, gesture?: string) =>
      project.edit({ kind: 'set_span_ease', clip, span, ease }, gesture),
    trim: (clip: string, head: number, length: number, gesture?: string) =>
      project.edit({ kind: 'trim_clip', clip, head, length }, gesture),
    move: (clip: string, head: number, gesture?: string) =>
      project.edit({ kind: 'move_clip', clip, head } as Edit, gesture),
    place: (clip: string, values: Record<string, number>, snap: number, gesture?: string) =>
      project.edit({ kind: 'place_clip', clip, frame: desk.local, snap, ...values } as Edit, gesture),
    setMoving: (clip: string, step: string, name: string, moving: boolean) =>
      project.edit({ kind: 'set_moving', clip, step, name, moving, frame: desk.local }),
    addKey: (clip: string, step: string, name: string, frame: number) =>
      project.edit({ kind: 'add_key', clip, step, name, frame }),
    moveKey: (clip: string, step: string, name: string, index: number, frame: number, value: number | null, gesture?: string) =>
      project.edit({ kind: 'move_key', clip, step, name, index, frame, value }, gesture),
    easeKey: (clip: string, step: string, name: string, index: number, ease: Ease, gesture?: string) =>
      project.edit({ kind: 'ease_key', clip, step, name, index, ease }, gesture),
    recountKey: (clip: string, step: string, name: string, index: number, counts_from: 'head' | 'tail' | 'proportion') =>
      project.edit({ kind: 'recount_key', clip, step, name, index, counts_from }),
    removeKey: (clip: string, step: string, name: string, index: number) =>
      project.edit({ kind: 'remove_key', clip, step, name, index }),
    keyPlacement: (clip: string, step: string) =>
      project.edit({ kind: 'key_placement', clip, step, frame: desk.local }),
    addStep: (clip: string, kind: string, at: number) =>
      project.edit({ kind: 'add_step', clip, at, step: { id: `s-${crypto.randomUUID().slice(0, 8)}`, kind } } as unknown as Edit),
    removeStep: (clip: string, step: string) =>
      project.edit({ kind: 'remove_step', clip, step }),
    addTitle: (clip: string) =>
      project.edit({ kind: 'add_title', clip, frame: desk.frame } as Edit),
    addPicture: (clip: string, frame: number, media: string | null, track: string | null = null) =>
      project.edit({ kind: 'add_picture', clip, frame, media, track } as Edit),
    removeClip: (clip: string) =>
      project.edit({ kind: 'remove_clip', clip }),
    fit: (clip: string, change: { fit?: 'fill' | 'fit' | 'own'; colour?: string }, gesture?: string) =>
      project.edit({ kind: 'change_fit', clip, ...change } as Edit, gesture),
    switchStep: (clip: string, step: string, on: boolean) =>
      project.edit({ kind: 'switch_step', clip, step, on }),
    moveStep: (clip: string, step: string, to: number) =>
      project.edit({ kind: 'move_step', clip, step, to }),
    rename: (name: string) =>
      project.edit({ kind: 'change_settings', name }),
  }
}
