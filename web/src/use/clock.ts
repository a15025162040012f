/** The clock of a run: which frame of the film is due, counted from when the run began to show. */

export interface Run {
  /** The film's frame the run begins at. */
  from: number
  first: number
  last: number
  /** Frames of the film a frame shown: below 0 backwards. */
  speed: number
  loops: boolean
}

/** How many frames a run has, played to its end. */
export function framesOf({ from, first, last, speed }: Run): number {
  return Math.floor((speed > 0 ? last - from : from - first) / Math.abs(speed)) + 1
}

/** The film's frame at a place in the run; null past its end. */
export function frameAt({ from, first, last, speed, loops }: Run, place: number): number | null {
  const span = last - first + 1
  const along = from - first + place * speed
  const frame = first + (loops ? ((along % span) + span) % span : along)
  return frame > last || frame < first ? null : frame
}

/** Whole frames since the run began. A late frame holds the clock, so that none is skipped for it. */
export class RunClock {
  private began = 0

  constructor(private readonly rate: () => number) {}

  start(now: number) {
    this.began = now
  }

  due(now: number): number {
    return Math.floor(((now - this.began) / 1000) * this.rate() + 1e-9)
  }

  hold() {
    this.began += 1000 / this.rate()
  }
}
