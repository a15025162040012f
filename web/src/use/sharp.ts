/** What the cameras in hand have sharp over their clips, as a lane has it. */
import { computed } from 'vue'
import { answered, api, type Clip } from '../api/client'
import type { Measure } from '../desk/MeasureLane.vue'
import { useProject } from '../stores/project'
import { useAnswer } from './answer'
import { px } from './surroundings'

/** Asked for anew with every revision, for the cameras that are wanted. */
export function useSharp(wanted: () => Clip[]) {
  const project = useProject()
  async function measures() {
    const made: Record<string, Measure> = {}
    for (const clip of wanted()) {
      const told = await answered(api.GET('/api/projects/{project_id}/clips/{clip_id}/sharp', { params: { path: { project_id: project.id, clip_id: clip.id } } })).catch(() => null)
      if (!told) continue
      const ahead = told.planes.flatMap((each) => each.ahead.filter((value) => value != null))
      const high = Math.max(...told.at, ...ahead) * 1.1
      const low = Math.min(...told.near, ...ahead) * 0.9
      const held = (value: number) => Math.min(high, Math.max(low, value))
      made[clip.id] = {
        name: 'Sharp, px ahead',
        says: `The band is what is sharp, from ${px(low)} to ${px(high)} ahead; the lines are ${told.planes.map((each) => each.name).join(', ') || 'nothing yet'}.`,
        lines: told.planes.slice(0, 6).map((each) => each.ahead.flatMap((value, n): [number, number][] => (value == null ? [] : [[told.frames[n], value]]))),
        band: told.frames.map((frame, n) => [frame, held(told.near[n]), held(told.far[n] ?? high)]),
        wrong: 'below', low, high,
      }
    }
    return made
  }
  const found = useAnswer(() => [project.revision, wanted().map((clip) => clip.id).join(' ')], () => (wanted().length ? measures : null))
  return computed(() => found.value ?? {})
}
