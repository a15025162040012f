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
