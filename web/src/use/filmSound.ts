/** What is heard while the film plays: mixed by the service, scheduled on the sound clock, which the picture follows. */
import { frameAt, type Run } from './clock'
import type { Levels } from '../api/client'

/** Frames of the film asked for at a time, seconds that lie ready ahead, and the pause before the first sample. */
const AT_ONCE = 50
const AHEAD = 1.5
const LEAD = 0.08
/** Seconds that are heard of a frame the playhead is put on. */
const TOUCH = 0.09

interface Stretch { frame: number; frames: number; shown: number }

export class FilmSound {
  private context: AudioContext | null = null
  private sources = new Set<AudioBufferSourceNode>()
  private run: Run | null = null
  private serial = 0
  private origin = 0
  /** Place in the run up to which sound lies ready. */
  private reached = 0
  private timer = 0
  private first: AudioBuffer | null = null
  private touching = false
  private touched: number | null = null
  /** What the meters show, by frame of the film. */
  private shown = new Map<number, [number, number, number]>()

  constructor(
    private readonly address: (what: 'sound' | 'levels', first: number, frames: number) => string,
    private readonly rate: () => number,
  ) {}

  get playing() { return this.origin > 0 }

  /** Momentary and short-term loudness and peak at a frame that lies ready. */
  levelAt(frame: number): [number, number, number] | null { return this.shown.get(frame) ?? null }

  /** The stretch of the film from a place of the run on that is heard in one piece: faster than it is, or backwards. */
  private stretch(place: number): Stretch | null {
    const { speed, first, last } = this.run!
    const from = frameAt(this.run!, place)
    if (from === null) return null
    const pace = Math.abs(speed)
    const room = speed > 0 ? last - from + 1 : from - first + 1
    const shown = Math.max(1, Math.min(AT_ONCE, Math.floor(room / pace)))
    const frames = Math.min(room, shown * pace)
    return { frame: speed > 0 ? from : from - frames + 1, frames, shown }
  }

  private async fetched(place: number): Promise<{ buffer: AudioBuffer; shown: number } | null> {
    const part = this.stretch(place)
    if (!part) return null
    const [answer, levels] = await Promise.all([fetch(this.address('sound', part.frame, part.frames)), fetch(this.address('levels', part.frame, part.frames))])
    if (!answer.ok) return null
    if (levels.ok) {
      const found = (await levels.json()) as Levels
      if (this.shown.size > 3000) this.shown.clear()
      found.momentary.forEach((each, i) => this.shown.set(part.frame + i, [each, found.short_term[i], found.peak[i]]))
    }
    const buffer = await this.context!.decodeAudioData(await answer.arrayBuffer())
    if (this.run!.speed < 0) for (let side = 0; side < buffer.numberOfChannels; side++) buffer.getChannelData(side).reverse()
    return { buffer, shown: part.shown }
  }

  private async awake(): Promise<boolean> {
    this.context ??= new AudioContext({ sampleRate: 48000, latencyHint: 'interactive' })
    // A page that may not be heard yet never answers.
    await Promise.race([this.context.resume(), new Promise((go) => setTimeout(go, 400))])
    return this.context.state === 'running'
  }

  /** Get the first stretch ready; false where nothing can be heard here. */
  async prepare(run: Run): Promise<boolean> {
    this.stop()
    this.touched = null
    const own = ++this.serial
    try {
      if (!(await this.awake())) return false
      this.run = run
      const found = await this.fetched(0)
      if (own !== this.serial || !found) return false
      this.first = found.buffer
      this.reached = found.shown
      return true
    } catch {
      return false
    }
  }

  /** Begin; what lies ready is heard at once, the rest is asked for as it goes. Gives the moment of the first frame, in ms of `now`. */
  begin(): number {
    this.origin = this.context!.currentTime + LEAD
    this.schedule(this.first!, 0)
    const own = this.serial
    const pump = async () => {
      while (own === this.serial && this.origin && this.origin + this.reached / this.rate() < this.context!.currentTime + AHEAD) {
        const place = this.reached
        const part = this.stretch(place)
        if (!part) return
        const found = await this.fetched(place).catch(() => null)
        if (own !== this.serial || !this.origin) return
        if (found) this.schedule(found.buffer, place)
        // What could not be had is asked for again until it would be heard; then the film goes on without it.
        else if (this.origin + (place + part.shown) / this.rate() > this.context!.currentTime) break
        this.reached = place + part.shown
      }
      if (own === this.serial) this.timer = window.setTimeout(() => void pump(), 200)
    }
    void pump()
    return this.origin * 1000
  }

  /** The sound clock, in ms, as far as it has left the loudspeaker. */
  now(): number {
    return (this.context!.currentTime - (this.context!.outputLatency || 0)) * 1000
  }

  private schedule(buffer: AudioBuffer, place: number) {
    const source = this.context!.createBufferSource()
    const pace = Math.abs(this.run!.speed)
    source.buffer = buffer
    source.playbackRate.value = pace
    source.connect(this.context!.destination)
    const at = this.origin + place / this.rate()
    const late = this.context!.currentTime - at
    // What comes late is heard from where it would be by now: it never moves what follows.
    if (late < buffer.duration / pace) source.start(Math.max(at, this.context!.currentTime), Math.max(0, late) * pace)
    this.keep(source)
  }

  private keep(source: AudioBufferSourceNode) {
    this.sources.add(source)
    source.onended = () => this.sources.delete(source)
  }

  /** A touch of what is heard at a frame, while the playhead is moved. The newest wish counts. */
  async touch(frame: number) {
    this.touched = frame
    if (this.touching || this.playing) return
    this.touching = true
    try {
      while (this.touched !== null && !this.playing) {
        if (!(await this.awake())) break
        const at: number | null = this.touched
        if (at === null) break
        this.touched = null
        const answer = await fetch(this.address('sound', at, Math.ceil(TOUCH * this.rate())))
        if (!answer.ok || this.playing) break
        const buffer = await this.context!.decodeAudioData(await answer.arrayBuffer())
        const source = this.context!.createBufferSource()
        const soft = this.context!.createGain()
        const now = this.context!.currentTime
        source.buffer = buffer
        soft.gain.setValueAtTime(0, now)
        soft.gain.linearRampToValueAtTime(1, now + 0.008)
        soft.gain.setValueAtTime(1, now + TOUCH - 0.02)
        soft.gain.linearRampToValueAtTime(0, now + TOUCH)
        source.connect(soft).connect(this.context!.destination)
        source.start(now, 0, TOUCH)
        this.keep(source)
        await new Promise((go) => setTimeout(go, TOUCH * 600))
      }
    } catch { /* Nothing is heard of this frame; the next one asks again. */ }
    this.touching = false
  }

  stop() {
    this.serial += 1
    clearTimeout(this.timer)
    this.origin = 0
    this.first = null
    for (const source of this.sources) { try { source.stop() } catch { /* It had not begun. */ } }
    this.sources.clear()
  }

  close() {
    this.stop()
    void this.context?.close()
  }
}
