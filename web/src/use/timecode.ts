/** Writing frame numbers as timecode. Reading what is typed is the service's work. */
import type { Project } from '../api/client'

type Rate = Project['settings']['rate']

/** `HH:MM:SS:FF`; frames are counted at the rate's whole number (no rate offered yet drops numbers). */
export function timecode(frame: number, rate: Rate): string {
  const base = Math.ceil(rate.num / rate.den)
  const two = (value: number) => String(Math.floor(value)).padStart(2, '0')
  const seconds = Math.floor(frame / base)
  return `${two(seconds / 3600)}:${two((seconds / 60) % 60)}:${two(seconds % 60)}:${two(frame % base)}`
}

/** The last two fields, or as many as are not zero: the ruler's form. */
export function shortTimecode(frame: number, rate: Rate): string {
  return timecode(frame, rate).replace(/^00:(00:)?/, '')
}
