/** How the clips in sight are drawn: which of it is known, of which state, and asking for what is missing. */
import type { Clip, ClipCourse } from '../api/client'
import { passes } from '../api/refused'

/** Clips asked for at once: what is in sight by the time of the answer comes next, however much was in sight before. */
const AT_ONCE = 60
/** Milliseconds until a question is asked again after a failure that passes, or after an answer of another state. */
const AGAIN = { failed: 1000, overtaken: 100 }

interface Film { readonly revision: number; readonly stored: { clips: Record<string, Clip> } | null }

export class Courses {
  /** The clips that courses were made of, and the revisions they were made at. */
  private readonly of = new Map<string, Clip>()
  private readonly at = new Map<string, number>()
  private wanted: string[] = []
  private asking = false

  constructor(
    private readonly film: Film,
    private readonly ask: (clips: string[]) => Promise<{ revision: number; courses: Record<string, ClipCourse> }>,
    private readonly show: (drawn: Record<string, ClipCourse>) => void,
  ) {}

  /** The revision at which a clip's course was made. */
  madeAt = (clip: string) => this.at.get(clip) ?? 0

  keep(drawn: Record<string, ClipCourse>, revision: number) {
    if (!Object.keys(drawn).length) return
    for (const each of Object.keys(drawn)) {
      this.of.set(each, this.film.stored!.clips[each])
      this.at.set(each, revision)
    }
    this.show(drawn)
  }

  /** These are made anew when they are in sight. */
  outdate(clips: string[]) {
    for (const each of clips) this.of.delete(each)
  }

  /** Clips that are in sight now; those that were asked for before and are not among them come after. */
  need(clips: string[]) {
    const newest = new Set(clips)
    this.wanted = [...clips, ...this.wanted.filter((each) => !newest.has(each))].slice(0, 500)
    if (!this.asking) void this.askOn()
  }

  /** The next clips that have no course, or one of an older state. */
  private next(): string[] {
    const clips = this.film.stored?.clips ?? {}
    this.wanted = this.wanted.filter((each) => clips[each] && this.of.get(each) !== clips[each])
    return this.wanted.slice(0, AT_ONCE)
  }

  private async askOn() {
    this.asking = true
    for (let clips = this.next(); clips.length; clips = this.next()) {
      try {
        const answer = await this.ask(clips)
        if (answer.revision === this.film.revision) {
          this.keep(answer.courses, answer.revision)
          this.forget(clips)
        } else await after(AGAIN.overtaken)
      } catch (error) {
        if (passes(error)) await after(AGAIN.failed)
        else this.forget(clips)
      }
    }
    this.asking = false
  }

  private forget(clips: string[]) {
    const asked = new Set(clips)
    this.wanted = this.wanted.filter((each) => !asked.has(each))
  }
}

const after = (milliseconds: number) => new Promise((done) => { setTimeout(done, milliseconds) })
