import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'

/** What the service answers: `get` and `post` give a body, or throw the status and the body of a refusal. */
const sent = vi.hoisted(() => {
  const sent = { post: vi.fn(), get: vi.fn(), heard: null as null | ((told: unknown) => void), kept: new Map<string, string>() }
  const { kept } = sent
  const localStorage = { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, value: string) => { kept.set(key, value) }, removeItem: (key: string) => { kept.delete(key) } }
  vi.stubGlobal('window', { addEventListener: () => {}, removeEventListener: () => {}, localStorage })
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

const { kept } = sent

const state = (revision: number) => ({
  id: 'film', revision, project: { settings: {}, tracks: [], marks: {}, media: {}, clips: {} }, length: 0, numbering: { base: 25, dropped: 0 }, history: { undo: null, redo: null },
  misfits: [], set_aside: [], notes: [],
})
const answer = (revision: number) => ({ ...state(revision), since: revision - 1, change: { clips: {}, media: {}, clips_gone: [], media_gone: [] }, courses: {}, outdated: [] })
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

describe('edits that are not acknowledged', () => {
  it('are kept for the next window, which sends them again', async () => {
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

  it('are made after all, on the film as it is now, if the editor says so', async () => {
    const project = await opened()
    const conflicts = [{ what: 'Name', yours: 'mine', theirs: 'theirs' }]
    sent.post.mockRejectedValueOnce([409, { detail: 'Both changed the name.', current: state(9), conflicts }]).mockResolvedValueOnce(answer(10))
    project.edit(rename('mine'))
    await idle()
    expect([project.keptEdits[0].conflicts, project.revision]).toEqual([conflicts, 9])
    project.settle(project.keptEdits[0], true)
    await idle()
    const [first, second] = sent.post.mock.calls.map(([, body]) => body)
    expect([first.saw, second.saw, second.edit.name, project.revision]).toEqual([4, 9, 'mine', 10])
    expect(second.token).not.toBe(first.token)
    expect(project.keptEdits).toEqual([])
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
