<script setup lang="ts">
/** The project's media: add files, put them on the timeline. */
import { computed, ref } from 'vue'
import { answered, api, said, type Edit, type FilmMedia, type Media } from '../api/client'
import RangeLine from '../parts/RangeLine.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { newId, useEdits } from '../use/edits'
import ShapesPart from './ShapesPart.vue'
import { useTryout } from '../use/tryout'
import { useUpload } from '../use/upload'
import { inText } from '../use/wording'

const project = useProject()
const desk = useDesk()
const edits = useEdits()
const upload = useUpload()
const picker = ref<HTMLInputElement | null>(null)
const over = ref(false)

const PARTS = [['files', 'files'], ['shapes', 'shapes'], ['made', 'generated']] as const
const part = ref<'files' | 'shapes' | 'made'>('files')

/** What other films have, asked for when it is wanted. */
const elsewhere = ref<FilmMedia[] | null>(null)
async function lookElsewhere() {
  try {
    elsewhere.value = elsewhere.value ? null : await answered(api.GET('/api/projects/{project_id}/media/elsewhere', { params: { path: { project_id: project.id } } }))
  } catch (error) { project.problem = said(error) }
}
async function take({ project: from, media }: FilmMedia) {
  try {
    project.take(await answered(api.POST('/api/projects/{project_id}/media/elsewhere', { params: { path: { project_id: project.id } }, body: { project: from, media: media.id } })))
    elsewhere.value = elsewhere.value?.filter((each) => each.media.hash !== media.hash) ?? null
  } catch (error) { project.problem = said(error) }
}
const media = computed(() => Object.values(project.project!.media).sort((a, b) => a.name.localeCompare(b.name)))
const sought = ref('')
const shown = computed(() => media.value.filter(({ name, kind }) => sought.value.toLowerCase().split(/\s+/).every((word) => `${name} ${kind}`.toLowerCase().includes(word))))

function says(item: Media): string {
  if (item.kind === 'table') return `LUT, ${item.width} entries${item.height > 1 ? ' along each axis' : ' a channel'}`
  if (item.kind === 'sound') return `sound, ${item.sound!.seconds.toFixed(1)} s, ${(item.sound!.rate / 1000).toFixed(1)} kHz`
  if (item.kind === 'model') return item.frames > 1 ? `model, moves for ${(item.frames / 25).toFixed(1)} s` : 'model'
  const size = `${item.width}×${item.height}`
  if (item.kind === 'still') return `${size}, still${item.alpha ? ', transparent' : ''}`
  const rate = item.rate.num / item.rate.den
  return `${size}, ${(item.frames / rate).toFixed(1)} s at ${Number(rate.toFixed(3))}${item.alpha ? ', transparent' : ''}${item.sound ? ', with sound' : ''}`
}

/** In and out marked on a shot, in frames of the film. */
const parts = ref<Record<string, [number, number]>>({})
const lengthOf = (item: Media) => Math.max(1, Math.floor((item.frames / (item.rate.num / item.rate.den)) * project.rate))
const partOf = (item: Media): [number, number] => parts.value[item.id] ?? [0, lengthOf(item) - 1]

function put(item: Media) {
  const id = newId()
  const [first, last] = partOf(item)
  edits.addPicture(id, desk.frame, item.id, null, item.kind === 'video' ? { first, last } : {})
  desk.select(id)
}

function grade(item: Media) {
  const clip = desk.clip!
  const step = `s-${crypto.randomUUID().slice(0, 8)}`
  edits.put({ kind: 'add_step', clip: clip.id, ready: null, step: { id: step, kind: 'colour_table', media: item.id } })
  desk.openRow = step
}

/** A reference stays within the page: nothing of it is sent or kept. */
const chooser = ref<HTMLInputElement | null>(null)
function letGo() {
  if (desk.reference) URL.revokeObjectURL(desk.reference)
  desk.reference = null
}
function refer(event: Event) {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  letGo()
  if (file) desk.reference = URL.createObjectURL(file)
  field.value = ''
}

const tryout = useTryout()
/** As long as what is in hand under the playhead, else five seconds from there. */
function generated(pattern: string, clip = 'tried'): Extract<Edit, { kind: 'add_generated' }> {
  const held = desk.clip && desk.isOver(desk.clip) ? desk.clip : null
  return { kind: 'add_generated', clip, frame: held ? Math.round(held.head) : desk.frame, length: held?.length ?? Math.round(5 * project.rate), pattern }
}
const tried = (pattern: string) => tryout.rest(generated(pattern), [desk.frame, desk.frame + Math.round(3 * project.rate)])
function generate(pattern: string) {
  tryout.leave()
  const id = newId()
  edits.put(generated(pattern, id))
  desk.select(id)
}

const treat = () => desk.takeUp([edits.addTreatment()])

function drag(event: DragEvent, item: Media) {
  const [first, last] = partOf(item)
  event.dataTransfer?.setData('application/x-idle-comet-media', item.kind === 'video' ? `${item.id} ${first} ${last}` : item.id)
}
const replaces = (item: Media) => item.kind === 'video' && desk.clip?.content.kind === 'footage' && desk.clip.content.media !== item.id

function drop(event: DragEvent) {
  over.value = false
  if (event.dataTransfer?.files.length) void upload.add([...event.dataTransfer.files])
}

function pick(event: Event) {
  const field = event.target as HTMLInputElement
  void upload.add([...(field.files ?? [])])
  field.value = ''
}
</script>

<template>
  <aside class="tray" aria-label="Media" :class="{ over }" @dragover.prevent="over = true" @dragleave="over = false" @drop.prevent="drop">
    <header>Media <button class="act" @click="desk.tray = null">close</button></header>
    <div class="inside">
      <div class="choice" role="radiogroup" aria-label="What is put on the timeline">
        <button v-for="[value, word] in PARTS" :key="value" role="radio" :aria-checked="part === value" :class="{ on: part === value }" :data-test="`media-${value}`" @click="part = value">{{ word }}</button>
      </div>
      <template v-if="part === 'files'">
        <VBtn block variant="flat" @click="picker?.click()">
          {{ upload.share.value === null ? 'Add files' : upload.share.value < 1 ? `Adding, ${Math.round(upload.share.value * 100)} %` : 'Looking at them' }}
        </VBtn>
        <input ref="picker" type="file" multiple hidden accept=".mp4,.m4v,.mov,.mkv,.webm,.avi,.wav,.flac,.mp3,.aac,.m4a,.ogg,.oga,.opus,.png,.jpg,.jpeg,.webp,.gif,.svg,.glb,.gltf,.obj,.cube,.srt,.vtt" data-test="files" @change="pick" />
        <VProgressLinear v-if="upload.share.value !== null" :model-value="upload.share.value * 100" aria-label="Adding files" />
        <p class="muted hint">Or drop them here. Pictures whose names count up become one shot.</p>
        <input v-if="media.length > 6 || sought" v-model="sought" class="seek" placeholder="Find by name" aria-label="Find media by name" data-test="find-media" @keydown.esc.stop="sought = ''" />
        <p v-for="each in upload.rejected.value" :key="each.name" class="alarm hint" role="alert">{{ each.why }}</p>
        <div
          v-for="item in shown" :key="item.id" class="item" :draggable="item.kind !== 'table'" :data-media="item.id"
          @dragstart="drag($event as DragEvent, item)"
        >
          <img :src="`/api/projects/${project.id}/media/${item.id}/thumbnail`" alt="" width="96" height="54" draggable="false" />
          <div class="about">
            <span class="name">{{ item.name }}</span>
            <span class="muted">{{ says(item) }}</span>
            <span v-for="note in item.notes" :key="note" class="muted note">{{ note[0].toUpperCase() + note.slice(1) }}.</span>
            <span v-if="item.kind === 'video'" class="part muted" @dragstart.prevent.stop>
              <RangeLine :length="lengthOf(item)" :first="partOf(item)[0]" :last="partOf(item)[1]" :label="item.name" @change="(first, last) => { parts[item.id] = [first, last] }" />
            </span>
            <button v-if="item.kind === 'table'" class="act" :disabled="!desk.clip" @click="grade(item)">grade the clip in hand by it</button>
            <button v-else class="act" @click="put(item)">insert</button>
            <button class="act" v-if="replaces(item)" :title="`In place of ${desk.clip!.name}; what is attached to it follows`" @click="edits.replaceShot(desk.clip!.id, item.id)">put in place of the shot in hand</button>
          </div>
        </div>
        <div class="plain">
          <button class="act" :aria-expanded="elsewhere !== null" title="Files that other films have" data-test="elsewhere" @click="lookElsewhere">{{ elsewhere ? 'leave the other films' : 'take from other films' }}</button>
          <p v-if="elsewhere && !elsewhere.length" class="muted hint">Other films have nothing that is not here.</p>
        </div>
        <div v-for="each in elsewhere ?? []" :key="each.media.hash" class="item" :data-elsewhere="each.media.id">
          <img :src="`/api/projects/${each.project}/media/${each.media.id}/thumbnail`" alt="" width="96" height="54" draggable="false" />
          <div class="about">
            <span class="name">{{ each.media.name }}</span>
            <span class="muted">{{ says(each.media) }}</span>
            <span class="muted">in {{ each.film }}</span>
            <button class="act" @click="take(each)">take it into this film</button>
          </div>
        </div>
        <div class="plain">
          <button v-if="!desk.reference" class="act" title="To match a look by: half beside the film, with a line to drag; it is never stored or exported" @click="chooser?.click()">hold a reference beside the film</button>
          <button v-else class="act" @click="letGo">put the reference away</button>
          <input ref="chooser" type="file" hidden accept="image/*" data-test="reference" @change="refer" />
        </div>
      </template>
      <ShapesPart v-else-if="part === 'shapes'" />
      <template v-else>
        <div class="plain">
          <span class="muted">Generated, from the playhead</span>
          <div class="made">
            <button
              v-for="each in desk.catalogue!.patterns" :key="each.kind" class="act" :data-pattern="each.kind" :title="each.synonyms.join(', ')"
              v-rests="[() => tried(each.kind), tryout.leave]" @click="generate(each.kind)"
            >{{ inText(each.label) }}</button>
          </div>
        </div>
        <div class="plain">
          <button class="act" @click="edits.addPicture(newId(), desk.frame, null)">put a plain colour at the playhead</button>
          <button class="act" title="While it lasts, what stands in space is seen from there" data-test="add-camera" @click="desk.select(edits.addCamera(desk.overWhat()))">add a camera</button>
          <button class="act" title="While it lasts, it shines on what stands in space, and on what is solid" data-test="add-light" @click="desk.select(edits.addLight(desk.overWhat()))">add a light</button>
          <button class="act" title="A strip whose steps are done to all that lies below it" data-test="add-treatment" @click="treat">treat all below from the playhead</button>
        </div>
      </template>
    </div>
  </aside>
</template>

<style scoped>
.over { outline: 1px solid var(--bone); outline-offset: -1px; }
.note { line-height: 1.3; }
.hint { font-size: 12.5px; margin: 8px 0; }
.seek { width: 100%; margin-bottom: 8px; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 3px 8px; }
.item { display: flex; gap: 12px; padding: 8px 0; border-top: 1px solid var(--line); cursor: grab; }
.item img { object-fit: cover; background: var(--soot); flex: none; }
.about { display: flex; flex-direction: column; gap: 2px; min-width: 0; font-size: 12.5px; align-items: flex-start; }
.name { font-weight: 600; font-size: 13px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; max-width: 100%; }
.choice { margin-bottom: 10px; }
.made { display: flex; flex-wrap: wrap; gap: 6px; }
.plain { padding: 10px 0; border-top: 1px solid var(--line); display: grid; gap: 6px; }
.close { font-size: 12.5px; font-weight: 400; }
</style>
