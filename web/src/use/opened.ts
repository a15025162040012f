/**
 * Groups opened in place: what they hold is shown on the film's own timeline, in the film's frames.
 *
 * A clip of an opened group is shown as a copy whose head is counted in frames of the film; edits are told in frames of its
 * own timeline again before they are sent.
 */
import type { Clip, Edit, Project, Track } from '../api/client'

export interface Row { track: Track; depth: number }
export interface Opened {
  /** The project, with clips of opened groups where the film shows them. */
  project: Project
  /** Tracks from the top down; those of an opened group below the track that it lies on. */
  rows: Row[]
  /** By track: frames from its own timeline's to the film's. */
  shifts: Map<string, number>
}

/** Only a group that plays at its own speed has its frames on the film's. */
export const canOpen = (clip: Clip) => clip.content.kind === 'group' && clip.content.speed === 1 && Number.isInteger(clip.content.start)

const copies = new WeakMap<Clip, Clip>()
function shifted(clip: Clip, by: number): Clip {
  if (!by) return clip
  const known = copies.get(clip)
  if (known && known.head === clip.head + by) return known
  const made = { ...clip, head: clip.head + by }
  copies.set(clip, made)
  return made
}

export function opened(project: Project, groups: readonly string[]): Opened {
  const rows: Row[] = []
  const shifts = new Map<string, number>()
  const walk = (within: string | null, by: number, depth: number) => {
    for (const track of project.tracks) {
      if ((track.within ?? null) !== within) continue
      rows.push({ track, depth })
      shifts.set(track.id, by)
      for (const id of groups) {
        const group = project.clips[id]
        if (group?.track === track.id && canOpen(group) && depth < 16) walk(id, by + group.head - (group.content as { start: number }).start, depth + 1)
      }
    }
  }
  walk(null, 0, 0)
  if (![...shifts.values()].some(Boolean)) return { project, rows, shifts }
  const clips = Object.fromEntries(Object.entries(project.clips).map(([id, clip]) => [id, shifted(clip, shifts.get(clip.track) ?? 0)]))
  return { project: { ...project, clips }, rows, shifts }
}

/** An edit told in frames of the film, as its clips' own timeline counts them. */
export function inOwnTime(edit: Edit, shown: Opened): Edit {
  const { project, shifts } = shown
  const of = (clip: string | undefined) => shifts.get(project.clips[clip ?? '']?.track ?? '') ?? 0
  const back = (frame: number | null | undefined, by: number) => (frame == null ? frame : frame - by)
  switch (edit.kind) {
    case 'several': return { ...edit, edits: edit.edits.map((each) => inOwnTime(each, shown)) }
    case 'trim_clip': return { ...edit, head: edit.head - of(edit.clip), playhead: back(edit.playhead, of(edit.clip)) }
    case 'move_clips': {
      const ids = Object.keys(edit.heads)
      return { ...edit, heads: Object.fromEntries(ids.map((id) => [id, edit.heads[id] - of(id)])), playhead: back(edit.playhead, of(ids[0])) }
    }
    case 'split_clips': case 'align_clips': case 'distribute_clips': return { ...edit, frame: edit.frame - of(edit.clips[0]) }
    case 'align_keys': return { ...edit, frame: edit.frame - of(edit.keys[0].clip) }
    case 'paste_keys': return { ...edit, frame: edit.frame - of(edit.clips[0]) }
    case 'paste_clips': return { ...edit, frame: edit.frame - (shifts.get(edit.clips[0].track) ?? 0) }
    case 'add_picture': case 'add_generated': return { ...edit, frame: edit.frame - (shifts.get(edit.track ?? '') ?? 0) }
    default: return edit
  }
}
