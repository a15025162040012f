<script setup lang="ts">
/** Sounds to be heard and put where they belong, and how loud the film is as a whole. */
import { computed, onBeforeUnmount, ref } from 'vue'
import type { Edit, Media } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { newId, useEdits } from '../use/edits'
import { useUpload } from '../use/upload'
import FilmLoudness from './FilmLoudness.vue'

const project = useProject()
const desk = useDesk()
const edits = useEdits()
const upload = useUpload()
const picker = ref<HTMLInputElement | null>(null)
const typed = ref('')
const PARTS = [['sounds', 'sounds'], ['loudness', 'how loud']] as const
const part = ref<'sounds' | 'loudness'>('sounds')

const sounds = computed(() => Object.values(project.project!.media).filter((item) => item.kind === 'sound').sort((a, b) => a.name.localeCompare(b.name)))
const found = computed(() => sounds.value.filter((item) => item.name.toLowerCase().includes(typed.value.trim().toLowerCase())))

/** A sound is heard while the pointer rests on it, from where it rests. */
const player = new Audio()
const playing = ref<string | null>(null)
const at = ref(0)
let turning = 0
function hear(item: Media, event: Event) {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const share = event instanceof PointerEvent ? Math.max(0, Math.min(0.98, (event.clientX - box.left) / box.width)) : 0
  const lasts = item.sound!.seconds
  // A short one is heard from its beginning; in a long one the place that is pointed at counts.
  const begin = lasts > 4 ? Math.round(share * lasts * 10) / 10 : 0
  player.src = `/api/projects/${project.id}/media/${item.id}/heard?begin=${begin}`
  playing.value = item.id
  at.value = begin / lasts
  void player.play().catch(() => { playing.value = null })
  clearInterval(turning)
  turning = window.setInterval(() => { at.value = (begin + player.currentTime) / lasts; if (player.ended) hush() }, 40)
}
function hush() {
  player.pause()
  clearInterval(turning)
  playing.value = null
}
onBeforeUnmount(hush)

const title = computed(() => (desk.clip && desk.clip.content.kind !== 'sound' ? desk.clip : null))
const ends = computed(() => {
  const course = title.value ? project.courses[title.value.id] : null
  return { arrival: Boolean(course && course.arrival.frames > 1), departure: Boolean(course && course.departure.frames > 1) }
})
type Where = NonNullable<Extract<Edit, { kind: 'put_sound_on' }>['at']>
function putOn(item: Media, where: Where | null) {
  edits.put({ kind: 'put_sound_on', new: newId(), media: item.id, clip: title.value!.id, at: where })
}
function put(item: Media) {
  const id = newId()
  edits.addPicture(id, desk.frame, item.id, null)
  desk.select(id)
}
function pick(event: Event) {
  const field = event.target as HTMLInputElement
  void upload.add([...(field.files ?? [])])
  field.value = ''
}
</script>

<template>
  <aside class="tray" aria-label="Sound">
    <header>Sound <button class="act" @click="desk.tray = null">close</button></header>
    <div class="inside">
      <div class="choice parts" role="radiogroup" aria-label="What of sound">
        <button v-for="[value, word] in PARTS" :key="value" role="radio" :aria-checked="part === value" :class="{ on: part === value }" :data-test="`sound-${value}`" @click="part = value">{{ word }}</button>
      </div>
      <FilmLoudness v-if="part === 'loudness'" />
      <template v-else>
        <div class="finder">
          <input v-model="typed" placeholder="find a sound" aria-label="Find a sound" />
          <button class="act" @click="picker?.click()">add files</button>
          <input ref="picker" type="file" multiple hidden accept=".wav,.flac,.mp3,.aac,.m4a,.ogg,.oga,.opus" data-test="sound-files" @change="pick" />
        </div>
        <p v-for="each in upload.rejected.value" :key="each.name" class="alarm hint" role="alert">{{ each.why }}</p>
        <div v-for="item in found" :key="item.id" class="item" draggable="true" :data-sound="item.id" @dragstart="($event as DragEvent).dataTransfer?.setData('application/x-idle-comet-media', item.id)">
          <button class="wave" :aria-label="`Hear ${item.name}`" :title="`Rest here to hear ${item.name}`" v-rests="[(event: Event) => hear(item, event), hush]">
            <img :src="`/api/projects/${project.id}/media/${item.id}/thumbnail`" alt="" draggable="false" />
            <i v-if="playing === item.id" :style="{ left: `${100 * at}%` }" />
          </button>
          <div class="line"><span class="name">{{ item.name }}</span><span class="muted numbers">{{ item.sound!.seconds.toFixed(1) }} s</span></div>
          <div class="line acts">
            <button v-if="ends.arrival" class="act" :title="`Its loudest moment where ${title!.name} moves fastest, or lands`" data-test="on-arrival" @click="putOn(item, null)">on the arrival</button>
            <button v-if="ends.departure" class="act" :title="`Its loudest moment where ${title!.name} leaves fastest`" data-test="on-departure" @click="putOn(item, 'leaving')">on the departure</button>
            <button class="act" title="At the playhead" data-test="put-sound" @click="put(item)">here</button>
          </div>
        </div>
        <p v-if="!sounds.length" class="muted">No sounds yet. Add files, or drop them here.</p>
        <p v-else-if="!found.length" class="muted">No sound is called so.</p>
      </template>
    </div>
  </aside>
</template>

<style scoped>
.parts { margin-bottom: 10px; }
.finder { display: flex; gap: 8px; margin: 0 0 8px; font-size: 12.5px; }
.finder input:not([hidden]) { flex: 1; min-width: 0; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 4px 8px; }
.item { padding: 8px 0; border-top: 1px solid var(--line); font-size: 12.5px; }
.wave { position: relative; display: block; width: 100%; height: 40px; padding: 0; overflow: hidden; background: var(--soot); cursor: pointer; }
.wave img { width: 100%; height: 100%; object-fit: fill; display: block; opacity: 0.85; }
.wave:hover img { opacity: 1; }
.wave i { position: absolute; top: 0; bottom: 0; width: 1px; background: var(--now); }
.line { display: flex; justify-content: space-between; gap: 8px; margin-top: 4px; }
.acts { justify-content: flex-start; gap: 6px; flex-wrap: wrap; }
.name { font-weight: 600; font-size: 13px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.hint { margin: 6px 0; }
</style>
