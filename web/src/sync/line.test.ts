import { describe, expect, it } from 'vitest'
import type { Conflict, Edit, EditAnswer, ProjectState } from '../api/client'
import { Refused } from '../api/refused'
import { FilmLine, type Order } from './line'
import { caretIn, mergedWords } from './words'

type Project = ProjectState['project']
const film = (name = 'first'): Project => ({ settings: { name }, tracks: [], marks: {}, media: {}, clips: {} }) as unknown as Project
const state = (revision: number, name?: string) => ({ revision, project: film(name) }) as unknown as ProjectState
const answer = (revision: number, since: number | null, name?: string): EditAnswer => ({
  revision, since, token: '', change: { settings: name && { name }, tracks: null, marks: null, media: {}, media_gone: [], clips: {}, clips_gone: [] },
}) as unknown as EditAnswer
const rename = (name: string): Edit => ({ kind: 'change_settings', name })

/** A window whose service answers when it is told to; nothing here waits for a clock. */
function opened(revision = 4) {
  const asked: { order: Order; revision: number; done: (answer: EditAnswer) => void; fail: (error: unknown) => void }[] = []
  const reads: ((state: ProjectState) => void)[] = []
  const pauses: (() => void)[] = []
  const said: { refused: [string, Conflict[], Order][]; aside: Order[]; saving: string[]; unsent: string[][] } = { refused: [], aside: [], saving: [], unsent: [] }
  const service = { run: 'one' as string | null }
  const line = new FilmLine({
    send: (order, at) => new Promise((done, fail) => { asked.push({ order, revision: at, done, fail }) }),
    read: () => new Promise((done) => { reads.push(done) }),
    alive: async () => service.run,
    pause: () => new Promise((done) => { pauses.push(() => done()) }),
  }, {
    adopted: () => {}, merged: () => {}, saving: (now) => said.saving.push(now),
    refused: (order, message, conflicts) => said.refused.push([message, conflicts, order]),
    setAside: (order) => said.aside.push(order),
    unsent: (orders) => said.unsent.push(orders.map(name)),
  }, 'this-window')
  line.open(state(revision))
  let made = 0
  const put = (edit: Edit, gesture?: string) => line.put({ path: 'edits', edit, gesture, token: `token-${made += 1}`, window: line.window, saw: line.revision, strikes: 0 })
  return { line, asked, reads, pauses, said, service, put }
}
const name = (order: Order) => (order.edit as { name?: string } | undefined)?.name ?? order.path
/** All that follows from what was said so far. */
const settled = () => new Promise((done) => { setTimeout(done) })

describe('a film in a window', () => {
  it('sends edits one after the other, each with what was on the screen as it was made', async () => {
    const { asked, put, said } = opened()
    for (const each of ['a', 'b', 'c']) put(rename(each))
    for (const revision of [5, 6, 7]) {
      await settled()
      asked.at(-1)!.done(answer(revision, revision - 1))
    }
    await settled()
    expect(asked.map(({ order, revision }) => [name(order), order.saw, revision])).toEqual([['a', 4, 4], ['b', 4, 5], ['c', 4, 6]])
    expect([said.saving.at(-1), said.unsent.at(-1)]).toEqual(['saved', []])
  })

  it('lets an edit of a gesture give way to the next one that is not sent yet', async () => {
    const { asked, put } = opened()
    for (const each of ['a', 'b', 'c', 'd']) put(rename(each), 'one-drag')
    put(rename('e'), 'another')
    for (const revision of [5, 6, 7]) {
      await settled()
      asked.at(-1)!.done(answer(revision, revision - 1))
    }
    expect(asked.map(({ order }) => name(order))).toEqual(['a', 'd', 'e'])
  })

  it('sends nothing again on a state that nobody has seen: what meets others is kept, with both values', async () => {
    const { line, asked, put, said } = opened()
    put(rename('mine'), 'drag')
    put(rename('mine still'), 'drag')
    await settled()
    const conflicts = [{ what: 'Name', yours: 'mine', theirs: 'theirs' }]
    asked[0].fail(new Refused(409, 'Both changed the name.', { current: state(9, 'theirs'), conflicts }))
    await settled()
    put(rename('mine last'), 'drag')
    await settled()
    expect(asked).toHaveLength(1)
    expect([line.revision, line.stored!.settings.name]).toEqual([9, 'theirs'])
    expect(said.refused.map(([, found, order]) => [found.length, name(order)])).toEqual([[1, 'mine still'], [0, 'mine last']])
  })

  it('takes answers that come late or twice, and messages while its own edits are on their way', async () => {
    const { line, asked, put } = opened()
    put(rename('mine'))
    await settled()
    line.hear(5, answer(5, 4, 'theirs'))
    line.hear(6, answer(6, 5, 'mine'))
    expect([line.revision, line.stored!.settings.name]).toEqual([6, 'mine'])
    asked[0].done(answer(6, 4, 'mine'))
    line.hear(5, answer(5, 4, 'theirs'))
    await settled()
    expect([line.revision, line.stored!.settings.name]).toEqual([6, 'mine'])
  })

  it('takes an answer of all of the film in the place of what it has', async () => {
    const { line, put, asked } = opened()
    line.stored = { ...film(), clips: { gone: { id: 'gone' } } } as unknown as Project
    put(rename('mine'))
    await settled()
    asked[0].done(answer(20, null, 'mine'))
    await settled()
    expect(line.stored!.clips).toEqual({})
  })

  it('reads the film anew where an edit of another window was missed', async () => {
    const { line, reads } = opened()
    line.hear(8, answer(8, 7))
    reads[0](state(8, 'read'))
    await settled()
    expect([line.revision, line.stored!.settings.name]).toEqual([8, 'read'])
  })

  it('waits for a service that is gone, and sends again with the same token', async () => {
    const { asked, put, pauses, service, said } = opened()
    await settled()
    put(rename('mine'))
    await settled()
    service.run = null
    asked[0].fail(new TypeError('gone'))
    await settled()
    expect([said.saving.at(-1), asked.length]).toEqual(['offline', 1])
    service.run = 'two'
    pauses[0]()
    await settled()
    expect(asked.map(({ order }) => order.token)).toEqual(['token-1', 'token-1'])
    asked[1].done(answer(5, 4))
    await settled()
    expect([said.saving.at(-1), said.aside]).toEqual(['saved', []])
  })

  it('sets an edit aside that silences the service twice, and goes on with the next', async () => {
    const { asked, put, reads, said } = opened()
    await settled()
    put(rename('deadly'))
    put(rename('good'))
    for (const each of [0, 1]) {
      await settled()
      asked[each].fail(Object.assign(new Error(), { name: 'TimeoutError' }))
    }
    await settled()
    reads[0](state(4))
    await settled()
    asked[2].done(answer(5, 4))
    await settled()
    expect([said.aside.map(name), asked.map(({ order }) => name(order)), said.saving.at(-1)]).toEqual([['deadly'], ['deadly', 'deadly', 'good'], 'saved'])
  })

  it('keeps what a full disk refused, and sends it again', async () => {
    const { asked, put, pauses, said } = opened()
    put(rename('mine'))
    await settled()
    asked[0].fail(new Refused(507, 'The disk is full.', {}))
    await settled()
    expect([said.saving.at(-1), said.refused]).toEqual(['offline', []])
    pauses[0]()
    await settled()
    asked[1].done(answer(5, 4))
    await settled()
    expect(said.saving.at(-1)).toBe('saved')
  })
})

describe('what the hand has set', () => {
  const clips = { a: { id: 'a', head: 0, length: 50, track: 't', content: { kind: 'plain', values: {} }, steps: [{ id: 'move', values: { framing: { state: 'moving', keys: [{ id: 3, value: { x: 0, y: 0, scale: 1, roll: 0 } }] } } }] } }
  const withClips = () => {
    const own = opened()
    own.line.open({ revision: 4, project: { ...film(), tracks: [{ id: 't' }, { id: 'u' }], clips } } as unknown as ProjectState)
    return own
  }

  it('is shown at once, is what the next gesture goes on from, and gives way to what was worked out after it', async () => {
    const { line, put, asked } = withClips()
    put({ kind: 'move_clips', heads: { a: 30 }, tracks: { a: 'u' } }, 'one')
    put({ kind: 'change_framing', clip: 'a', step: 'move', key: 3, scale: 2 }, 'two')
    put({ kind: 'change_framing', clip: 'a', step: 'move', key: 3, x: 40 }, 'three')
    expect(line.shown()!.clips.a).toMatchObject({ head: 30, track: 'u', steps: [{ values: { framing: { keys: [{ value: { x: 40, scale: 2, roll: 0 } }] } } }] })
    expect(line.locals.at('framing', ['a', 'move', 3], 4)).toEqual({ x: 40, scale: 2 })
    for (const revision of [5, 6, 7]) {
      await settled()
      asked.at(-1)!.done(answer(revision, revision - 1))
    }
    await settled()
    // An answer worked out at revision 6 knows of the scale, not of the place.
    expect([line.locals.at('framing', ['a', 'move', 3], 6), line.locals.at('framing', ['a', 'move', 3], 7)]).toEqual([{ x: 40 }, {}])
    expect(line.shown()).toBe(line.stored)
  })

  it('is gone where it was refused', async () => {
    const { line, put, asked } = withClips()
    put({ kind: 'trim_clip', clip: 'a', head: 0, length: 9000, ripple: false }, 'one')
    await settled()
    asked[0].fail(new Refused(422, 'It does not fit.', {}))
    await settled()
    expect(line.shown()!.clips.a.length).toBe(50)
  })
})

describe('words that two type into', () => {
  const title = (text: string) => ({ t: { id: 't', content: { kind: 'text', text }, steps: [] } })
  const texted = (revision: number, since: number, text: string, token = '') => ({ ...answer(revision, since), token, change: { ...answer(revision, since).change, clips: title(text) } }) as unknown as EditAnswer
  const type = (text: string): Edit => ({ kind: 'change_text', clip: 't', text })

  it('hold what both typed, whichever comes when', async () => {
    const { line, put, asked } = opened()
    line.open({ revision: 4, project: { ...film(), clips: title('the swarm') } } as unknown as ProjectState)
    put(type('the swarm m'), 'typing')
    put(type('the swarm mov'), 'typing')
    await settled()
    // Another window's letters come while the first are on their way and the next wait.
    line.hear(5, texted(5, 4, 'the great swarm'))
    expect(line.pending.map(({ edit, saw }) => [(edit as { text: string }).text, saw])).toEqual([['the swarm m', 4], ['the great swarm mov', 5]])
    asked[0].done(texted(6, 4, 'the great swarm m'))
    await settled()
    expect(line.typedOn('t')).toBe('the great swarm m')
    expect(asked[1].order).toMatchObject({ saw: 6, edit: { text: 'the great swarm mov' } })
    asked[1].done(texted(7, 6, 'the great swarm mov'))
    await settled()
    expect(line.typedOn('t')).toBe('the great swarm mov')
  })

  it('are left to the service where both typed at one place', async () => {
    const { line, put } = opened()
    line.open({ revision: 4, project: { ...film(), clips: title('the swarm') } } as unknown as ProjectState)
    put(type('the swarm a'), 'typing')
    put(type('the swarm ab'), 'typing')
    await settled()
    line.hear(5, texted(5, 4, 'the swarm!'))
    expect(line.pending.at(-1)).toMatchObject({ saw: 4, edit: { text: 'the swarm ab' } })
  })

  it('are merged where they were typed at different places', () => {
    expect(mergedWords('the swarm', 'the great swarm', 'the swarm moves')).toBe('the great swarm moves')
    expect(mergedWords('the swarm', 'a swarm', 'that swarm')).toBe(null)
    expect(caretIn('the swarm', 'now the swarm', 6)).toBe(10)
    expect(caretIn('the swarm', 'the swarm moves', 3)).toBe(3)
  })
})
