/** The open project: what the service last acknowledged, and the queue of edits on their way. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { Refused, answered, api, type Clip, type ClipCourse, type Edit, type EditAnswer, type Project, type ProjectState } from '../api/client'
import { inOwnTime, opened, type Opened } from '../use/opened'
import { useTold } from '../use/told'
import { useUnsent } from '../use/unsent'

interface Order {
  path: 'edits' | 'undo' | 'redo'
  edit?: Edit
  gesture?: string
  token: string
  retried: boolean
}

export type SaveState = 'saved' | 'saving' | 'offline'

export const useProject = defineStore('project', () => {
  const id = ref('')
  const revision = ref(0)
  /** As the service last acknowledged it. */
  const stored = shallowRef<Project | null>(null)
  /** The groups whose clips are shown on the film's own timeline. */
  const openGroups = ref<string[]>([])
  const seen = computed<Opened | null>(() => stored.value && opened(stored.value, openGroups.value))
  /** The film as the Desk shows it: clips of opened groups stand in frames of the film. */
  const project = computed(() => seen.value?.project ?? null)
  const courses = shallowRef<Record<string, ClipCourse>>({})
  const length = ref(0)
  const numbering = shallowRef<ProjectState['numbering']>({ base: 25, dropped: 0 })
  const history = ref<ProjectState['history']>({ undo: null, redo: null })
  const saveState = ref<SaveState>('saved')
  const savedAt = ref<Date | null>(null)
  const problem = ref('')
  /** Why the thing in hand does not go where it is dragged; it goes by itself. */
  const hint = ref('')
  /** Clips that reach past the shot they ride with. */
  const misfits = ref<string[]>([])
  /** What of the film can't be done as it says, does not fit, or could not be read: sentences, until they are put away. */
  const notes = ref<string[]>([])

  const drawnOf = new Map<string, Clip>()
  const waiting: Order[] = []
  const unsent = useUnsent<Order>()
  let sending: Order | null = null
  let busy = false
  /** The newest revision that this window was told of. */
  let newest = 0
  let line: { close: () => void } | null = null

  const own = () => ({ params: { path: { project_id: id.value } } })

  /** The film as the service has it. Its revision is set last, here and in `merge`: who asks for what is new by it
   * finds all of it. */
  function adopt(state: ProjectState) {
    id.value = state.id
    // A clip read anew is a new object: its course is asked for again when it is in sight.
    stored.value = state.project
    length.value = state.length
    numbering.value = state.numbering
    misfits.value = state.misfits
    history.value = state.history
    revision.value = state.revision
  }

  async function open(projectId: string) {
    const state = await answered(api.GET('/api/projects/{project_id}', { params: { path: { project_id: projectId } } }))
    newest = 0
    adopt(state)
    notes.value = [...state.set_aside, ...state.notes]
    for (const order of unsent.taken(projectId)) put(order)
    hear()
  }

  /** The film as it is now, where something was missed. */
  async function reread() {
    const state = await answered(api.GET('/api/projects/{project_id}', own())).catch(() => null)
    if (state && !busy && state.revision > revision.value) adopt(state)
  }

  /** Edits of other windows, as they are written. One that does not follow on means that some were missed. */
  function hear() {
    line?.close()
    line = useTold(id.value, (told) => {
      newest = Math.max(newest, told.revision)
      // While own edits are on their way their answers come first; what was missed meanwhile is read after them.
      if (busy || told.revision <= revision.value) return
      if (told.answer && told.revision === revision.value + 1) merge(told.answer)
      else void reread()
    })
  }

  function merge(answer: EditAnswer) {
    const old = stored.value!
    const { change } = answer
    const clips = { ...old.clips, ...change.clips }
    const media = { ...old.media, ...change.media }
    for (const gone of change.clips_gone) delete clips[gone]
    for (const gone of change.media_gone) delete media[gone]
    stored.value = { settings: change.settings ?? old.settings, tracks: change.tracks ?? old.tracks, marks: change.marks ?? old.marks, clips, media }
    keep(answer.courses)
    length.value = answer.length
    numbering.value = answer.numbering
    misfits.value = answer.misfits
    history.value = answer.history
    for (const each of answer.outdated) drawnOf.delete(each)
    if (answer.notes.length) notes.value = answer.notes
    revision.value = answer.revision
  }

  /** Courses, and the clips they were made of. */
  function keep(drawn: Record<string, ClipCourse>) {
    if (!Object.keys(drawn).length) return
    for (const id of Object.keys(drawn)) drawnOf.set(id, stored.value!.clips[id])
    courses.value = { ...courses.value, ...drawn }
  }

  /** Ask for the courses of clips in sight that have none, or one of an older state. */
  async function need(ids: string[]) {
    const missing = ids.filter((each) => stored.value?.clips[each] && drawnOf.get(each) !== stored.value.clips[each]).slice(0, 500)
    if (!missing.length) return
    for (const each of missing) drawnOf.set(each, stored.value!.clips[each])
    try {
      const answer = await answered(api.POST('/api/projects/{project_id}/courses', { ...own(), body: { clips: missing } }))
      if (answer.revision === revision.value) keep(answer.courses)
      else for (const each of missing) drawnOf.delete(each)
    } catch {
      for (const each of missing) drawnOf.delete(each)
    }
  }

  /** An edit the service made on its own account, such as added media. */
  function take(answer: EditAnswer) {
    if (answer.revision === revision.value + 1) merge(answer)
    else if (answer.revision > revision.value) void reread()
  }

  function put(order: Order) {
    // Within a gesture only the newest edit of a kind matters: one not yet sent gives way.
    const last = waiting.at(-1)
    if (last && order.gesture && last.gesture === order.gesture && last.edit?.kind === order.edit?.kind) {
      waiting.pop()
      // Shifts count from where the last one left the keys: they add up.
      if (last.edit?.kind === 'shift_keys' && order.edit?.kind === 'shift_keys') order.edit = { ...order.edit, by: order.edit.by + last.edit.by }
    }
    waiting.push(order)
    unsent.keep(id.value, [...(sending ? [sending] : []), ...waiting])
    void work()
  }

  async function work() {
    if (busy) return
    busy = true
    saveState.value = 'saving'
    while (waiting.length) {
      sending = waiting.shift()!
      await send(sending)
      sending = null
      unsent.keep(id.value, waiting)
    }
    busy = false
    if (newest > revision.value) void reread()
    saveState.value = 'saved'
    savedAt.value = new Date()
  }

  async function send(order: Order) {
    for (;;) {
      try {
        const { edit, gesture, token } = order
        const body = { revision: revision.value, token }
        merge(await answered(order.path === 'edits' && edit ? api.POST('/api/projects/{project_id}/edits', { ...own(), body: { ...body, gesture, edit } })
          : api.POST(order.path === 'undo' ? '/api/projects/{project_id}/undo' : '/api/projects/{project_id}/redo', { ...own(), body })))
        saveState.value = 'saving'
        hint.value = ''
        return
      } catch (error) {
        if (!(error instanceof Refused) || error.status === 503) {
          // Sent again with the same token, it can't be done twice.
          saveState.value = 'offline'
          await new Promise((resume) => setTimeout(resume, 700))
          continue
        }
        const current = (error.body as { current?: ProjectState } | null)?.current
        if (error.status === 409 && current) {
          adopt(current)
          if (!order.retried && order.edit) {
            order.retried = true
            continue
          }
        }
        if (order.gesture && error.status === 422) hint.value = error.message
        else problem.value = error.message
        return
      }
    }
  }

  const token = () => crypto.randomUUID().replaceAll('-', '')
  const edit = (change: Edit, gesture?: string) => put({ path: 'edits', edit: seen.value ? inOwnTime(change, seen.value) : change, gesture, token: token(), retried: false })
  const undo = () => put({ path: 'undo', token: token(), retried: false })
  const redo = () => put({ path: 'redo', token: token(), retried: false })

  /** Tracks from the top down: the film's own, and those of opened groups. */
  const rows = computed(() => seen.value?.rows ?? [])
  const tracks = computed(() => rows.value.map((row) => row.track))
  const clips = computed<Clip[]>(() => {
    const own = new Set(tracks.value.map((track) => track.id))
    return Object.values(project.value?.clips ?? {}).filter((clip) => own.has(clip.track)).sort((a, b) => a.head - b.head)
  })
  /** Frames of the film that a frame of a clip's own timeline takes: another number than 1 within a group of another speed. */
  const pace = (clip: Clip) => seen.value?.shifts.get(clip.track)?.pace ?? 1
  /** The film's frame at which a clip shows one of its own. */
  const filmFrame = (clip: Clip, local: number) => clip.head + local * pace(clip)
  const endOf = (clip: Clip) => filmFrame(clip, clip.length)
  /** Whether anything of the film can be heard. */
  const heard = computed(() => Object.values(stored.value?.clips ?? {}).some(({ content }) => (content.kind === 'sound' || content.kind === 'footage') && !content.muted && stored.value!.media[content.media]?.sound))
  /** Opens a group in place, or closes it and all within it. */
  function openGroup(group: string, open = !openGroups.value.includes(group)) {
    const inside = new Set((stored.value?.tracks ?? []).filter((track) => track.within === group).map((track) => track.id))
    const held = open ? [] : openGroups.value.filter((each) => inside.has(stored.value?.clips[each]?.track ?? ''))
    openGroups.value = openGroups.value.filter((each) => each !== group)
    for (const each of held) openGroup(each, false)
    if (open) openGroups.value = [...openGroups.value, group]
  }
  const settings = computed(() => project.value?.settings ?? null)
  const marks = computed(() => project.value?.marks ?? { markers: [], first: null, last: null })
  const rate = computed(() => (settings.value ? settings.value.rate.num / settings.value.rate.den : 25))

  return { id, revision, project, courses, length, numbering, history, saveState, savedAt, problem, hint, misfits, notes, clips, rows, tracks, openGroups, openGroup, heard, pace, filmFrame, endOf, settings, marks, rate, open, take, need, edit, undo, redo }
})
