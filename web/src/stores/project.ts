/** The open film: what the service last acknowledged with the edits on their way over it, and what is said about them. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { answered, api, type Clip, type ClipCourse, type Conflict, type Edit, type EditAnswer, type Offer, type Project, type ProjectState } from '../api/client'
import { Courses } from '../sync/courses'
import { FilmLine, type Order, type SaveState } from '../sync/line'
import type { Local, Sort } from '../sync/local'
import { filmRevision } from '../sync/revision'
import { filmWire } from '../sync/wire'
import { inOwnTime, opened, type Opened } from '../use/opened'
import { useTold } from '../use/told'
import { useUnsent } from '../use/unsent'

/** An edit that was not done and is kept: it met what others changed, or the service never answered it. */
export interface KeptEdit { order: Order; why: string; conflicts: Conflict[] }

export const useProject = defineStore('project', () => {
  const id = ref('')
  const revision = filmRevision
  /** As the service last acknowledged it, with what the hand has set since. */
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
  /** An edit that does what the refused one was made for; it goes with the message. */
  const offer = ref<Offer | null>(null)
  watch(problem, () => { offer.value = null }, { flush: 'sync' })
  function takeOffer() {
    if (offer.value) put({ ...order('edits'), edit: offer.value.edit })
    problem.value = ''
  }
  /** Why the thing in hand does not go where it is dragged; it goes by itself. */
  const hint = ref('')
  /** Clips that reach past the shot they ride with. */
  const misfits = ref<string[]>([])
  /** What of the film can't be done as it says, does not fit, or could not be read: sentences, until they are put away. */
  const notes = ref<string[]>([])
  /** Edits that were not done and are kept until the editor says what becomes of them, the newest last. */
  const keptEdits = shallowRef<KeptEdit[]>([])

  const unsent = useUnsent<Order>()
  let line: { close: () => void } | null = null

  const own = () => ({ params: { path: { project_id: id.value } } })

  const film = new FilmLine(filmWire(() => id.value), {
    adopted(state) {
      length.value = state.length
      numbering.value = state.numbering
      misfits.value = state.misfits
      history.value = state.history
      // A clip read anew is a new object: its course is asked for again when it is in sight.
      show()
    },
    merged(answer) {
      drawings.keep(answer.courses, answer.revision)
      length.value = answer.length
      numbering.value = answer.numbering
      misfits.value = answer.misfits
      history.value = answer.history
      drawings.outdate(answer.outdated)
      if (answer.notes.length) notes.value = answer.notes
      hint.value = ''
      show()
    },
    saving(state) {
      if (state === 'saved') savedAt.value = new Date()
      saveState.value = state
      show()
    },
    refused(order, message, conflicts, made) {
      show()
      const known = order.gesture ? keptEdits.value.find((each) => each.order.gesture === order.gesture) : undefined
      if (known) keptEdits.value = keptEdits.value.map((each) => (each === known ? { ...each, order } : each))
      else if (conflicts.length) keptEdits.value = [...keptEdits.value, { order, why: message, conflicts }].slice(-20)
      else if (order.gesture) hint.value = message
      else {
        problem.value = message
        offer.value = made ?? null
      }
    },
    setAside(order) {
      show()
      keptEdits.value = [...keptEdits.value, { order, why: 'The service did not answer this change and was asked twice. The change is kept here and was not made.', conflicts: [] }]
      unsent.keepAside(id.value, keptEdits.value.filter((each) => !each.conflicts.length).map((each) => each.order))
    },
    unsent: (orders) => unsent.keep(id.value, orders),
  }, crypto.randomUUID())
  const drawings = new Courses(
    film,
    (clips) => answered(api.POST('/api/projects/{project_id}/courses', { ...own(), body: { clips } })),
    (drawn) => { courses.value = { ...courses.value, ...drawn } },
  )
  /** Asks for how clips in sight are drawn, where that is not known of this state. */
  const need = (clips: string[]) => drawings.need(clips)

  /** Puts the film on the screen. Its revision is set last: who asks for what is new by it finds all of it. */
  const handed = ref(0)
  function show() {
    handed.value += 1
    stored.value = film.shown()
    revision.value = film.revision
  }

  async function open(projectId: string) {
    const state = await answered(api.GET('/api/projects/{project_id}', { params: { path: { project_id: projectId } } }))
    id.value = state.id
    film.open(state)
    notes.value = [...state.set_aside, ...state.notes]
    keptEdits.value = unsent.aside(projectId).map((order) => ({ order, why: 'The service did not answer this change before. The change is kept here and was not made.', conflicts: [] }))
    for (const order of unsent.taken(projectId)) film.put(order)
    hear()
  }

  /** Edits of other windows, as they are written. */
  function hear() {
    line?.close()
    line = useTold(id.value, (told) => film.hear(told.revision, told.answer), (note) => { if (!notes.value.includes(note)) notes.value = [...notes.value, note] })
  }

  /** An edit the service made on its own account, such as added media. */
  const take = (answer: EditAnswer) => film.hear(answer.revision, answer)

  const token = () => crypto.randomUUID().replaceAll('-', '')
  const order = (path: Order['path']): Order => ({ path, token: token(), window: film.window, saw: film.revision, strikes: 0 })
  function put(made: Order) {
    film.put(made)
    show()
  }
  /** Makes an edit; `saw` is the revision it was made on, where that is older than what is shown. */
  const edit = (change: Edit, gesture?: string, saw = film.revision) => put({ ...order('edits'), saw, edit: seen.value ? inOwnTime(change, seen.value) : change, gesture })
  const undo = () => put(order('undo'))
  const redo = () => put(order('redo'))

  /** What the hand has set there since a revision: that of the answer from which what is shown was worked out. */
  const locally = <S extends Sort>(sort: S, of: (string | number)[], since: number): Partial<Local[S]> => (handed.value, film.locals.at(sort, of, since))

  /** An edit that was kept is made after all, on the film as it is now; or let go of. */
  function settle(kept: KeptEdit, again: boolean) {
    keptEdits.value = keptEdits.value.filter((each) => each !== kept)
    unsent.keepAside(id.value, keptEdits.value.filter((each) => !each.conflicts.length).map((each) => each.order))
    if (again) put({ ...order(kept.order.path), edit: kept.order.edit })
  }

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
  const marks = computed(() => project.value?.marks ?? { markers: [] })
  const range = computed(() => project.value?.range ?? { first: null, last: null })
  const rate = computed(() => (settings.value ? settings.value.rate.num / settings.value.rate.den : 25))

  return { id, revision, project, courses, length, numbering, history, saveState, savedAt, problem, offer, takeOffer, hint, misfits, notes, keptEdits, settle, locally, drawn: drawings.madeAt, typedOn: (clip: string) => film.typedOn(clip), clips, rows, tracks, openGroups, openGroup, heard, pace, filmFrame, endOf, settings, marks, range, rate, open, take, need, edit, undo, redo }
})
