/**
 * Groups opened in place: what they hold is shown on the film's own timeline, in the film's frames.
 *
 * A clip of an opened group is shown as a copy whose head is counted in frames of the film; edits are told in frames of its
 * own timeline again before they are sent.
 */
import type { Clip, Edit, Project, Track } from '../api/client'

export interface Row { track: Track; depth: number }
/** Where a frame of a timeline is on the film: from + pace · frame. */
export interface Shift { from: number; pace: number }
export interface Opened {
  /** The project, with clips of opened groups where the film shows them: their heads are film frames, their lengths their own. */
  project: Project
  /** Tracks from the top down; those of an opened group below the track that it lies on. */
  rows: Row[]
  /** By track: from its own timeline's frames to the film's. */
  shifts: Map<string, Shift>
}

/** What a group shows goes forward with the film, at any speed. One that stands still or runs backwards has no place for each of its frames. */
export const canOpen = (clip: Clip) => clip.content.kind === 'group' && clip.content.speed > 0

const FILM: Shift = { from: 0, pace: 1 }
const copies = new WeakMap<Clip, Clip>()
function shifted(clip: Clip, { from, pace }: Shift): Clip {
  if (!from && pace === 1) return clip
  const head = from + pace * clip.head
  const known = copies.get(clip)
  if (known && known.head === head) return known
  const made = { ...clip, head }
  copies.set(clip, made)
  return made
}

export function opened(project: Project, groups: readonly string[]): Opened {
  const rows: Row[] = []
  const shifts = new Map<string, Shift>()
  const walk = (within: string | null, at: Shift, depth: number) => {
    for (const track of project.tracks) {
      if ((track.within ?? null) !== within) continue
      rows.push({ track, depth })
      shifts.set(track.id, at)
      for (const id of groups) {
        const group = project.clips[id]
        if (group?.track !== track.id || !canOpen(group) || depth >= 16) continue
        const { start, speed } = group.content as { start: number; speed: number }
        walk(id, { from: at.from + at.pace * (group.head - start / speed), pace: at.pace / speed }, depth + 1)
      }
    }
  }
  walk(null, FILM, 0)
  if (![...shifts.values()].some(({ from, pace }) => from || pace !== 1)) return { project, rows, shifts }
  const clips = Object.fromEntries(Object.entries(project.clips).map(([id, clip]) => [id, shifted(clip, shifts.get(clip.track) ?? FILM)]))
  return { project: { ...project, clips }, rows, shifts }
}

/** An edit told in frames of the film, as its clips' own timeline counts them. */
export function inOwnTime(edit: Edit, shown: Opened): Edit {
  const { project, shifts } = shown
  const on = (track: string | null | undefined) => shifts.get(track ?? '') ?? FILM
  const of = (clip: string | undefined) => on(project.clips[clip ?? '']?.track)
  const own = (frame: number, { from, pace }: Shift) => Math.max(0, Math.round((frame - from) / pace))
  const back = (frame: number | null | undefined, at: Shift) => (frame == null ? frame : own(frame, at))
  switch (edit.kind) {
    case 'several': return { ...edit, edits: edit.edits.map((each) => inOwnTime(each, shown)) }
    case 'trim_clip': return { ...edit, head: own(edit.head, of(edit.clip)), playhead: back(edit.playhead, of(edit.clip)) }
    case 'move_clips': {
      const ids = Object.keys(edit.heads)
      return { ...edit, heads: Object.fromEntries(ids.map((id) => [id, own(edit.heads[id], of(id))])), playhead: back(edit.playhead, of(ids[0])) }
    }
    case 'split_clips': case 'align_clips': case 'distribute_clips': return { ...edit, frame: own(edit.frame, of(edit.clips[0])) }
    case 'align_keys': return { ...edit, frame: own(edit.frame, of(edit.keys[0].clip)) }
    case 'paste_keys': return { ...edit, frame: own(edit.frame, of(edit.clips[0])) }
    case 'paste_clips': return { ...edit, frame: own(edit.frame, on(edit.clips[0].track)) }
    case 'add_picture': case 'add_generated': return { ...edit, frame: own(edit.frame, on(edit.track)) }
    case 'to_front_and_back': case 'fit_shape': case 'fit_words': case 'become_shape': return { ...edit, frame: own(edit.frame, of(edit.clip)) }
    case 'turn_into': return { ...edit, frame: back(edit.frame, of(edit.front)) }
    case 'leave_and_return': return { ...edit, leaves: own(edit.leaves, of(edit.clip)), returns: own(edit.returns, of(edit.clip)) }
    case 'hold_to_point': return edit.at == null ? edit : { ...edit, at: own(edit.at, of(edit.clips[0])) }
    default: return edit
  }
}
