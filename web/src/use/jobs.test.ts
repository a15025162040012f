import { expect, test } from 'vitest'
import { effectScope } from 'vue'
import { useJobs } from './jobs'

type Job = { id: string; state: string }

function within<Result>(work: () => Result) {
  return effectScope().run(work)!
}

test('an answer that was asked for before an order does not take the order away', async () => {
  let answer: (jobs: Job[]) => void = () => {}
  const { jobs, busy, refresh, take } = within(() => useJobs<Job>(() => new Promise((resume) => { answer = resume }), 10_000))
  const asked = refresh()
  take({ id: 'film', state: 'waiting' })
  answer([])
  await asked
  expect(jobs.value.map((job) => job.id)).toEqual(['film'])
  expect(busy.value).toBe(true)
  const again = refresh()
  answer([{ id: 'film', state: 'done' }])
  await again
  expect(jobs.value).toEqual([{ id: 'film', state: 'done' }])
})

test('an answer that comes after the one to a later question is not heard', async () => {
  const answers: ((jobs: Job[]) => void)[] = []
  const { jobs, refresh } = within(() => useJobs<Job>(() => new Promise((resume) => { answers.push(resume) }), 10_000))
  const both = [refresh(), refresh()]
  answers[1]!([{ id: 'film', state: 'done' }])
  answers[0]!([{ id: 'film', state: 'running' }])
  await Promise.all(both)
  expect(jobs.value).toEqual([{ id: 'film', state: 'done' }])
})

test('an order that was told already is there once, and an answer that fails changes nothing', async () => {
  const told: Job[] = [{ id: 'older', state: 'done' }, { id: 'film', state: 'waiting' }]
  let fails = false
  const { jobs, refresh, take } = within(() => useJobs<Job>(() => (fails ? Promise.reject(new Error('away')) : Promise.resolve(told)), 10_000))
  await refresh()
  take({ id: 'film', state: 'running' }, true)
  fails = true
  await refresh()
  expect(jobs.value).toEqual([{ id: 'film', state: 'running' }, { id: 'older', state: 'done' }])
})
