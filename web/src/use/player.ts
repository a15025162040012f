/** Showing frames: one wish at a time when paused, a buffered run on a steady clock when playing. */
import { onBeforeUnmount, ref, watch, type Ref } from 'vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { frameAt, framesOf, RunClock, type Run } from './clock'
import { FilmSound } from './filmSound'
import { usePreviewSocket, type PaintedFrame } from './previewSocket'

/** Frames that must wait in the buffer before the clock starts. */
const HEAD_START = 8

/** Milliseconds without a wish after which frames are painted ahead. */
const IDLE = 1000

export function usePlayer(canvas: Ref<HTMLCanvasElement | null>, size: () => { width: number; height: number }) {
  const project = useProject()
  const desk = useDesk()
  const late = ref(0)
  const buffering = ref(false)
  const exact = ref(false)
  /** The frame of the film whose picture is seen, and of which state; -1 before the first. */
  const seen = ref({ frame: -1, revision: -1 })
  /** Motion-blur samples of the frame shown: taken, and wanted. */
  const samples = ref<[number, number]>([0, 0])
  const shownSize = ref({ width: 0, height: 0 })

  let serial = 0
  /** By place in the run; null where a frame could not be painted: the one before it stays. */
  let buffer = new Map<number, ImageBitmap | null>()
  const clock = new RunClock(() => project.rate)
  let clockFrame = 0
  let lastShown = -1
  let ticking = 0
  /** Frames received in this run; it counts on past a loop's end, so that the clock never runs backwards. */
  let arrived = 0
  let drawnSerial = 0

  const sound = new FilmSound((what, first, frames) => `/api/projects/${project.id}/${what}?first=${first}&frames=${frames}&r=${project.revision}`, () => project.rate)
  /** What the meters show at the frame that is heard: loudness of 400 ms and of 3 s, and peak. */
  const level = ref<[number, number, number] | null>(null)
  /** Whether sound is to be heard with this run, and lies ready. */
  let heard: 'no' | 'waiting' | 'ready' = 'no'
  const now = () => (sound.playing ? sound.now() : performance.now())

  const socket = usePreviewSocket(() => project.id, receive, failed, (cached) => { desk.cached = cached }, wish)

  /** Half size while playing, the screen's own size when paused. */
  function playSize() {
    const { width, height } = size()
    const share = Math.min(1, 704 / width)
    return { width: Math.round(width * share), height: Math.round(height * share) }
  }

  function wish() {
    serial += 1
    dropBuffer()
    sound.stop()
    clearTimeout(idle)
    if (desk.playing) startPlaying()
    else socket.say({ kind: 'want', serial, frame: desk.frame, beside: beside(), ...size() })
  }

  let idle: ReturnType<typeof setTimeout> | undefined
  /** After a moment in which nothing is asked for, what will be played is painted. */
  function prefetch() {
    clearTimeout(idle)
    if (beside().length) return
    idle = setTimeout(() => {
      const [first, last] = desk.range
      socket.say({ kind: 'prefetch', frame: desk.frame, first, last, ...playSize() })
    }, IDLE)
  }

  /** What is painted in place of the film: an edit that is tried, or variants side by side. */
  const beside = () => (desk.trying ? [desk.trying.edit] : desk.beside?.variants.map((each) => each.edit) ?? [])
  const looped = () => desk.loop || desk.trying !== null

  function dropBuffer() {
    for (const bitmap of buffer.values()) bitmap?.close()
    buffer = new Map()
  }

  async function receive(painted: PaintedFrame) {
    // Only the newest wish counts: played frames still on their way when paused do not.
    if (painted.serial !== serial) return
    // Decoding may finish out of order: a frame's place is taken when it arrives.
    const place = arrived
    if (desk.playing) arrived += 1
    if (desk.playing) samples.value = painted.samples
    const bitmap = await createImageBitmap(painted.jpeg)
    if (!desk.playing) {
      // Of two pictures of one wish the one painted as exported stays, whichever is decoded first.
      const outdone = drawnSerial === painted.serial && exact.value
      if (painted.serial === serial && !outdone && canvas.value) {
        drawnSerial = painted.serial
        draw(bitmap, painted.frame, painted.revision)
        exact.value = painted.exact
        samples.value = painted.samples
        canvas.value.dataset.exact = String(painted.exact)
        if (painted.exact) prefetch()
      }
      return bitmap.close()
    }
    if (painted.serial !== serial) return bitmap.close()
    buffer.set(place, bitmap)
    begin()
  }

  /** A frame that could not be painted has its moment too, so that all later ones keep theirs. */
  function failed(of: number) {
    if (of !== serial || !desk.playing) return
    buffer.set(arrived, null)
    arrived += 1
    begin()
  }

  function begin() {
    if (buffering.value && heard !== 'waiting' && (buffer.size >= HEAD_START || arrived >= framesOf(run()))) {
      buffering.value = false
      clock.start(heard === 'ready' ? sound.begin() : performance.now())
      lastShown = -1
    }
  }

  function run(): Run {
    const [first, last] = desk.range
    return { from: clockFrame, first, last, speed: desk.speed, loops: looped() }
  }

  function draw(bitmap: ImageBitmap, frame: number, revision: number) {
    const target = canvas.value
    if (!target) return
    if (target.width !== bitmap.width || target.height !== bitmap.height) {
      target.width = bitmap.width
      target.height = bitmap.height
    }
    target.getContext('2d')!.drawImage(bitmap, 0, 0)
    seen.value = { frame, revision }
    target.dataset.frame = String(frame)
    target.dataset.revision = String(revision)
    shownSize.value = { width: bitmap.width, height: bitmap.height }
  }

  function startPlaying() {
    const [first, last] = desk.range
    const forward = desk.speed > 0
    if (forward ? desk.frame >= last || desk.frame < first : desk.frame <= first || desk.frame > last) desk.frame = forward ? first : last
    arrived = 0
    late.value = 0
    clockFrame = desk.frame
    buffering.value = true
    heard = project.heard ? 'waiting' : 'no'
    if (heard === 'waiting') {
      const own = serial
      void sound.prepare(run()).then((ready) => {
        if (own !== serial) return
        heard = ready ? 'ready' : 'no'
        begin()
      })
    }
    socket.say({ kind: 'play', serial, frame: desk.frame, first, last, loop: looped(), step: desk.speed, beside: beside(), ...playSize() })
    cancelAnimationFrame(ticking)
    ticking = requestAnimationFrame(tick)
  }

  function tick() {
    if (!desk.playing) return
    ticking = requestAnimationFrame(tick)
    if (buffering.value) return
    const due = clock.due(now())
    if (due === lastShown || due < 0) return
    const [first, last] = desk.range
    const filmFrame = frameAt(run(), due)
    if (filmFrame === null) {
      desk.frame = desk.speed > 0 ? last : first
      desk.playing = false
      return
    }
    const bitmap = buffer.get(due)
    if (bitmap === undefined) {
      // Late: hold the picture and let the clock wait, but count it.
      late.value += 1
      // Sound goes on: the picture catches up with it.
      if (sound.playing) lastShown = due
      else clock.hold()
      return
    }
    if (bitmap) draw(bitmap, filmFrame, project.revision)
    let passed = 0
    for (const [number, old] of buffer) {
      if (number <= due) {
        old?.close()
        buffer.delete(number)
        passed += 1
      }
    }
    late.value += Math.max(0, passed - 1)
    lastShown = due
    desk.frame = filmFrame
    level.value = sound.levelAt(filmFrame) ?? level.value
    socket.say({ kind: 'shown', count: passed })
  }

  watch(() => desk.playing, (playing) => {
    if (!playing) socket.say({ kind: 'stop' })
    if (!playing) level.value = null
    wish()
  })
  watch(() => desk.frame, () => { if (!desk.playing) wish() })
  watch(() => desk.moved, () => { if (!desk.playing && project.heard && desk.touching) void sound.touch(desk.frame) })
  watch(() => [project.id, desk.beside, desk.trying], wish)
  // At once, before the Desk draws what else has changed: the picture is what an editor waits for.
  watch(() => project.revision, wish, { flush: 'sync' })
  watch(() => [desk.loop, desk.selected, desk.speed, project.range], () => { if (desk.playing) wish() })

  onBeforeUnmount(() => {
    socket.close()
    sound.close()
    cancelAnimationFrame(ticking)
    clearTimeout(idle)
    dropBuffer()
  })

  return { late, buffering, exact, seen, samples, level, shownSize, connect: socket.connect, connected: socket.connected, compiling: socket.compiling, problem: socket.problem, wish }
}
