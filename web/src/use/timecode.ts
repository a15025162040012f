/** Writing frame numbers as timecode, numbered as the core says. Reading what is typed is the service's work. */
import type { ProjectState } from '../api/client'

export type Numbering = ProjectState['numbering']

const two = (value: number) => String(value).padStart(2, '0')

/** `HH:MM:SS:FF`; where numbers are left out, `;` stands before the frames. */
export function timecode(frame: number, { base, dropped }: Numbering): string {
  const tens = base * 600 - dropped * 9
  const past = Math.max(0, (frame % tens) - base * 60)
  const minutes = frame % tens < base * 60 ? 0 : 1 + Math.floor(past / (base * 60 - dropped))
  const number = frame + dropped * (Math.floor(frame / tens) * 9 + minutes)
  const seconds = Math.floor(number / base)
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}${dropped ? ';' : ':'}${two(number % base)}`
}

/** The last two fields, or as many as are not zero: the ruler's form. */
export function shortTimecode(frame: number, numbering: Numbering): string {
  return timecode(frame, numbering).replace(/^00:(00:)?/, '')
}

/** The first frame of a second of timecode. */
export function frameOfSecond(second: number, { base, dropped }: Numbering): number {
  const minute = Math.floor(second / 60)
  const first = second * base - dropped * (minute - Math.floor(minute / 10))
  return second % 60 === 0 && minute % 10 ? first + dropped : first
}
