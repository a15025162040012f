import { describe, expect, it } from 'vitest'
import type { Edit, Project } from '../api/client'
import { inOwnTime, opened } from './opened'

const clip = (id: string, track: string, head: number, content: object = { kind: 'plain' }) => ({ id, track, head, length: 50, content })
const film = {
  tracks: [{ id: 'over', within: null }, { id: 'inner', within: 'g' }, { id: 'deep', within: 'h' }, { id: 'shots', within: null }],
  clips: {
    g: clip('g', 'over', 100, { kind: 'group', start: 20, speed: 1 }), h: clip('h', 'inner', 30, { kind: 'group', start: 0, speed: 1 }),
    a: clip('a', 'inner', 40), b: clip('b', 'deep', 5), s: clip('s', 'shots', 7),
  },
} as unknown as Project

describe('groups opened in place', () => {
  it('show what they hold where the film shows it, at any depth', () => {
    const seen = opened(film, ['g', 'h'])
    expect(seen.rows.map(({ track, depth }) => [track.id, depth])).toEqual([['over', 0], ['inner', 1], ['deep', 2], ['shots', 0]])
    expect(Object.values(seen.project.clips).map((each) => each.head)).toEqual([100, 110, 120, 115, 7])
    expect(seen.project.clips.s).toBe(film.clips.s)
    expect(opened(film, ['g', 'h']).project.clips.a).toBe(seen.project.clips.a)
  })
  it('stay closed where they are not opened, or do not go forward', () => {
    expect(opened(film, ['h']).rows.map(({ track }) => track.id)).toEqual(['over', 'shots'])
    const still = { ...film, clips: { ...film.clips, g: clip('g', 'over', 100, { kind: 'group', start: 0, speed: 0 }) } } as unknown as Project
    expect(opened(still, ['g']).rows).toHaveLength(2)
  })
  it('are shown and edited at their own pace', () => {
    // Twice as fast from its twentieth frame on, and within it half as fast: there a frame takes one of the film again.
    const quick = { ...film, clips: { ...film.clips, g: clip('g', 'over', 100, { kind: 'group', start: 20, speed: 2 }), h: clip('h', 'inner', 30, { kind: 'group', start: 4, speed: 0.5 }) } } as unknown as Project
    const seen = opened(quick, ['g', 'h'])
    expect([seen.project.clips.a.head, seen.project.clips.b.head]).toEqual([110, 106])
    expect([seen.shifts.get('inner')!.pace, seen.shifts.get('deep')!.pace]).toEqual([0.5, 1])
    const sent = (edit: object) => inOwnTime(edit as Edit, seen)
    expect(sent({ kind: 'trim_clip', clip: 'a', head: 110.5, length: 9, playhead: 120 })).toMatchObject({ head: 41, playhead: 60 })
    expect(sent({ kind: 'split_clips', clips: ['b'], frame: 111 })).toMatchObject({ frame: 10 })
  })
  it('are edited in their own frames', () => {
    const seen = opened(film, ['g', 'h'])
    const sent = (edit: object) => inOwnTime(edit as Edit, seen)
    expect(sent({ kind: 'trim_clip', clip: 'a', head: 125, length: 9, playhead: 130 })).toMatchObject({ head: 45, playhead: 50 })
    expect(sent({ kind: 'move_clips', heads: { b: 118, s: 9 }, playhead: null })).toMatchObject({ heads: { b: 8, s: 9 }, playhead: null })
    expect(sent({ kind: 'several', label: 'x', edits: [{ kind: 'split_clips', clips: ['a'], frame: 130 }] })).toMatchObject({ edits: [{ frame: 50 }] })
    expect(sent({ kind: 'set_value', clip: 'a', frame: 3 })).toMatchObject({ frame: 3 })
  })
})
