/** What is heard while the film plays: mixed by the service, scheduled on the sound clock, which the picture follows. */
import { frameAt, type Run } from './clock'

/** Frames asked for at a time, seconds that lie ready ahead, and the pause before the first sample. */
const AT_ONCE = 50
const AHEAD = 1.5
const LEAD = 0.08

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

  constructor(private readonly address: (first: number, frames: number) => string, private readonly rate: () => number) {}

  get playing() { return this.origin > 0 }

  /** The stretch of the film from a place of the run on that is heard in one piece. */
  private stretch(place: number): { frame: number; frames: number } | null {
    const frame = frameAt(this.run!, place)
    return frame === null ? null : { frame, frames: Math.min(AT_ONCE, this.run!.last - frame + 1) }
  }

  private async fetched(place: number): Promise<{ buffer: AudioBuffer; frames: number } | null> {
    const part = this.stretch(place)
    if (!part) return null
    const answer = await fetch(this.address(part.frame, part.frames))
    if (!answer.ok) return null
    return { buffer: await this.context!.decodeAudioData(await answer.arrayBuffer()), frames: part.frames }
  }

  /** Get the first stretch ready; false where nothing can be heard here. */
  async prepare(run: Run): Promise<boolean> {
    this.stop()
    const own = ++this.serial
    try {
      this.context ??= new AudioContext({ sampleRate: 48000, latencyHint: 'interactive' })
      // A page that may not be heard yet never answers.
      await Promise.race([this.context.resume(), new Promise((go) => setTimeout(go, 400))])
      if (this.context.state !== 'running') return false
      this.run = run
      const found = await this.fetched(0)
      if (own !== this.serial || !found) return false
      this.first = found.buffer
      this.reached = found.frames
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
        const found = await this.fetched(place).catch(() => null)
        if (own !== this.serial || !this.origin) return
        if (!found) return
        this.reached = place + found.frames
        this.schedule(found.buffer, place)
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
    source.buffer = buffer
    source.connect(this.context!.destination)
    const at = this.origin + place / this.rate()
    const late = this.context!.currentTime - at
    // What comes late is heard from where it would be by now: it never moves what follows.
    if (late < buffer.duration) source.start(Math.max(at, this.context!.currentTime), Math.max(0, late))
    this.sources.add(source)
    source.onended = () => this.sources.delete(source)
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
