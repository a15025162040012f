/** The service as a window reaches it: by HTTP, each request with a limit of time. */
import { answered, api } from '../api/client'
import type { Wire } from './line'

/** After so long without an answer an edit counts as not answered. */
const PATIENCE = 20_000

const within = (ms: number) => ({ signal: AbortSignal.timeout(ms) })

/** Which run of the service answers; null while none does. */
export async function alive(): Promise<string | null> {
  return answered(api.GET('/api/alive', within(3000))).then(({ run }) => run, () => null)
}

export function filmWire(project: () => string): Wire {
  const own = () => ({ params: { path: { project_id: project() } }, ...within(PATIENCE) })
  return {
    send({ path, edit, gesture, token, window, saw }, revision) {
      const body = { revision, saw, window, token }
      if (path === 'edits' && edit) return answered(api.POST('/api/projects/{project_id}/edits', { ...own(), body: { ...body, gesture, edit } }))
      return answered(api.POST(path === 'undo' ? '/api/projects/{project_id}/undo' : '/api/projects/{project_id}/redo', { ...own(), body }))
    },
    read: () => answered(api.GET('/api/projects/{project_id}', own())),
    alive,
    pause: () => new Promise((resume) => setTimeout(resume, 700)),
  }
}
