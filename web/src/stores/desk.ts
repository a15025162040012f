/** What the editor is looking at: playhead, what is in hand, trays. */
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import { answered, api, type Catalogue, type Clip, type CopiedKey, type Edit, type KindInfo, type Value } from '../api/client'
import { useKept } from '../use/kept'
import type { CachedFrames } from '../use/previewSocket'
import { useProject } from './project'

export type Tray = 'text' | 'media' | 'recipes' | 'sound' | 'export' | null

export type ShapeForm = Extract<Edit, { kind: 'add_shape' }>['form']

/** A key in hand: of which clip and property, and the id of the key. */
export interface ChosenKey { clip: string; step: string; name: string; key: number }

/** Variants shown side by side in the Preview; picking one makes its edit. */
export interface Beside { title: string; variants: { label: string; edit: Edit; now?: boolean }[] }

export const sameKey = (a: ChosenKey, b: ChosenKey) => a.clip === b.clip && a.step === b.step && a.name === b.name && a.key === b.key

export const useDesk = defineStore('desk', () => {
  const project = useProject()
  const catalogue = ref<Catalogue | null>(null)
  const loadCatalogue = async () => { catalogue.value = await answered(api.GET('/api/catalogue')) }
  const frame = ref(0)
  /** How often the playhead was put somewhere by hand. */
  const moved = ref(0)
  const playing = ref(false)
  /** Frames that lie ready to be played, of a state of the film. */
  const cached = ref<CachedFrames>({ revision: -1, spans: [] })
  /** Film frames a shown frame: 1 plays as exported, 2 twice as fast, −1 backwards. */
  const speed = ref(1)
  const loop = ref(false)
  /** The clips in hand, the one whose steps are shown last. */
  const picked = ref<string[]>([])
  const openRow = ref<string | null>(null)
  const tray = ref<Tray>(null)
  const typing = ref(false)
  /** A title that is on its way, what was typed for it, and whether its field was left. */
  const coming = ref<{ clip: string; words: string; left: boolean } | null>(null)
  const held = ref<{ clip: string; done: number } | null>(null)
  /** A picture to match a look by, as an address within the page: never stored, never exported. */
  const reference = ref<string | null>(null)
  /** A step looked at as before and after: what was before lies left of a line over the Preview. */
  const parted = ref<{ clip: string; step: string; done: number } | null>(null)
  const sheet = ref(false)
  const films = ref(false)
  /** Whether the film's own frame is being set. */
  const framing = ref(false)
  const commanding = ref(false)
  const keys = ref<ChosenKey[]>([])
  const beside = ref<Beside | null>(null)
  /** An edit that is tried in the Preview, and the frames it plays over, looped. */
  const trying = ref<{ edit: Edit; range: [number, number] } | null>(null)
  /** Every value of the clip in hand at the playhead, as the core has it. */
  const now = ref<{ clip: string; frame: number; values: Record<string, Value> } | null>(null)
  /** A span spread over the timeline, its lanes grown. */
  const openSpan = ref<'arrival' | 'departure' | null>(null)
  const copied = ref<{ clips: Clip[]; keys: CopiedKey[] }>({ clips: [], keys: [] })
  const guides = useKept('guides', false)
  const snapping = useKept('snapping', true)
  const speeds = useKept('lanes-show-speed', false)
  const trail = useKept('trail', true)
  /** Whether a frame that the playhead is put on is heard. */
  /** Moments tapped along while it plays, in frames of the film. */
  const taps = ref<number[]>([])
  const touching = useKept('heard-at-the-playhead', true)

  const selected = computed(() => picked.value.at(-1) ?? null)
  const clip = computed(() => (selected.value ? project.project?.clips[selected.value] ?? null : null))
  const clips = computed(() => picked.value.flatMap((id) => project.project?.clips[id] ?? []))
  const course = computed(() => (selected.value ? project.courses[selected.value] ?? null : null))
  const key = computed(() => keys.value.at(-1) ?? null)
  /** The range that plays: in to out when looping and they are set, else the clip in hand, else the film. */
  const range = computed<[number, number]>(() => {
    if (trying.value) return trying.value.range
    const last = Math.max(0, project.length - 1)
    const { first: from, last: to } = project.range
    if (loop.value && (from != null || to != null)) return [Math.min(from ?? 0, last), Math.min(to ?? last, last)]
    return loop.value && clip.value ? [Math.round(clip.value.head), Math.max(Math.round(clip.value.head), Math.ceil(project.endOf(clip.value)) - 1)] : [0, last]
  })
  const local = computed(() => (clip.value ? Math.min(Math.max(localOf(clip.value), 0), clip.value.length - 1) : 0))
  /** The frame of a clip that is shown at the playhead; less than 0, or past its last, where it is not there. */
  const localOf = (one: Clip) => Math.floor((frame.value - one.head) / project.pace(one) + 1e-6)
  /** The clip in hand that a new camera or light is laid over: one of the film's own timeline that is seen. */
  const overWhat = () => {
    const one = clip.value
    const own = one && project.project!.tracks.find((track) => track.id === one.track)?.within == null
    return one && own && !['camera', 'light', 'sound', 'treatment'].includes(one.content.kind) ? one.id : null
  }
  const isOver = (one: Clip) => localOf(one) >= 0 && localOf(one) < one.length

  /** As far as the frame after the last, where something is put at the film's end. */
  function goTo(target: number) {
    if (!playing.value) moved.value += 1
    playing.value = false
    frame.value = Math.min(Math.max(Math.round(target), 0), project.length)
  }

  /** To a frame of a clip. */
  const goIn = (one: Clip, at: number) => goTo(Math.ceil(project.filmFrame(one, at) - 1e-6))

  /** To the middle of a clip's stay, unless the playhead is in its stay already. */
  function goToStay(one: Clip) {
    const drawn = project.courses[one.id]
    const [arrival, departure] = drawn ? [drawn.arrival.frames, drawn.departure.frames] : [one.arrival, one.departure]
    const at = localOf(one)
    if (at < arrival || at >= one.length - departure) goIn(one, arrival + Math.floor((one.length - arrival - departure) / 2))
  }

  /** The step whose row is open. */
  const openStep = computed(() => clip.value?.steps.find((step) => step.id === openRow.value)?.id ?? null)

  /** The step a mask is being drawn for, corner by corner on the picture; or a shape of its own. */
  const drawing = ref<{ clip: string; step: string } | 'shape' | null>(null)
  /** The form of a shape that the next drag on the picture draws. */
  const shaping = ref<Exclude<ShapeForm, 'outline'> | null>(null)

  /** Waits for a colour taken from the Preview. */
  /** A move whose framings are shown on the whole picture. */
  const framed = ref<{ clip: string; step: string; done: number } | null>(null)
  /** A point of the picture that is asked for, in px of the film's frame. */
  const picking = ref<{ says: string; done: (at: [number, number]) => void } | null>(null)
  /** The working view: the space of the film, looked at from elsewhere than its camera. */
  const around = ref(false)
  const dropper = ref<((colour: string) => void) | null>(null)

  /** How often something was taken in hand, or was made to be. */
  let picks = 0
  function pick(ids: string[]) {
    picks += 1
    const unchanged = ids.at(-1) === selected.value
    picked.value = [...new Set(ids)]
    if (unchanged) return
    typing.value = false
    drawing.value = null
    shaping.value = null
    openRow.value = null
    beside.value = null
    keys.value = keys.value.filter((each) => ids.includes(each.clip))
  }

  const select = (id: string | null) => pick(id ? [id] : [])
  /** Into the hand, or out of it. */
  const toggle = (id: string) => pick(picked.value.includes(id) ? picked.value.filter((each) => each !== id) : [...picked.value, id])

  /** What is being made is taken in hand as soon as it is there, unless something else is until then, or is made after it. */
  function takeUp(ids: string[], then?: (there: string[]) => void) {
    picks += 1
    const own = picks
    const stop = watch(() => project.project?.clips, (clips) => {
      const there = ids.filter((id) => clips?.[id])
      if (!there.length) return
      stop()
      if (picks !== own) return
      pick(there)
      then?.(there)
    })
    setTimeout(stop, 10_000)
  }

  function chooseKey(one: ChosenKey, more = false) {
    const there = keys.value.some((each) => sameKey(each, one))
    keys.value = more ? (there ? keys.value.filter((each) => !sameKey(each, one)) : [...keys.value, one]) : [one]
  }

  function kindOf(kind: string): KindInfo | undefined {
    return catalogue.value?.steps.find((each) => each.kind === kind)
  }

  const patternOf = (clip: Clip) => (clip.content.kind === 'generated' ? catalogue.value?.patterns.find((each) => each.kind === (clip.content as { pattern: string }).pattern) : undefined)
  /** Everything that can be set of a clip's content. */
  const contentOf = (clip: Clip) => patternOf(clip)?.parameters ?? catalogue.value?.content[clip.content.kind] ?? []

  watch(playing, (now) => { if (!now) speed.value = 1 })
  watch(() => [clip.value, project.project], () => { if (selected.value) project.need([selected.value]) })
  /** Of what is in hand only what passes stays there. */
  function keepInHand(passes: (id: string) => unknown) {
    if (!picked.value.every(passes)) picked.value = picked.value.filter(passes)
  }
  // What is being made is taken in hand before it is there: the answer to an edit before it must not take it away. Where
  // it was refused it is let go of when all edits are answered.
  watch(() => project.project?.clips, (now, before) => keepInHand((id) => !now || now[id] || !before?.[id]))
  watch(() => project.saveState === 'saved', (saved) => { if (saved) keepInHand((id) => project.project?.clips[id]) })

  /** What a group holds is out of sight, and out of hand, once it is closed. */
  watch(() => project.openGroups, () => {
    const shown = new Set(project.clips.map((each) => each.id))
    keepInHand((id) => shown.has(id))
  })

  return {
    catalogue, loadCatalogue, frame, moved, touching, taps, playing, cached, speed, loop, picked, openRow, tray, typing, coming, held, parted, reference, sheet, films, framing, commanding, keys, beside, trying, now, openSpan, copied, guides, snapping,
    speeds, trail, selected, clip, clips, openStep, drawing, shaping, dropper, framed, picking, around, course, key, range, local, localOf, isOver, overWhat, goTo, goIn, goToStay, pick, takeUp, select, toggle, chooseKey, kindOf, patternOf, contentOf,
  }
})
