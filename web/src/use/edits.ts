/** The edits the Desk makes, by the names of what an editor does. */
import type { CopiedKey, Clip, Ease, Edit, FilmLook, Recipe, SentMotor, SentShutter, SentTransition, Styled, Value } from '../api/client'
import { useDesk, type ChosenKey } from '../stores/desk'
import { useProject } from '../stores/project'
import { isSeen } from './kinds'
import { likeIt } from './properties'

type Of<Kind extends Edit['kind']> = Extract<Edit, { kind: Kind }>
type ChangeText = Omit<Of<'change_text'>, 'kind' | 'clip'>

export const newId = () => `c-${crypto.randomUUID().slice(0, 12)}`

/** How near, in px of the screen, an end must come to be drawn to something. */
const REACH = 8

export function useEdits() {
  const project = useProject()
  const desk = useDesk()

  /** An edit whose left-out parts have their defaults. */
  const put = (edit: Edit, gesture?: string) => project.edit(edit, gesture)
  /** An edit for a clip, and the same for all that are in hand with it, as one act; null leaves one out. */
  const putForAll = (clip: string, label: string, of: (each: Clip) => Edit | null) => {
    const all = desk.picked.includes(clip) ? desk.clips : [project.project!.clips[clip]]
    const made = all.flatMap((each) => of(each) ?? [])
    if (made.length === 1) put(made[0])
    else if (made.length) put({ kind: 'several', label: `${label} of ${made.length} clips`, edits: made })
  }
  const snapping = (scale: number) => ({ snap: desk.snapping ? REACH / scale : 0, playhead: desk.frame })
  /** Frame and length of what is laid over a clip, or from the playhead on for the rest of the film, at least four seconds. */
  const spanOver = (over: string | null) => {
    const clip = over ? project.project!.clips[over] : null
    const frame = clip ? Math.round(clip.head) : desk.frame
    return { over, frame, length: clip?.length ?? Math.max(Math.round(4 * project.rate), project.length - frame) }
  }

  return {
    put,
    /** With `here`, what a key holds at the playhead is changed in that key. */
    text: (clip: string, change: Partial<ChangeText>, gesture?: string, here = false, saw?: number) =>
      project.edit({ kind: 'change_text', clip, ...change, ...(here ? { frame: desk.local } : {}) }, gesture, saw),
    /** How words are set, of all titles in hand. */
    setting: (clip: string, change: Partial<ChangeText>, here = false) => putForAll(clip, 'setting', (each) => (each.content.kind === 'text'
      ? { kind: 'change_text', clip: each.id, ...change, ...(here ? { frame: Math.min(Math.max(desk.localOf(each), 0), each.length - 1) } : {}) } : null)),
    value: (clip: string, step: string, name: string, value: Value, gesture?: string) =>
      put({ kind: 'set_value', clip, step, name, value, frame: desk.local }, gesture),
    spans: (clip: string, spans: { arrival?: number; departure?: number }, gesture?: string) => put({ kind: 'set_spans', clip, ...spans }, gesture),
    spanEase: (clip: string, span: 'arrival' | 'departure', ease: Ease, gesture?: string) => put({ kind: 'set_span_ease', clip, span, ease }, gesture),
    fit: (clip: string, fit: 'fill' | 'fit' | 'own') => put({ kind: 'change_fit', clip, fit }),
    place: (clip: string, values: Record<string, number>, snap: number, gesture?: string) =>
      put({ kind: 'place_clip', clip, frame: desk.local, snap, ...values }, gesture),
    rename: (name: string) => put({ kind: 'change_settings', name }),
    /** Another frame or rate for the film; all that is in it is fitted to it. */
    reframe: (change: { width?: number; height?: number; rate?: { num: number; den: number; non_drop: boolean } }) => put({ kind: 'change_settings', ...change }),
    /** Whether timecode numbers every frame, or leaves numbers out to keep to the clock. */
    renumber: (non_drop: boolean) => put({ kind: 'change_settings', rate: { ...project.settings!.rate, non_drop } }),

    // Cutting
    /** New ends of some clips, as one act; drawn to what is near at a scale of so many px a frame, if one is given. */
    trim: (ends: { id: string; head: number; length: number }[], scale: number | null, ripple: boolean, gesture?: string) => {
      const all = ends.map(({ id, head, length }) => ({ kind: 'trim_clip' as const, clip: id, head, length, ripple, ...(scale && ends.length === 1 ? snapping(scale) : {}) }))
      if (all.length === 1) put(all[0], gesture)
      else if (all.length) put({ kind: 'several', label: `trim ${all.length} clips`, edits: all }, gesture)
    },
    move: (heads: Record<string, number>, tracks: Record<string, string>, scale: number, gesture?: string) =>
      put({ kind: 'move_clips', heads, tracks, ...snapping(scale) }, gesture),
    nudge: (heads: Record<string, number>) => put({ kind: 'move_clips', heads }),
    slip: (clip: string, start: number, gesture?: string) => put({ kind: 'slip_clip', clip, start }, gesture),
    split: (clips: string[], frame: number) => put({ kind: 'split_clips', clips, frame, seed: newId() }),
    makeWhole: (clips: string[]) => put({ kind: 'make_whole', clips }),
    stretch: (clips: string[], by: number) => put({ kind: 'stretch_clips', clips, by }),
    speed: (clip: string, speed: number, keep: 'part' | 'length', frame: number, part: number | null = null, gesture?: string) =>
      put({ kind: 'set_speed', clip, speed, keep, frame, part }, gesture),
    replaceShot: (clip: string, media: string) => put({ kind: 'replace_shot', clip, media }),
    addTitle: (clip: string) => put({ kind: 'add_title', clip, frame: desk.frame }),
    addSecondLine: (clip: string, made: string) => put({ kind: 'add_second_line', clip, new: made }),
    addPicture: (clip: string, frame: number, media: string | null, track: string | null = null, part: { first?: number; last?: number } = {}) =>
      put({ kind: 'add_picture', clip, frame, media, track, ...part }),
    look: (clips: string[], look: string | null, brought?: FilmLook['look']) => put({ kind: 'use_look', clips, look, ...(brought && { brought }) }),
    changePattern: (clip: string, pattern: string) => put({ kind: 'change_pattern', clip, pattern }),
    saveLook: (clip: string, look: string, name: string) => put({ kind: 'save_look', clip, look, name }),
    removeLook: (look: string) => put({ kind: 'remove_look', look }),
    addTogether: (clip: string, name: string) => {
      const seed = `s-${crypto.randomUUID().slice(0, 8)}`
      putForAll(clip, name.replaceAll('-', ' '), (each) => (each.id === clip || isSeen(each) ? { kind: 'add_together', clip: each.id, name, seed } : null))
      return `${seed}-1`
    },
    /** Over a clip of the film, which it then rides with, or from the playhead on for the rest of the film; the new clip's id. */
    addCamera: (over: string | null) => {
      const clip = newId()
      put({ kind: 'add_camera', clip, ...spanOver(over) })
      return clip
    },
    addLight: (over: string | null, sort: Of<'add_light'>['sort'] = 'spot') => {
      const clip = newId()
      put({ kind: 'add_light', clip, sort, ...spanOver(over) })
      return clip
    },
    /** As long as what is in hand where that lies under the playhead, else four seconds from there; the new clip's id. */
    addTreatment: () => {
      const clip = newId()
      const over = desk.clips.some(desk.isOver) ? desk.clips : []
      const frame = over.length ? Math.round(Math.min(...over.map((each) => each.head))) : desk.frame
      const end = over.length ? Math.round(Math.max(...over.map((each) => project.endOf(each)))) : frame + Math.round(4 * project.rate)
      put({ kind: 'add_treatment', clip, frame, length: end - frame })
      return clip
    },
    gather: (clips: string[], group: string, name: string) => put({ kind: 'gather_clips', clips, group, name }),
    takeApart: (clip: string, steps: Of<'take_apart'>['steps'] = null) => put({ kind: 'take_apart', clip, steps }),
    blend: (clips: string[], mode: Clip['blend']) => put({ kind: 'set_blend', clips, mode }),
    addMask: (clip: string, step: string, mask: Of<'add_mask'>['mask']) => put({ kind: 'add_mask', clip, step, mask }),
    changeMask: (clip: string, step: string, mask: string, change: Omit<Of<'change_mask'>, 'kind' | 'clip' | 'step' | 'mask'>) => put({ kind: 'change_mask', clip, step, mask, ...change }),
    drawMask: (clip: string, step: string, outline: Of<'draw_mask'>['outline'], joined: 'intersect' | 'add') =>
      put({ kind: 'draw_mask', clip, step, mask: `m-${crypto.randomUUID().slice(0, 8)}`, outline, frame: desk.local, joined }),
    changeCorner: (clip: string, owner: string, corner: number, does: Of<'change_corner'>['does']) => put({ kind: 'change_corner', clip, step: owner, corner, does }),
    moveCorner: (clip: string, owner: string, corner: number, to: Pick<Of<'move_corner'>, 'at' | 'into' | 'out'>, gesture?: string) =>
      put({ kind: 'move_corner', clip, step: owner, corner, frame: desk.local, ...to }, gesture),
    /** A framing that a key holds, or (null) the one at the playhead. */
    framing: (clip: string, step: string, key: number | null, change: Pick<Of<'change_framing'>, 'x' | 'y' | 'scale' | 'roll'>, gesture?: string) =>
      put({ kind: 'change_framing', clip, step, key, frame: desk.local, ...change }, gesture),
    maskRun: (clip: string, step: string, first: string | null) => put({ kind: 'set_mask_run', clip, step, first }),
    removeMask: (clip: string, step: string, mask: string) => put({ kind: 'remove_mask', clip, step, mask }),
    layPictures: (seed: string, frame: number, media: string[]) => put({ kind: 'lay_pictures', seed, frame, media }),
    removeClips: (clips: string[], close = false) => put({ kind: 'remove_clips', clips, close }),
    duplicate: (clips: string[]) => {
      const seed = newId()
      put({ kind: 'duplicate_clips', clips, seed })
      return clips.map((_, i) => `${seed}-${i + 1}`)
    },
    paste: (clips: Clip[]) => {
      const seed = newId()
      put({ kind: 'paste_clips', clips, frame: desk.frame, seed })
      return clips.map((_, i) => `${seed}-${i + 1}`)
    },
    seen: (clips: string[], seen: 'shown' | 'hidden' | 'alone') => put({ kind: 'set_seen', clips, seen }),
    ride: (clips: string[], shot: string | null) => put({ kind: 'ride_with', clips, shot }),
    /** With `fits`, as much shorter as there is room for. */
    transition: (clip: string, end: 'opening' | 'closing', transition: SentTransition | null, gesture?: string, fits = false) =>
      put({ kind: 'set_transition', clip, end, transition, fits }, gesture),
    shutter: (clips: string[], shutter: SentShutter | null, gesture?: string) => put({ kind: 'set_shutter', clips, shutter }, gesture),

    // The film's tracks and marks
    addTrack: (at: number) => put({ kind: 'add_track', at, track: { id: `t-${crypto.randomUUID().slice(0, 8)}`, name: `Track ${project.tracks.length + 1}` } }),
    changeTrack: (track: string, change: Omit<Of<'change_track'>, 'kind' | 'track'>, gesture?: string) =>
      put({ kind: 'change_track', track, ...change }, gesture),
    moveTrack: (track: string, to: number) => put({ kind: 'move_track', track, to }),
    removeTrack: (track: string) => put({ kind: 'remove_track', track }),
    /** Drawn to what is near at a scale of so many px a frame, if one is given. */
    marker: (marker: string, frame: number, name?: string, gesture?: string, scale?: number) => put({ kind: 'set_marker', marker, frame, name, snap: scale ? snapping(scale).snap : 0 }, gesture),
    removeMarker: (marker: string) => put({ kind: 'remove_marker', marker }),
    range: (first: number | null, last: number | null, gesture?: string) => put({ kind: 'set_range', first, last }, gesture),

    // Keys
    setMoving: (clip: string, step: string, name: string, moving: boolean) => put({ kind: 'set_moving', clip, step, name, moving, frame: desk.local }),
    addKey: (clip: string, step: string, name: string, frame: number) => put({ kind: 'add_key', clip, step, name, frame }),
    moveKey: (key: ChosenKey, frame: number, value: Value | null, gesture?: string, scale?: number) => put({ kind: 'move_key', ...key, frame, value, snap: scale ? snapping(scale).snap : 0 }, gesture),
    shiftKeys: (keys: ChosenKey[], by: number, gesture?: string) => put({ kind: 'shift_keys', keys, by }, gesture),
    placeKeys: (keys: Of<'place_keys'>['keys'], gesture?: string) => put({ kind: 'place_keys', keys }, gesture),
    stretchKeys: (keys: ChosenKey[], about: number, factor: number) => put({ kind: 'stretch_keys', keys, about, factor }),
    distributeKeys: (keys: ChosenKey[]) => put({ kind: 'distribute_keys', keys }),
    alignKeys: (keys: ChosenKey[], frame: number) => put({ kind: 'align_keys', keys, frame }),
    easeKeys: (keys: ChosenKey[], ease: Ease, gesture?: string) => put({ kind: 'ease_keys', keys, ease }, gesture),
    recountKeys: (keys: ChosenKey[], counts_from: 'head' | 'tail' | 'proportion') => put({ kind: 'recount_keys', keys, counts_from }),
    removeKeys: (keys: ChosenKey[]) => put({ kind: 'remove_keys', keys }),
    pasteKeys: (clips: string[], keys: CopiedKey[], frame: number) => put({ kind: 'paste_keys', clips, keys, frame }),
    keyPlacement: (clip: string, step: string) => put({ kind: 'key_placement', clip, step, frame: desk.local }),
    through: (clip: string, step: string, name: string, through: boolean) => put({ kind: 'set_through', clip, step, name, through }),
    repeat: (clip: string, step: string, name: string, repeat: { mode: 'loop' | 'mirror'; times: number | null } | null) =>
      put({ kind: 'set_repeat', clip, step, name, repeat }),
    motor: (clip: string, step: string, name: string, motor: SentMotor | null, gesture?: string) =>
      put({ kind: 'set_motor', clip, step, name, motor }, gesture),
    bake: (clip: string, step: string, name: string, every: number) => put({ kind: 'bake_motion', clip, step, name, every }),
    tangents: (key: ChosenKey, into: [number, number] | null, out: [number, number] | null, gesture?: string) =>
      put({ kind: 'set_tangents', ...key, into, out }, gesture),
    saveEase: (name: string, ease: Ease) => put({ kind: 'save_ease', name, ease }),
    forgetEase: (name: string) => put({ kind: 'forget_ease', name }),

    // One act each
    soften: (clips: string[]) => put({ kind: 'soften', clips }),
    mirror: (clips: string[]) => put({ kind: 'mirror_arrival', clips }),
    slower: (clips: string[]) => put({ kind: 'slower', clips }),
    stronger: (clips: string[]) => put({ kind: 'stronger', clips }),

    // Steps
    /** Where its kind belongs, for all in hand that can have it. */
    addStep: (clip: string, kind: string, ready: string | null = null) => {
      const id = `s-${crypto.randomUUID().slice(0, 8)}`
      const info = desk.kindOf(kind)
      putForAll(clip, (info?.label ?? kind).toLowerCase(), (each) => (each.id === clip || (isSeen(each) && (!info?.text_only || each.content.kind === 'text') && (!info?.makes_bodies || ['text', 'shape'].includes(each.content.kind)))
        ? { kind: 'add_step', clip: each.id, ready, step: { id, kind } } : null))
      return id
    },
    removeStep: (clip: string, step: string) => put({ kind: 'remove_step', clip, step }),
    switchStep: (clip: string, step: string, on: boolean) => put({ kind: 'switch_step', clip, step, on }),
    moveStep: (clip: string, step: string, to: number) => put({ kind: 'move_step', clip, step, to }),
    stepTimes: (clip: string, step: string, times: { since?: number; until?: number }, gesture?: string) =>
      put({ kind: 'set_step_times', clip, step, ...times }, gesture),
    units: (clip: string, step: string, change: Omit<Of<'set_units'>, 'kind' | 'clip' | 'step'>, gesture?: string) =>
      put({ kind: 'set_units', clip, step, ...change }, gesture),
    give: (clip: string, step: string, what: { drawing?: string; media?: string }) => put({ kind: 'give_step', clip, step, ...what }),
    /** Of the same step of all in hand. */
    choose: (clip: string, step: string, name: string, value: string) => putForAll(clip, name.replaceAll('_', ' '), (each) => {
      const like = each.id === clip ? { step } : likeIt(project.project!.clips[clip], step, [each])[0]
      return like ? { kind: 'set_choice', clip: each.id, step: like.step, name, value } : null
    }),
    styleRange: (clip: string, style: Partial<Styled> & { start: number; end: number }, clear = false, gesture?: string) =>
      put({ kind: 'style_range', clip, style, clear }, gesture),
    useRecipe: (clips: string[], recipe: Recipe, adds = false) => put({ kind: 'use_recipe', clips, recipe, adds }),
    addFromRecipe: (made: string, recipe: Recipe, texts: string[] = []) => put({ kind: 'add_from_recipe', new: made, frame: desk.frame, recipe, texts }),
    paletteColour: (colour: { id: string; name: string; value: string }) => put({ kind: 'set_palette_colour', colour }),
    removePaletteColour: (colour: string) => put({ kind: 'remove_palette_colour', colour }),
    usePaletteColour: (clips: string[], step: string, name: string, colour: string) => put({ kind: 'use_palette_colour', clips, step, name, colour }),
    saveTypeStyle: (clip: string, style: string, name: string) => put({ kind: 'save_type_style', clip, style, name }),
    useTypeStyle: (clips: string[], style: string | null) => put({ kind: 'use_type_style', clips, style }),
    removeTypeStyle: (style: string) => put({ kind: 'remove_type_style', style }),
    replaceWords: (find: string, by: string, how: { capitals_count?: boolean; whole_words?: boolean }) => put({ kind: 'replace_words', find, by, ...how }),
    titlesFromLines: (clip: string, texts: string[]) => put({ kind: 'add_titles_like', clip, texts, seed: newId() }),
    /** One step of a clip onto others. */
    carryStep: (source: string, step: string, clips: string[]) => put({ kind: 'carry_over', source, clips, step }),
    carryOver: (source: string, clips: string[], what: 'look' | 'motion' | 'both') => put({ kind: 'carry_over', source, clips, what }),
    alignClips: (clips: string[], side: Of<'align_clips'>['side'], to: 'frame' | 'safe' | 'last') => put({ kind: 'align_clips', clips, side, to, frame: desk.frame }),
    distributeClips: (clips: string[], along: 'across' | 'down') => put({ kind: 'distribute_clips', clips, along, frame: desk.frame }),
    reset: (clips: string[]) => put({ kind: 'reset_clips', clips }),
    hold: (clip: string, name: 'text' | 'typeface', value: string, gesture?: string) =>
      put({ kind: 'hold_choice', clip, name, value, frame: desk.local }, gesture),
    removeHeld: (clip: string, name: 'text' | 'typeface', key: number) => put({ kind: 'remove_held', clip, name, key }),
  }
}
