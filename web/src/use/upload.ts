/** Adding files to the project, with progress, from wherever they are dropped. What is rejected says why. */
import { ref } from 'vue'
import { answered, api, said, type AddedMedia, type CaptionsPreview } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { newId, useEdits } from './edits'
import { useNewShape } from './newShape'

type Encoding = CaptionsPreview['encoding']

/** 0..1 while sending, 1 while the service looks at the files, null when idle. */
const share = ref<number | null>(null)
const rejected = ref<AddedMedia['rejected']>([])

/** Additions that are on their way or wait for their turn. */
const waiting = ref(0)
let last: Promise<unknown> = Promise.resolve()

/** A file of captions that does not say how its characters are written. */
export const unsure = ref<{ file: File; found: CaptionsPreview; answer: (encoding: Encoding | null) => void } | null>(null)

const bytes = (file: File) => ({ body: file as unknown as string, bodySerializer: (body: string) => body, headers: { 'Content-Type': 'application/octet-stream' } })

/** How a file of captions reads in an encoding, or in the likely one. */
export function previewed(file: File, encoding?: Encoding): Promise<CaptionsPreview> {
  return answered(api.POST('/api/captions/preview', { params: { query: { encoding } }, ...bytes(file) }))
}

function readJson(text: string) {
  try {
    return JSON.parse(text || '{}')
  } catch {
    return {}
  }
}

const isDrawing = (file: File) => /\.svg$/i.test(file.name)
const ofCaptions = (file: File) => /\.(srt|vtt)$/i.test(file.name)

export function useUpload() {
  const project = useProject()
  const edits = useEdits()
  const desk = useDesk()
  const { addDrawing } = useNewShape()

  function send(files: File[]): Promise<AddedMedia> {
    const form = new FormData()
    for (const file of files) form.append('files', file, file.name)
    return new Promise((done, failed) => {
      const request = new XMLHttpRequest()
      request.open('POST', `/api/projects/${project.id}/media`)
      request.upload.onprogress = (event) => { share.value = event.total ? event.loaded / event.total : 0 }
      request.onload = () => {
        const body = readJson(request.responseText)
        if (request.status < 300) done(body)
        else failed(new Error(typeof body.detail === 'string' ? body.detail : `The service answered ${request.status}.`))
      }
      request.onerror = () => failed(new Error('The service does not answer. When it is back, look in Media whether these files are there; if not, add them again.'))
      request.send(form)
    })
  }

  /** A file of captions, from the film's beginning on; what was noticed in it is said. Where the file does not say how its
   * characters are written, its first lines are shown first. */
  async function addCaptions(file: File, language: string) {
    try {
      const found = await previewed(file)
      const encoding = found.sure ? found.encoding : await new Promise<Encoding | null>((answer) => { unsure.value = { file, found, answer } })
      unsure.value = null
      if (!encoding) {
        project.hint = `“${file.name}” was not added.`
        return
      }
      const query = { name: file.name.slice(0, 200), language, encoding }
      const read = await answered(api.POST('/api/projects/{project_id}/captions', { params: { path: { project_id: project.id }, query }, ...bytes(file) }))
      project.take(read.answer)
      project.hint = `${read.count} captions added.`
      if (read.notes.length) project.problem = read.notes.slice(0, 6).join(' ')
    } catch (error) {
      unsure.value = null
      project.problem = said(error)
    }
  }

  /** Gives what was added. What is given while other files are on their way comes after them. */
  function add(given: File[]): Promise<AddedMedia['added']> {
    const own = last.then(() => added(given))
    last = own.catch(() => [])
    waiting.value += 1
    return own.finally(() => { waiting.value -= 1 })
  }

  /** Files dropped at a frame, on a track or anywhere: what can be laid there is, and is in hand. */
  async function putAt(given: File[], frame: number, track: string | null) {
    const empty = !project.clips.length
    const pictures = (await add(given)).filter((media) => media.kind !== 'table')
    // In an empty film they are laid out already.
    if (empty || !pictures.length) return
    const id = newId()
    const alone = track !== null && pictures.length === 1
    if (alone) edits.addPicture(id, frame, pictures[0].id, track)
    else edits.layPictures(id, frame, pictures.map((media) => media.id))
    desk.takeUp(alone ? [id] : pictures.map((_, n) => `${id}-${n + 1}`))
  }

  async function added(given: File[]): Promise<AddedMedia['added']> {
    for (const file of given.filter(ofCaptions)) await addCaptions(file, 'en')
    for (const file of given.filter(isDrawing)) await addDrawing(file)
    const files = given.filter((file) => !ofCaptions(file) && !isDrawing(file))
    if (!files.length) return []
    let taken: AddedMedia['added'] = []
    share.value = 0
    rejected.value = []
    try {
      const added = await send(files)
      rejected.value = added.rejected
      taken = added.added
      if (added.answer) project.take(added.answer)
      // The first pictures of a film are what it is made of: they are laid out at once.
      const pictures = added.added.filter((media) => media.kind !== 'table' && media.kind !== 'model')
      if (pictures.length && !project.clips.length) edits.layPictures(newId(), 0, pictures.map((media) => media.id))
      if (added.rejected.length) project.problem = added.rejected.map((each) => each.why).join(' ')
    } catch (error) {
      project.problem = said(error)
    }
    share.value = null
    return taken
  }

  return { share, waiting, rejected, add, putAt, addCaptions }
}
