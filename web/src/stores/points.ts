/** The followed points of the shot in hand, and what is being followed. */
import { defineStore } from 'pinia'
import { computed, watch } from 'vue'
import { answered, api, said, type FollowJob, type PointNow } from '../api/client'
import { useAnswer } from '../use/answer'
import { useJobs } from '../use/jobs'
import { useDesk } from './desk'
import { useProject } from './project'

export type Pick = { at: [number, number]; point?: string; direction?: 'both' | 'forward' | 'back' }

export const usePoints = defineStore('points', () => {
  const desk = useDesk()
  const project = useProject()
  const { jobs, busy, refresh, take } = useJobs<FollowJob>(() => answered(api.GET('/api/projects/{project_id}/following', { params: { path: { project_id: project.id } } })), 300)
  const shot = computed(() => (desk.clip?.content.kind === 'footage' ? desk.clip : null))
  const found = useAnswer<{ clip: string; points: PointNow[] }>(() => [shot.value?.id, desk.frame, project.revision, desk.playing], () => {
    const clip = shot.value
    if (!clip || desk.playing) return undefined
    if (clip.content.kind !== 'footage' || !clip.content.points.length) return null
    return async () => ({ clip: clip.id, points: await answered(api.GET('/api/projects/{project_id}/clips/{clip_id}/points', { params: { path: { project_id: project.id, clip_id: clip.id }, query: { at: desk.frame } } })) })
  })
  const points = computed(() => (found.value && found.value.clip === shot.value?.id ? found.value.points : []))

  watch(() => project.id, () => { if (project.id) void refresh() }, { immediate: true })

  /** Follow what is seen at px of the film's frame, at the playhead. */
  async function follow(clip: string, { at: [x, y], point, direction = 'both' }: Pick) {
    try {
      const job = await answered(api.POST('/api/projects/{project_id}/clips/{clip_id}/points', {
        params: { path: { project_id: project.id, clip_id: clip } }, body: { at: desk.frame, x, y, point: point ?? null, direction } }))
      take(job)
    } catch (error) { project.problem = said(error) }
  }

  async function giveUp(id: string) {
    await answered(api.DELETE('/api/following/{job_id}', { params: { path: { job_id: id } } })).catch((error: Error) => { project.problem = error.message })
    await refresh()
  }

  /** The film's revision at which the points were asked for. */
  const at = computed(() => found.at.value)

  return { jobs, points, at, shot, busy, follow, giveUp }
})
