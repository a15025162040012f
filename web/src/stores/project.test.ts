import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'

/** What the service answers: `get` and `post` give a body, or throw the status and the body of a refusal. */
const sent = vi.hoisted(() => {
  const sent = { post: vi.fn(), get: vi.fn(), heard: null as null | ((told: unknown) => void) }
  vi.stubGlobal('location', { origin: 'http://desk' })
  vi.stubGlobal('fetch', async (request: Request) => {
    try {
      return Response.json(await (request.method === 'GET' ? sent.get(request.url) : sent.post(request.url, await request.json())))
    } catch (refusal) {
      const [status, body] = refusal as [number, unknown]
      return Response.json(body, { status })
    }
  })
  return sent
})
vi.mock('../use/told', () => ({ useTold: (_: string, heard: (told: unknown) => void) => { sent.heard = heard; return { close: () => {} } } }))

import type { Edit } from '../api/client'
import { useDesk } from './desk'
import { useProject } from './project'

const kept = new Map<string, string>()
vi.stubGlobal('localStorage', { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, value: string) => kept.set(key, value), removeItem: (key: string) => kept.delete(key) })
vi.stubGlobal('window', { addEventListener: () => {} })

const state = (revision: number) => ({
  id: 'film', revision, project: { settings: {}, tracks: [], marks: {}, media: {}, clips: {} }, length: 0, numbering: { base: 25, dropped: 0 }, history: { undo: null, redo: null },
  misfits: [], set_aside: [], notes: [],
})
const answer = (revision: number) => ({ ...state(revision), change: { clips: {}, media: {}, clips_gone: [], media_gone: [] }, courses: {}, outdated: [] })
const rename = (name: string): Edit => ({ kind: 'change_settings', name })
const names = () => sent.post.mock.calls.map(([, body]) => body.edit?.name ?? 'undo')
const onItsWay = () => vi.waitFor(() => expect(sent.post).toHaveBeenCalled())
const idle = () => vi.waitFor(() => expect(useProject().saveState).toBe('saved'))

async function opened() {
  sent.get.mockResolvedValue(state(4))
  const project = useProject()
  await project.open('film')
  return project
}

beforeEach(() => {
  setActivePinia(createPinia())
  sent.post.mockReset()
  kept.clear()
})

describe('the queue of edits', () => {
  it('sends edits one after the other, each on the revision before it', async () => {
    const project = await opened()
    let revision = 4
    sent.post.mockImplementation(async (_, body) => { expect(body.revision).toBe(revision); return answer(++revision) })
    for (const name of ['a', 'b', 'c']) project.edit(rename(name))
    await idle()
    expect(names()).toEqual(['a', 'b', 'c'])
    expect(project.revision).toBe(7)
  })

  it('lets an edit of a gesture give way to the next one that is not sent yet', async () => {
    const project = await opened()
    let revision = 4
    sent.post.mockImplementation(async () => answer(++revision))
    for (const name of ['a', 'b', 'c', 'd']) project.edit(rename(name), 'one-drag')
    project.edit(rename('e'), 'another')
    await idle()
    // The first is on its way already; of the others only the last counts.
    expect(names()).toEqual(['a', 'd', 'e'])
  })

  it('goes on after one that is refused, and says why', async () => {
    const project = await opened()
    sent.post.mockRejectedValueOnce([422, { detail: 'It does not fit.' }]).mockResolvedValueOnce(answer(5))
    project.edit(rename('bad'))
    project.edit(rename('good'))
    await idle()
    expect([project.problem, project.revision]).toEqual(['It does not fit.', 5])
  })

  it('tries once more on the state that another window made, with the same token', async () => {
    const project = await opened()
    sent.post.mockRejectedValueOnce([409, { detail: 'changed', current: state(9) }]).mockResolvedValueOnce(answer(10))
    project.edit(rename('mine'))
    await idle()
    const [first, second] = sent.post.mock.calls.map(([, body]) => body)
    expect([first.revision, second.revision]).toEqual([4, 9])
    expect(second.token).toBe(first.token)
    expect(project.revision).toBe(10)
  })

  it('keeps what is not acknowledged for the next window, which sends it again', async () => {
    const project = await opened()
    sent.post.mockImplementation(() => new Promise(() => {}))
    project.edit(rename('lost'))
    expect(JSON.parse(kept.get('idle-comet-unsent-film')!)[0].edit.name).toBe('lost')
    await onItsWay()
    setActivePinia(createPinia())
    sent.post.mockReset().mockResolvedValue(answer(5))
    await opened()
    await idle()
    expect(names()).toEqual(['lost'])
    expect(kept.has('idle-comet-unsent-film')).toBe(false)
  })

  it('reads the film anew where an edit of another window was missed', async () => {
    const project = await opened()
    sent.heard!({ revision: 5, answer: answer(5) })
    expect(project.revision).toBe(5)
    sent.get.mockResolvedValue(state(8))
    sent.heard!({ revision: 8, answer: answer(8) })
    await vi.waitFor(() => expect(project.revision).toBe(8))
  })

  it('reads what was missed while its own edits were on their way, after them', async () => {
    const project = await opened()
    let done: (answer: unknown) => void = () => {}
    sent.post.mockImplementation(() => new Promise((resolve) => { done = resolve }))
    project.edit(rename('mine'))
    await onItsWay()
    sent.heard!({ revision: 6, answer: answer(6) })
    expect(project.revision).toBe(4)
    sent.get.mockResolvedValue(state(6))
    done(answer(5))
    await vi.waitFor(() => expect(project.revision).toBe(6))
  })
})

describe('what is being made', () => {
  const made = (revision: number, id: string) => ({ ...answer(revision), change: { ...answer(revision).change, clips: { [id]: { id, track: 't', head: 0, length: 10, steps: [], content: { kind: 'camera' } } } } })

  it('stays in hand when an edit before it is answered, and is let go of if it is refused', async () => {
    const project = await opened()
    const desk = useDesk()
    const answers: { done: (answer: unknown) => void; fail: (refusal: unknown) => void }[] = []
    sent.post.mockImplementation((url: string) => url.endsWith('/courses') ? { revision: 0, courses: {} } : new Promise((done, fail) => { answers.push({ done, fail }) }))
    project.edit(rename('first'))
    project.edit(rename('make it'))
    desk.select('camera')
    await vi.waitFor(() => expect(answers).toHaveLength(1))
    answers[0].done(made(5, 'other'))
    await vi.waitFor(() => expect(answers).toHaveLength(2))
    expect(desk.picked).toEqual(['camera'])
    answers[1].done(made(6, 'camera'))
    await idle()
    expect(desk.clip?.id).toBe('camera')

    project.edit(rename('make another'))
    desk.select('light')
    await vi.waitFor(() => expect(answers).toHaveLength(3))
    answers[2].fail([422, { detail: 'It does not fit.' }])
    await idle()
    expect(desk.picked).toEqual([])
  })

  it('is out of hand when it is gone', async () => {
    const project = await opened()
    const desk = useDesk()
    sent.post.mockImplementation(async (url: string) => url.endsWith('/courses') ? { revision: 0, courses: {} } : made(5, 'camera'))
    project.edit(rename('make it'))
    await idle()
    desk.select('camera')
    sent.post.mockImplementation(() => new Promise(() => {}))
    sent.heard!({ revision: 6, answer: { ...answer(6), change: { ...answer(6).change, clips_gone: ['camera'] } } })
    await vi.waitFor(() => expect(desk.picked).toEqual([]))
  })
})
