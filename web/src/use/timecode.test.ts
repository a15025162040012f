import { describe, expect, it } from 'vitest'
import { frameOfSecond, shortTimecode, timecode } from './timecode'

describe('frame numbers as timecode', () => {
  it('counts every frame once, dropping two numbers a minute but for every tenth', () => {
    const drop = { base: 30, dropped: 2 }
    expect([0, 1799, 1800, 17981, 17982, 107892].map((frame) => timecode(frame, drop))).toEqual(
      ['00:00:00;00', '00:00:59;29', '00:01:00;02', '00:09:59;29', '00:10:00;00', '01:00:00;00'])
    const seen = new Set(Array.from({ length: 40000 }, (_, frame) => timecode(frame, drop)))
    expect(seen.size).toBe(40000)
    expect([...seen].some((each) => /:0[1-9]:00;0[01]$/.test(each))).toBe(false)
  })

  it('finds the first frame of a second', () => {
    for (const numbering of [{ base: 25, dropped: 0 }, { base: 30, dropped: 2 }]) {
      for (const second of [0, 1, 59, 60, 61, 600, 3599, 3600]) {
        const frame = frameOfSecond(second, numbering)
        const before = frame ? timecode(frame - 1, numbering).slice(0, 8) : ''
        expect(timecode(frame, numbering).slice(0, 8)).not.toBe(before)
      }
    }
    expect(shortTimecode(55, { base: 25, dropped: 0 })).toBe('02:05')
  })
})
