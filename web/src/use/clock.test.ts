import { describe, expect, it } from 'vitest'
import { frameAt, framesOf, RunClock } from './clock'

describe('the clock of a run', () => {
  it('shows every frame once at its rate, and none before its time', () => {
    const clock = new RunClock(() => 30000 / 1001)
    clock.start(5000)
    for (let frame = 0; frame < 2000; frame++) {
      const at = 5000 + (frame * 1001) / 30
      expect(clock.due(at)).toBe(frame)
      expect(clock.due(at - 0.01)).toBe(frame - 1)
    }
  })

  it('waits for a late frame instead of skipping it', () => {
    const clock = new RunClock(() => 25)
    clock.start(0)
    expect(clock.due(200)).toBe(5)
    clock.hold()
    expect(clock.due(239)).toBe(4)
    expect(clock.due(240)).toBe(5)
  })

  it('runs to an end, round a loop, and backwards', () => {
    const run = { from: 8, first: 5, last: 10, speed: 1, loops: false }
    expect([0, 2, 3].map((place) => frameAt(run, place))).toEqual([8, 10, null])
    expect(framesOf(run)).toBe(3)
    const loop = { ...run, loops: true }
    expect([0, 2, 3, 8, 9].map((place) => frameAt(loop, place))).toEqual([8, 10, 5, 10, 5])
    const back = { ...run, speed: -2 }
    expect([0, 1, 2].map((place) => frameAt(back, place))).toEqual([8, 6, null])
    expect(framesOf(back)).toBe(2)
    expect([0, 1, 2, 3].map((place) => frameAt({ ...back, loops: true }, place))).toEqual([8, 6, 10, 8])
  })
})
