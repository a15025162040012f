/** The edits the Desk makes, by the names of what an editor does. */
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import type { Edit } from '../api/client'

type ChangeText = Omit<Extract<Edit, { kind: 'change_text' }>, 'kind' | 'clip'>
type Ease = Extract<Edit, { kind: 'set_span_ease' }>['ease']

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
    switchStep: (clip: string, step: string, on: boolean) =>
      project.edit({ kind: 'switch_step', clip, step, on }),
    moveStep: (clip: string, step: string, to: number) =>
      project.edit({ kind: 'move_step', clip, step, to }),
    rename: (name: string) =>
      project.edit({ kind: 'change_settings', name }),
  }
}
