/** How fast a shot, a sound or a group runs through what it shows. */
import type { Clip } from '../api/client'

type Running = Extract<Clip['content'], { speed: unknown }> & { kind: 'footage' | 'sound' | 'group' }

/** Its speed; where that moves, the first key's. */
export function speedOf({ speed }: Running): number {
  if (typeof speed === 'number') return speed
  return (speed.state === 'fixed' ? speed.value : speed.keys[0].value) as number
}

/** Its speed in a few words; none at 100 %. */
export function saidSpeed(content: Running): string {
  if (typeof content.speed !== 'number' && content.speed.state === 'moving') return 'speed ramp'
  const speed = speedOf(content)
  const percent = `${Math.round(Math.abs(speed) * 100)} %`
  return speed === 1 ? '' : speed === 0 ? 'frozen' : speed < 0 ? `backwards${speed === -1 ? '' : ` at ${percent}`}` : percent
}
