/**
 * A film as one window has it: what the service acknowledged, and the edits that are on their way.
 *
 * Edits leave one at a time, each with the revision it was made on (`saw`). The service does one made on an older state on
 * the newest, or refuses it with both values: nothing is sent again on a state that nobody has seen. Parts of an answer are
 * as they stand at its revision, so answers and messages may come late, twice or not at all.
 *
 * Everything outside comes by a Wire and goes by a Watcher: this file knows no clock, no network and no screen.
 */
import type { Clip, Conflict, EditAnswer, Edit, Offer, Project, ProjectState } from '../api/client'
import { Refused } from '../api/refused'
import { Locals } from './local'
import { mergedWords } from './words'

export interface Order {
  path: 'edits' | 'undo' | 'redo'
  edit?: Edit
  gesture?: string
  /** Names the order once and for all: sent again, it is not done twice. */
  token: string
  window: string
  /** The revision that was on the screen as it was made. */
  saw: number
  /** How often it was sent and never answered. */
  strikes: number
}

/** How the service is reached. A refusal rejects with Refused, silence with any other error. */
export interface Wire {
  send: (order: Order, revision: number) => Promise<EditAnswer>
  read: () => Promise<ProjectState>
  /** Which run of the service answers; null while none does. */
  alive: () => Promise<string | null>
  pause: () => Promise<void>
}

export type SaveState = 'saved' | 'saving' | 'offline'

/** What a window does with the news. */
export interface Watcher {
  /** All of the film was read. */
  adopted: (state: ProjectState) => void
  /** Parts of the film changed. */
  merged: (answer: EditAnswer) => void
  saving: (state: SaveState) => void
  /** An edit is not done: it does not fit, or (with conflicts) meets what others changed. */
  refused: (order: Order, message: string, conflicts: Conflict[], offer?: Offer) => void
  /** An edit makes the service silent: it is kept, and no longer sent. */
  setAside: (order: Order) => void
  /** What is not acknowledged, in order. */
  unsent: (orders: Order[]) => void
}

/** Refusals that say nothing of the edit: the database is away, the disk is full. It is sent again. */
const LATER = new Set([503, 507])

/** Silence of a service that goes on running, and of one that ended meanwhile; at `MOST` an edit is set aside. */
const SILENT = 1.5
const ENDED = 1
const MOST = 3

export class FilmLine {
  revision = 0
  stored: Project | null = null
  readonly locals = new Locals()
  private waiting: Order[] = []
  private sending: Order | null = null
  private busy = false
  /** The newest revision that the service spoke of. */
  private newest = 0
  /** Gestures that met what others changed: the rest of each is not sent. */
  private ended = new Set<string>()
  /** By clip, the words of this window that the service acknowledged last; and those that are on their way. Both with what
   * others typed meanwhile, as far as this window knows it. */
  private typed = new Map<string, string>()
  private flying = new Map<string, string>()
  /** The run of the service that answered last. */
  private run: string | null = null

  constructor(private readonly wire: Wire, private readonly watcher: Watcher, readonly window: string) {}

  get pending(): Order[] {
    return [...(this.sending ? [this.sending] : []), ...this.waiting]
  }

  open(state: ProjectState) {
    this.stored = null
    this.waiting = []
    this.newest = 0
    this.locals.clear()
    this.ended.clear()
    this.typed.clear()
    this.flying.clear()
    this.adopt(state)
    void this.wire.alive().then((run) => { this.run = run })
  }

  /** The film as this window shows it: acknowledged, and as its own edits on their way leave it. */
  shown(): Project | null {
    return this.stored && this.locals.over(this.stored)
  }

  put(order: Order) {
    if (order.gesture && this.ended.has(order.gesture)) return this.watcher.refused(order, '', [])
    // Within a gesture only the newest edit of a kind matters: one that is not sent yet gives way.
    const last = this.waiting.at(-1)
    if (last && order.gesture && last.gesture === order.gesture && last.edit?.kind === order.edit?.kind) {
      this.waiting.pop()
      this.locals.drop(last.token)
      order = { ...order, saw: Math.min(order.saw, last.saw) }
    }
    if (order.edit) this.locals.add(order.token, order.edit)
    this.waiting.push(order)
    this.watcher.unsent(this.pending)
    void this.work()
  }

  /** An edit of another window, or one that the service made by itself. */
  hear(revision: number, answer: EditAnswer | null) {
    this.newest = Math.max(this.newest, revision)
    if (revision <= this.revision) return
    if (answer && this.merge(answer, answer.token === this.sending?.token)) return
    // While own edits are on their way their answers come first; what was missed is read after them.
    if (!this.busy) void this.reread()
  }

  async reread() {
    const state = await this.wire.read().catch(() => null)
    if (state && state.revision > this.revision) this.adopt(state)
  }

  private adopt(state: ProjectState) {
    this.rebase(state.project.clips, state.revision, false)
    this.stored = state.project
    this.revision = state.revision
    this.newest = Math.max(this.newest, state.revision)
    this.watcher.adopted(state)
  }

  /**
   * Words that are on their way or wait, over words that changed: by others, or (`own`) by the order that is answered. What
   * others changed at the same place stays out of them: the service will see that they did not know it.
   */
  private rebase(clips: Record<string, Clip>, revision: number, own: boolean) {
    for (const [clip, { content }] of Object.entries(clips)) {
      const old = this.stored?.clips[clip]?.content
      if (content.kind !== 'text' || old?.kind !== 'text') continue
      const sent = this.flying.get(clip)
      if (own && sent !== undefined) {
        this.typed.set(clip, sent)
        this.flying.delete(clip)
      }
      if (content.text === old.text) continue
      const base = own && sent !== undefined ? sent : old.text
      if (!own && sent !== undefined) this.flying.set(clip, mergedWords(old.text, sent, content.text) ?? sent)
      this.waiting = this.waiting.map((order) => {
        const { edit } = order
        if (edit?.kind !== 'change_text' || edit.clip !== clip || edit.text == null) return order
        const text = mergedWords(base, edit.text, content.text)
        return text === null ? order : { ...order, saw: revision, edit: { ...edit, text, typed_on: content.text } }
      })
    }
  }

  /** The words of a clip that this window had acknowledged last; undefined where it typed none. */
  typedOn(clip: string): string | undefined {
    return this.typed.get(clip)
  }

  /** Whether the answer goes on from what this window has; `own` says that it is of the order that is on its way. */
  private merge(answer: EditAnswer, own: boolean): boolean {
    if (answer.revision < this.revision) return true
    if (!this.stored || (answer.since !== null && answer.since > this.revision)) return false
    const { change } = answer
    this.rebase(change.clips, answer.revision, own)
    const old = answer.since === null ? { clips: {}, media: {} } : this.stored
    const clips = { ...old.clips, ...change.clips }
    const media = { ...old.media, ...change.media }
    for (const gone of change.clips_gone) delete clips[gone]
    for (const gone of change.media_gone) delete media[gone]
    const { settings, tracks, marks, range } = this.stored
    this.stored = { settings: change.settings ?? settings, tracks: change.tracks ?? tracks, marks: change.marks ?? marks, range: change.range ?? range, clips, media }
    this.revision = answer.revision
    this.watcher.merged(answer)
    return true
  }

  private async work() {
    if (this.busy) return
    this.busy = true
    this.watcher.saving('saving')
    while (this.waiting.length) {
      this.sending = this.waiting.shift()!
      await this.send(this.sending)
      this.sending = null
      this.watcher.unsent(this.pending)
    }
    this.busy = false
    if (this.newest > this.revision) void this.reread()
    this.watcher.saving('saved')
  }

  private async send(order: Order) {
    while (order.strikes < MOST) {
      const { edit } = order
      if (edit?.kind === 'change_text' && edit.text != null) this.flying.set(edit.clip, edit.text)
      try {
        const answer = await this.wire.send(order, this.revision)
        this.watcher.saving('saving')
        this.newest = Math.max(this.newest, answer.revision)
        if (!this.merge(answer, true)) await this.reread()
        this.flying.clear()
        this.locals.acknowledge(order.token, answer.revision)
        return
      } catch (error) {
        if (error instanceof Refused && !LATER.has(error.status)) return this.refuse(order, error)
        this.watcher.saving('offline')
        const before = this.run
        this.run = await this.answering()
        // Sent again with the same token it can't be done twice. One that is never answered is not sent for ever; one that
        // did not reach a service that goes on running is no reason to think so.
        if (before !== null && before !== this.run) order.strikes += ENDED
        else if ((error as Error).name === 'TimeoutError') order.strikes += SILENT
        else await this.wire.pause()
      }
    }
    this.locals.drop(order.token)
    this.watcher.setAside(order)
    await this.reread()
  }

  /** Waits until the service answers. */
  private async answering(): Promise<string> {
    for (;;) {
      const run = await this.wire.alive()
      if (run !== null) return run
      await this.wire.pause()
    }
  }

  private refuse(order: Order, error: Refused) {
    this.flying.clear()
    this.locals.drop(order.token)
    const body = (error.body ?? {}) as { current?: ProjectState; conflicts?: Conflict[]; offer?: Offer }
    if (body.current && body.current.revision >= this.revision) this.adopt(body.current)
    const conflicts = body.conflicts ?? []
    if (order.gesture && conflicts.length) {
      this.ended.add(order.gesture)
      // What of the gesture still waits would be refused for the same reason: the newest of it is what the hand wants.
      for (const each of this.waiting) if (each.gesture === order.gesture) {
        this.locals.drop(each.token)
        order = each
      }
      this.waiting = this.waiting.filter((each) => each.gesture !== order.gesture)
    }
    this.watcher.refused(order, error.message, conflicts, body.offer)
  }
}
