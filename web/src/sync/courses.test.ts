import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { Refused } from '../api/refused'
import { Courses } from './courses'

const clips = (...ids: string[]) => Object.fromEntries(ids.map((id) => [id, { id }])) as never
const drawn = (asked: string[]) => Object.fromEntries(asked.map((id) => [id, { id }])) as never
const many = (first: number, last: number) => Array.from({ length: last - first }, (_, n) => `c${first + n}`)

beforeEach(() => { vi.useFakeTimers() })
afterEach(() => { vi.useRealTimers() })

it('asks again after an answer of another state and after a failure that passes, and not after a refusal', async () => {
  const film = { revision: 4, stored: { clips: clips('a', 'b') } }
  const shown: string[] = []
  const ask = vi.fn()
    .mockRejectedValueOnce(new Refused(503, 'The database is away.', {}))
    .mockResolvedValueOnce({ revision: 3, courses: drawn(['a']) })
    .mockImplementation(async (asked: string[]) => ({ revision: 4, courses: drawn(asked) }))
  const courses = new Courses(film, ask, (some) => shown.push(...Object.keys(some)))
  courses.need(['a'])
  await vi.advanceTimersByTimeAsync(2000)
  expect(shown).toEqual(['a'])
  expect(courses.madeAt('a')).toBe(4)
  ask.mockRejectedValueOnce(new Refused(422, 'No such clip.', {}))
  courses.need(['b'])
  await vi.advanceTimersByTimeAsync(5000)
  expect(ask).toHaveBeenCalledTimes(4)
})

it('asks for what came into sight last before the rest of what was in sight before', async () => {
  const film = { revision: 1, stored: { clips: clips(...many(0, 400)) } }
  const asked: string[][] = []
  const courses = new Courses(film, async (some) => { asked.push(some); return { revision: 1, courses: drawn(some) } }, () => {})
  courses.need(many(0, 300))
  courses.need(many(390, 400))
  await vi.advanceTimersByTimeAsync(1)
  expect(asked[1].slice(0, 10)).toEqual(many(390, 400))
  expect(asked.flat()).toHaveLength(310)
})
