/** Everything that can be done without the mouse: the one table of commands, of which shortcuts, sheet and command line are made. */
import { computed } from 'vue'
import { answered, api, said, type Clip, type CopiedKey, type Edit } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { besideEases } from './beside'
import { newId, useEdits } from './edits'
import { speedOf } from './speed'
import { canOpen } from './opened'
import { useLook } from './look'
import { useNewShape } from './newShape'
import { useNewTitle } from './newTitle'
import { propertyOf } from './properties'
import { useView } from './view'
import { ownClipboard, usePasted } from './pasted'
import { useKept } from './kept'
import { inText } from './wording'

export interface Command {
  /** What it does, in words; also what the command line finds it by. */
  does: string
  keys?: string
  /** Other keys that do the same. */
  orKeys?: string
  also?: string
  /** Whether it can be done now, and what it needs where it can't. */
  can?: () => boolean
  why?: string
  /** `typed` is what follows the command's words on the command line. */
  run: (typed?: string) => void
  /** What may be typed after it, as an example. */
  takes?: string
  whileTyping?: boolean
  /** The browser says when its keys are pressed, by an event of its own. */
  native?: boolean
}

export function useCommands() {
  const desk = useDesk()
  const project = useProject()
  const { tall } = useLook()
  const edits = useEdits()
  const view = useView()
  const made = useNewTitle()
  /** What was copied last, in whichever film. */
  const taken = useKept<{ film: string; clips: string[] }>('taken-clips', { film: '', clips: [] })
  const shapes = useNewShape()

  const some = () => desk.picked.length > 0
  const one = () => desk.clip !== null
  const titles = () => desk.clips.some((clip) => clip.content.kind === 'text')
  const footage = () => desk.clip?.content.kind === 'footage'
  const runs = () => footage() || desk.clip?.content.kind === 'sound'
  const pictured = () => ['footage', 'still', 'group', 'treatment'].includes(desk.clip?.content.kind ?? '')
  const keysInHand = () => desk.keys.length > 0
  const lastFrame = () => Math.max(0, project.length - 1)

  /** A time as typed, read by the service; the frames it says. */
  async function frames(typed: string | undefined, now: number, then: (value: number) => void) {
    if (!typed?.trim()) return
    try {
      then((await answered(api.GET('/api/projects/{project_id}/frames', { params: { path: { project_id: project.id }, query: { typed, now } } }))).frames)
    } catch (error) {
      project.problem = said(error)
    }
  }

  function shuttle(direction: 1 | -1) {
    const on = desk.playing && Math.sign(desk.speed) === direction
    desk.speed = on ? Math.min(Math.max(desk.speed * 2, -8), 8) : direction
    desk.playing = true
  }

  function leave() {
    if (desk.commanding) desk.commanding = false
    else if (desk.sheet) desk.sheet = false
    else if (desk.films) desk.films = false
    else if (desk.dropper) desk.dropper = null
    else if (desk.picking) desk.picking = null
    else if (desk.framed) desk.framed = null
    else if (desk.coming && !desk.coming.left) desk.coming.left = true
    else if (desk.typing) desk.typing = false
    else if (desk.beside) desk.beside = null
    else if (desk.openSpan) view.closeSpan()
    else if (desk.around) desk.around = false
    else if (desk.keys.length) desk.keys = []
    else if (desk.tray) desk.tray = null
    else desk.select(null)
  }

  function remove(close: boolean) {
    if (desk.keys.length && !close) {
      edits.removeKeys(desk.keys)
      desk.keys = []
    } else if (some()) {
      edits.removeClips(desk.picked, close)
      desk.select(null)
    }
  }

  function copy() {
    ownClipboard()
    if (desk.keys.length) desk.copied = { clips: [], keys: copiedKeys() }
    else {
      desk.copied = { clips: desk.clips, keys: [] }
      taken.value = { film: project.id, clips: desk.picked }
    }
  }

  function copiedKeys(): CopiedKey[] {
    const found = desk.keys.flatMap((ref) => {
      const clip = project.project!.clips[ref.clip]
      const step = clip?.steps.find((each) => each.id === ref.step)
      const property = clip && propertyOf(clip, ref)
      const drawn = project.courses[ref.clip]?.curves.find((each) => each.step === ref.step && each.name === ref.name)
      const at = drawn?.keys.find((each) => each[2] === ref.key)
      const key = property?.state === 'moving' ? property.keys.find((each) => each.id === ref.key) : undefined
      return clip && at && key ? [{ step: ref.step, step_kind: step?.kind ?? null, name: ref.name, after: Math.round(project.filmFrame(clip, at[0])), value: key.value, ease: key.ease }] : []
    })
    const first = Math.min(...found.map((each) => each.after))
    return found.map((each) => ({ ...each, after: each.after - first }))
  }

  function paste() {
    if (desk.copied.keys.length) edits.pasteKeys(desk.picked, desk.copied.keys, desk.frame)
    else if (taken.value.film !== project.id && taken.value.clips.length) void pasteTaken()
    else if (desk.copied.clips.length) desk.takeUp(edits.paste(desk.copied.clips))
  }

  /** Lines of text from elsewhere: each becomes a title, one after the other from the playhead on; what stands after a tab is its second line. */
  function pasteLines(text: string) {
    const lines = text.split(/\r?\n/).map((line) => line.split('\t').map((part) => part.trim().slice(0, 10_000)).filter(Boolean)).filter((parts) => parts.length).slice(0, 200)
    if (!lines.length) return
    const lasts = Math.round(4 * project.rate)
    const ids = lines.map(newId)
    const titles = lines.flatMap(([line, below], n) => [
      { kind: 'add_title' as const, clip: ids[n], frame: desk.frame + n * lasts, text: line },
      ...(below ? [{ kind: 'add_second_line' as const, clip: ids[n], new: newId(), text: below }] : []),
    ])
    edits.put(titles.length === 1 ? titles[0] : { kind: 'several', label: `add ${lines.length} titles`, edits: titles })
    desk.takeUp(ids)
  }
  usePasted((text) => (text === null ? paste() : pasteLines(text)))

  /** Clips copied in another film, with their pictures and sounds. */
  async function pasteTaken() {
    try {
      const { film, clips } = taken.value
      const ensemble = await answered(api.GET('/api/projects/{project_id}/taken', { params: { path: { project_id: film }, query: { clips } } }))
      const seed = newId()
      edits.put({ kind: 'use_ensemble', ensemble, frame: desk.frame, seed, length: null, fills: {} })
      desk.takeUp([`${seed}-1`])
    } catch (error) { project.problem = said(error) }
  }

  function nudge(by: number) {
    if (desk.keys.length) edits.shiftKeys(desk.keys, by)
    else if (some()) edits.nudge(Object.fromEntries(desk.clips.map((clip) => [clip.id, clip.head + by * project.pace(clip)])))
  }

  /** An end of every clip in hand to the playhead, as one act. */
  function trimTo(end: 'head' | 'tail', ripple: boolean) {
    const ends = desk.clips.map((clip) => {
      const { id, head, length } = clip
      const at = desk.localOf(clip)
      return end === 'head' ? { id, head: project.filmFrame(clip, at), length: length - at } : { id, head, length: at }
    })
    edits.trim(ends.filter((each) => each.length > 0), null, ripple)
  }

  /** The next or the previous clip in order of time, on the same track if there is a clip in hand. */
  function step(direction: 1 | -1) {
    const order = project.clips.filter((clip) => !desk.clip || clip.track === desk.clip.track)
    const place = order.findIndex((clip) => clip.id === desk.selected)
    const next = order[place < 0 ? (direction > 0 ? 0 : order.length - 1) : place + direction]
    if (next) desk.select(next.id)
  }

  function stepTrack(direction: 1 | -1) {
    const tracks = project.tracks
    const at = tracks.findIndex((track) => track.id === desk.clip?.track)
    for (let i = at + direction; i >= 0 && i < tracks.length; i += direction) {
      const on = project.clips.filter((clip) => clip.track === tracks[i].id)
      if (!on.length) continue
      const distance = (clip: Clip) => Math.max(clip.head - desk.frame, desk.frame - project.endOf(clip), 0)
      return desk.select(on.reduce((a, b) => (distance(b) < distance(a) ? b : a)).id)
    }
  }

  /** The frames of the hits of the sound in hand, so that one can go from hit to hit and cut there. */
  function hits(): number[] {
    const clip = desk.clip
    return clip ? (project.courses[clip.id]?.hits ?? []).map(([at]) => Math.floor(clip.head + at + 1e-6)).filter((frame) => frame > clip.head) : []
  }

  function edge(direction: 1 | -1) {
    const all = project.clips.flatMap((clip) => [Math.round(clip.head), Math.round(project.endOf(clip))]).concat(project.marks.markers.map((each) => each.frame), hits())
    const beyond = all.filter((frame) => (frame - desk.frame) * direction > 0)
    if (beyond.length) desk.goTo(direction > 0 ? Math.min(...beyond) : Math.max(...beyond))
  }

  /** Ride with the lowest shot under the clip's head, or with nothing again. */
  function ride() {
    const clip = desk.clip!
    if (clip.rides) return edits.ride(desk.picked, null)
    const shots = project.clips.filter((each) => each.content.kind === 'footage' && !desk.picked.includes(each.id) && each.head <= clip.head && clip.head < each.head + each.length)
    if (shots.length) edits.ride(desk.picked, shots.at(-1)!.id)
    else project.problem = `No shot lies under the head of “${clip.name}”; there is nothing to ride with.`
  }

  function transit(kind: 'dissolve' | 'dip' | 'wipe' | 'ellipse' | 'rectangle' | 'slide', typed?: string) {
    const clip = desk.clip!
    const end = Math.abs(desk.frame - clip.head) <= Math.abs(desk.frame - project.endOf(clip)) ? 'opening' : 'closing'
    if (!typed?.trim()) return edits.transition(clip.id, end, { kind, length: 12 }, undefined, true)
    void frames(typed, 0, (length) => edits.transition(clip.id, end, { kind, length }))
  }

  function toggleRange(end: 'first' | 'last') {
    const { first, last } = project.range
    if (end === 'first') edits.range(desk.frame, last != null && last < desk.frame ? null : last ?? null)
    else {
      // The range ends where the playhead stands, as a clip does.
      const end = Math.max(0, desk.frame - 1)
      edits.range(first != null && first > end ? null : first ?? null, end)
    }
  }

  function addKeyHere() {
    const placement = desk.clip?.steps.find((each) => each.kind === 'placement')
    if (placement) edits.keyPlacement(desk.clip!.id, placement.id)
  }

  const table: Command[] = [
    { keys: 'Space', does: 'Play or pause', run: () => { desk.playing = !desk.playing } },
    { keys: 'Ctrl+Space', does: 'Play or pause while typing', whileTyping: true, run: () => { desk.playing = !desk.playing } },
    { keys: 'L', does: 'Play on; again: faster', run: () => shuttle(1) },
    { keys: 'K', does: 'Pause', run: () => { desk.playing = false } },
    { keys: 'J', does: 'Play backwards; again: faster', run: () => shuttle(-1) },
    { keys: 'ArrowRight', does: 'One frame on', run: () => desk.goTo(desk.frame + 1) },
    { keys: 'ArrowLeft', does: 'One frame back', run: () => desk.goTo(desk.frame - 1) },
    { keys: 'Shift+ArrowRight', does: 'One second on', run: () => desk.goTo(desk.frame + project.rate) },
    { keys: 'Shift+ArrowLeft', does: 'One second back', run: () => desk.goTo(desk.frame - project.rate) },
    { keys: 'Home', does: 'To the start', run: () => desk.goTo(0) },
    { keys: 'End', does: 'To the last frame', run: () => desk.goTo(lastFrame()) },
    { keys: 'PageDown', does: 'To the next cut or marker', run: () => edge(1) },
    { keys: 'PageUp', does: 'To the previous cut or marker', run: () => edge(-1) },
    { does: 'Go to', also: 'time frame playhead', takes: '2:00', run: (typed) => frames(typed, desk.frame, (frame) => desk.goTo(frame)) },
    { keys: 'I', does: 'In: the range begins here', run: () => toggleRange('first') },
    { keys: 'O', does: 'Out: the range ends here', run: () => toggleRange('last') },
    { keys: 'Shift+O', does: 'No range', run: () => edits.range(null, null) },
    { keys: 'Shift+L', does: 'Loop on or off', run: () => { desk.loop = !desk.loop } },
    { keys: 'M', does: 'Marker here', takes: 'a name', run: (typed) => edits.marker(`m-${crypto.randomUUID().slice(0, 8)}`, desk.frame, typed?.trim() ?? '') },
    { keys: 'Shift+M', does: 'Remove the marker here', run: () => { for (const each of project.marks.markers) if (each.frame === desk.frame) edits.removeMarker(each.id) } },

    { keys: 'Ctrl+ArrowDown', does: 'The next clip on the track', run: () => step(1) },
    { keys: 'Ctrl+ArrowUp', does: 'The previous clip on the track', run: () => step(-1) },
    { keys: 'ArrowDown', does: 'The clip on the track below', run: () => stepTrack(1) },
    { keys: 'ArrowUp', does: 'The clip on the track above', run: () => stepTrack(-1) },
    { keys: 'Ctrl+A', does: 'All clips', run: () => desk.pick(project.clips.map((clip) => clip.id)) },
    { keys: 'Shift+A', does: 'All titles', run: () => desk.pick(project.clips.filter((clip) => clip.content.kind === 'text').map((clip) => clip.id)) },
    { keys: 'Enter', does: 'Type into the title', can: () => desk.clip?.content.kind === 'text', run: () => { desk.typing = true } },
    { keys: 'T', does: 'Add a title', run: made.addTitle },
    { keys: 'Shift+T', does: 'Add a second line', also: 'subtitle below other way', can: () => desk.clip?.content.kind === 'text', run: () => made.addSecondLine(desk.clip!.id) },
    ...(['rectangle', 'ellipse', 'polygon', 'star', 'line'] as const).map((form) => ({ does: `Add a shape: ${form}`, also: 'draw vector graphic', run: () => shapes.add(form) })),
    { does: 'Draw a shape corner by corner', also: 'pen bezier outline path', run: () => { desk.drawing = 'shape' } },
    { does: 'Add a camera', also: 'depth 3d space view lens', run: () => desk.takeUp([edits.addCamera(desk.overWhat())]) },
    ...(['spot', 'point', 'everywhere'] as const).map((sort) => ({ does: sort === 'everywhere' ? 'Add light everywhere' : sort === 'spot' ? 'Add a spot light' : 'Add a light to all sides', also: 'lamp lighting shadow depth 3d space', run: () => desk.takeUp([edits.addLight(desk.overWhat(), sort)]) })),
    { keys: 'A', does: 'Look around in space, or back to the picture alone', also: 'working view orbit depth camera planes', run: () => { desk.around = !desk.around } },
    { keys: 'U', does: 'Add a treatment', also: 'adjustment look over all below', run: () => desk.takeUp([edits.addTreatment()]) },
    { keys: 'B', does: 'Gather into a group', also: 'nest combine', can: () => desk.picked.length > 1, run: () => {
      const id = newId()
      edits.gather(desk.picked, id, 'Group')
      desk.takeUp([id])
    } },
    { does: 'Open the group in place, or close it', also: 'enter inside', keys: 'Shift+B', can: () => desk.clip !== null && canOpen(desk.clip), run: () => project.openGroup(desk.clip!.id) },
    { does: 'Take the group apart', also: 'ungroup', why: 'a group in hand that has no steps', can: () => desk.clip?.content.kind === 'group' && !desk.clip.steps.some((step) => step.on), run: () => edits.takeApart(desk.clip!.id) },
    ...(['each', 'treatment', 'drop'] as const).map((steps) => ({ does: `Take the group apart, ${steps === 'each' ? 'its steps on each clip' : steps === 'treatment' ? 'its steps on a treatment' : 'without its steps'}`, also: 'ungroup', why: 'a group in hand that has steps', can: () => desk.clip?.content.kind === 'group' && desk.clip.steps.some((step) => step.on), run: () => edits.takeApart(desk.clip!.id, steps) })),
    { does: 'Add a track', run: () => edits.addTrack(0) },
    { keys: 'X', does: 'Cut in two at the playhead', also: 'split razor divide', run: () => {
      const across = project.clips.filter((clip) => clip.head < desk.frame && desk.frame < project.endOf(clip))
      const wanted = across.filter((clip) => desk.picked.includes(clip.id))
      const clips = (wanted.length ? wanted : across).map((clip) => clip.id)
      if (clips.length) edits.split(clips, desk.frame)
    } },
    { keys: 'Shift+X', does: 'Cut the clip under the pointer in two there', can: () => view.pointer.frame !== null, run: () => {
      const { frame, clip } = view.pointer
      if (frame !== null && clip) edits.split([clip], frame)
    } },
    { does: 'Make whole again', also: 'cut half arrival departure', can: some, run: () => edits.makeWhole(desk.picked) },
    { keys: 'Q', does: 'Head to the playhead', can: one, run: () => trimTo('head', false) },
    { keys: 'W', does: 'Tail to the playhead', can: one, run: () => trimTo('tail', false) },
    { keys: 'Shift+Q', does: 'Head to the playhead, and the rest moves up', also: 'ripple trim', can: one, run: () => trimTo('head', true) },
    { keys: 'Shift+W', does: 'Tail to the playhead, and the rest moves along', also: 'ripple trim', can: one, run: () => trimTo('tail', true) },
    { keys: 'Ctrl+ArrowRight', does: 'What is in hand one frame later', run: () => nudge(1) },
    { keys: 'Ctrl+ArrowLeft', does: 'What is in hand one frame earlier', run: () => nudge(-1) },
    { keys: 'Ctrl+Shift+ArrowRight', does: 'What is in hand ten frames later', run: () => nudge(10) },
    { keys: 'Ctrl+Shift+ArrowLeft', does: 'What is in hand ten frames earlier', run: () => nudge(-10) },
    { does: 'Move to', also: 'place head at', takes: '12:00', can: one, run: (typed) => frames(typed, Math.round(desk.clip!.head), (head) => edits.nudge({ [desk.clip!.id]: head })) },
    { does: 'Move to the track above', can: some, run: () => moveTracks(-1) },
    { does: 'Move to the track below', can: some, run: () => moveTracks(1) },
    { does: 'Shorter by', also: 'length trim all', takes: '1s', can: some, run: (typed) => frames(typed, 0, (by) => edits.stretch(desk.picked, -by)) },
    { does: 'Longer by', also: 'length all', takes: '12f', can: some, run: (typed) => frames(typed, 0, (by) => edits.stretch(desk.picked, by)) },
    { does: 'Slip to source frame', takes: '50', can: footage, why: 'a shot in hand', run: (typed) => frames(typed, 0, (start) => edits.slip(desk.clip!.id, start)) },
    { does: 'Speed', also: 'slow fast', takes: '50', can: runs, why: 'a shot or a sound in hand', run: (typed) => { if (Number(typed)) edits.speed(desk.clip!.id, Number(typed) / 100, 'part', desk.local) } },
    { does: 'Backwards', also: 'reverse', can: footage, why: 'a shot in hand', run: () => edits.speed(desk.clip!.id, desk.clip!.content.kind === 'footage' ? -speedOf(desk.clip!.content) || -1 : -1, 'part', desk.local) },
    { does: 'Freeze this frame', also: 'hold still', can: footage, why: 'a shot in hand', run: () => edits.speed(desk.clip!.id, 0, 'length', desk.local) },
    { keys: 'Delete', does: 'Remove what is in hand', can: () => some() || keysInHand(), run: () => remove(false) },
    { keys: 'Shift+Delete', does: 'Remove and close the gap', also: 'ripple delete', can: some, run: () => remove(true) },
    { keys: 'D', does: 'Duplicate', can: some, run: () => desk.takeUp(edits.duplicate(desk.picked)) },
    { keys: 'Ctrl+C', does: 'Copy', can: () => some() || keysInHand(), run: copy },
    { keys: 'Ctrl+X', does: 'Cut to the clipboard', can: () => some() || keysInHand(), run: () => { copy(); remove(false) } },
    { keys: 'Ctrl+V', native: true, does: 'Paste at the playhead; lines of text become titles', also: 'clipboard insert', run: paste },
    { keys: 'H', does: 'Hide or show', can: some, run: () => edits.seen(desk.picked, desk.clip!.seen === 'hidden' ? 'shown' : 'hidden') },
    { keys: 'Shift+H', does: 'See alone, or with the rest', also: 'solo', can: some, run: () => edits.seen(desk.picked, desk.clip!.seen === 'alone' ? 'shown' : 'alone') },
    { keys: 'R', does: 'Ride with the shot below, or not', can: one, run: ride },
    { keys: 'Z', does: 'Dissolve at the nearer end', also: 'transition cross dissolve', takes: '12f', can: one, run: (typed) => transit('dissolve', typed) },
    ...(['dip', 'wipe', 'ellipse', 'rectangle', 'slide'] as const).map((kind) => (
      { does: `${kind[0].toUpperCase()}${kind.slice(1)} at the nearer end`, also: kind === 'ellipse' || kind === 'rectangle' ? 'iris transition' : 'transition', takes: '12f', can: one, run: (typed?: string) => transit(kind, typed) })),
    { keys: 'Shift+Z', does: 'Plain cut at the nearer end', can: one, run: () => {
      const clip = desk.clip!
      edits.transition(clip.id, Math.abs(desk.frame - clip.head) <= Math.abs(desk.frame - project.endOf(clip)) ? 'opening' : 'closing', null)
    } },

    { keys: '1', does: 'Soft in, soft out', can: titles, run: () => edits.soften(desk.picked) },
    { keys: '2', does: 'Mirror the arrival to the departure', can: titles, run: () => edits.mirror(desk.picked) },
    { keys: '3', does: 'Slower: arrival and departure half as long again', can: titles, run: () => edits.slower(desk.picked) },
    { keys: '4', does: 'Stronger eases', can: titles, run: () => edits.stronger(desk.picked) },
    { keys: 'Y', does: 'Recipes', also: 'designs templates looks', run: () => { desk.tray = desk.tray === 'recipes' ? null : 'recipes' } },
    { keys: 'Shift+S', does: 'Sounds and loudness', also: 'audio tray lufs whoosh captions', run: () => { desk.tray = desk.tray === 'sound' ? null : 'sound' } },
    { keys: ',', does: 'Tap a beat while it plays: hits of the sound in hand', also: 'tempo rhythm hit', can: () => desk.playing, run: () => { desk.taps.push(desk.frame) } },
    { does: 'Hear frames as the playhead moves, or not', also: 'scrub audio', run: () => { desk.touching = !desk.touching } },
    { keys: 'Shift+Y', does: 'All words', also: 'text tray find replace reading', run: () => { desk.tray = desk.tray === 'text' ? null : 'text' } },
    { does: 'Back to plain', also: 'reset remove recipe', can: titles, run: () => edits.reset(desk.picked) },
    ...(['both', 'look', 'motion'] as const).map((what) => ({
      does: `Carry ${what === 'both' ? 'look and motion' : `the ${what}`} over onto the others in hand`, also: 'copy apply same', can: () => desk.picked.length > 1,
      run: () => edits.carryOver(desk.picked[0], desk.picked, what) })),
    ...(['line', 'word', 'letter', 'all'] as const).map((unit) => ({
      does: unit === 'all' ? 'Move all at once' : `Move ${unit} by ${unit}`, also: 'cascade unit', takes: '4', can: () => titles() && desk.openStep !== null,
      run: (typed?: string) => passOn(unit, typed) })),
    ...(['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const).flatMap((side) => (['frame', 'safe', 'last'] as const).map((to) => ({
      does: `Align to the ${side} of the ${to === 'safe' ? 'safe area' : to === 'last' ? 'first in hand' : 'frame'}`, also: 'stand place', can: () => (to === 'last' ? desk.picked.length > 1 : some()),
      run: () => edits.alignClips([...desk.picked].reverse(), side, to) }))),
    ...(['across', 'down'] as const).map((along) => ({ does: `Distribute evenly ${along}`, also: 'gaps space', can: () => desk.picked.length > 2, run: () => edits.distributeClips(desk.picked, along) })),
    { keys: '5', does: 'Eases side by side', also: 'compare variants', can: () => one() || keysInHand(), run: () => { desk.beside = besideEases(desk, project) } },
    { keys: 'E', does: 'Open the arrival, or close it', can: one, run: () => view.toggleSpan('arrival') },
    { keys: 'Shift+E', does: 'Open the departure, or close it', can: one, run: () => view.toggleSpan('departure') },
    { keys: 'N', does: 'Key the whole placement here', can: one, run: addKeyHere },
    { keys: 'V', does: 'Lanes show values or speed', run: () => { desk.speeds = !desk.speeds } },
    { does: 'Motion path on or off', also: 'trail', run: () => { desk.trail = !desk.trail } },
    { does: 'Distribute keys', can: keysInHand, run: () => edits.distributeKeys(desk.keys) },
    { does: 'Align keys at the playhead', can: keysInHand, run: () => edits.alignKeys(desk.keys, desk.frame) },
    { does: 'Stretch keys to', also: 'percent', takes: '150', can: keysInHand, run: (typed) => { if (Number(typed) > 0) edits.stretchKeys(desk.keys, desk.frame, Number(typed) / 100) } },
    ...(['head', 'tail', 'proportion'] as const).map((end) => ({ does: `Keys count from ${end === 'proportion' ? 'proportion' : `the ${end}`}`, can: keysInHand, run: () => edits.recountKeys(desk.keys, end) })),

    { keys: 'S', does: 'Snapping on or off', run: () => { desk.snapping = !desk.snapping } },
    { does: 'Steps over the full height, or above the timeline', also: 'arrange layout panel', run: () => { tall.value = !tall.value } },
    { keys: 'F', does: 'Fit the whole film', run: () => view.fitAll() },
    { keys: 'Shift+F', does: 'Fit what is in hand', can: some, run: () => view.fitPicked() },
    { keys: '+', does: 'Closer', also: 'zoom in', run: () => view.zoomBy(1.5) },
    { keys: '-', does: 'Further', also: 'zoom out', run: () => view.zoomBy(1 / 1.5) },
    { does: 'Non-drop timecode', also: 'number every frame', can: () => project.numbering.dropped > 0, run: () => edits.renumber(true) },
    { does: 'Drop-frame timecode', also: 'numbers that keep to the clock', can: () => project.settings?.rate.non_drop === true, run: () => edits.renumber(false) },
    { keys: 'G', does: 'Guides on or off', run: () => { desk.guides = !desk.guides } },
    { keys: 'Ctrl+Z', does: 'Undo', run: () => { if (project.history.undo || project.saveState === 'saving') project.undo() } },
    { keys: 'Ctrl+Shift+Z', orKeys: 'Ctrl+Y', does: 'Redo', run: () => { if (project.history.redo) project.redo() } },
    { keys: '/', does: 'Do something by typing its name', run: () => { desk.commanding = true } },
    { keys: '?', does: 'This sheet', run: () => { desk.sheet = !desk.sheet } },
    { keys: 'Escape', does: 'Leave typing, close what is open', whileTyping: true, run: leave },
  ]

  /** What the catalogue holds: steps and their ready motions, moves, looks and generated pictures. */
  const fromCatalogue = computed<Command[]>(() => {
    const { catalogue } = desk
    if (!catalogue) return []
    const why = 'a clip in hand'
    const add = (kind: string, ready: string | null) => () => { desk.openRow = edits.addStep(desk.clip!.id, kind, ready) }
    return [
      ...catalogue.steps.flatMap((each) => [
        { does: `Add the step ${inText(each.label)}`, also: each.synonyms.join(' '), can: one, why, run: add(each.kind, null) },
        ...each.ready.map((ready) => ({ does: `Add the motion ${inText(ready.label)}`, also: ready.synonyms.join(' '), can: one, why, run: add(each.kind, ready.name) })),
      ]),
      ...catalogue.moves.map((each) => ({ does: `Move the camera: ${inText(each.label)}`, also: each.synonyms.join(' '), can: pictured, why: 'a picture in hand',
        run: () => edits.put({ kind: 'use_move' as const, clips: desk.picked, move: each.id, amount: 1, at: null, frame: 0, alternate: false }) })),
      ...catalogue.looks.map((each) => ({ does: `Use the look ${each.name.toLowerCase()}`, also: each.note, can: some, why, run: () => edits.look(desk.picked, each.id) })),
      ...catalogue.patterns.map((each) => ({ does: `Add a generated picture: ${inText(each.label)}`, also: each.synonyms.join(' '), run: () => {
        const id = newId()
        const held = desk.clip && desk.isOver(desk.clip) ? desk.clip : null
        edits.put({ kind: 'add_generated', clip: id, frame: held ? Math.round(held.head) : desk.frame, length: held?.length ?? Math.round(5 * project.rate), pattern: each.kind })
        desk.takeUp([id])
      } })),
    ]
  })
  return { table, fromCatalogue }

  /** The step that is open, passed on from unit to unit so many frames apart. */
  function passOn(unit: 'all' | 'line' | 'word' | 'letter', typed?: string) {
    const step = desk.clip!.steps.find((each) => each.id === desk.openStep)!
    const now = step.units?.arrival ?? { unit, order: 'forward' as const, by: 'delay' as const, delay: 3, overlap: 0.7, seed: 1 }
    edits.units(desk.clip!.id, step.id, { arrival: { ...now, unit, ...(Number(typed) >= 0 && typed?.trim() ? { by: 'delay', delay: Number(typed) } : {}) } })
  }

  function moveTracks(by: number) {
    const order = project.tracks.map((track) => track.id)
    const tracks: Record<string, string> = {}
    for (const clip of desk.clips) {
      const to = order[order.indexOf(clip.track) + by]
      if (!to) return
      tracks[clip.id] = to
    }
    const move: Edit = { kind: 'move_clips', heads: Object.fromEntries(desk.clips.map((clip) => [clip.id, clip.head])), tracks, snap: 0 }
    project.edit(move)
  }
}

/** Keys as an editor reads them. */
export function spelled(keys: string): string {
  const names: Record<string, string> = { ArrowRight: '→', ArrowLeft: '←', ArrowUp: '↑', ArrowDown: '↓', Escape: 'Esc', PageUp: 'Page up', PageDown: 'Page down' }
  return keys.split(/(?<=.)\+/).map((each) => names[each] ?? each).join('+')
}
