<script setup lang="ts">
/** The Preview: the painter's own frames, with what is in hand drawn over them. */
import { useElementSize, watchDebounced } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import { answered, api } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useNewTitle } from '../use/newTitle'
import { usePlayer } from '../use/player'
import { DrawOverlay, loadTheRest, SpaceView } from './later'
import { timecode } from '../use/timecode'
import FramedOverlay from './FramedOverlay.vue'
import ComingTitle from './ComingTitle.vue'
import BesideOverlay from './BesideOverlay.vue'
import PartedOverlay from './PartedOverlay.vue'
import PreviewOverlay from './PreviewOverlay.vue'
import ShapeOverlay from './ShapeOverlay.vue'
import Transport from './Transport.vue'


const project = useProject()
const desk = useDesk()
const { addTitle } = useNewTitle()
const place = ref<HTMLElement | null>(null)
const canvas = ref<HTMLCanvasElement | null>(null)
const { width, height } = useElementSize(place)

/** The picture's size on screen, as large as it goes. */
const fitted = computed(() => {
  const { width: w, height: h } = project.settings!
  const share = Math.max(0.05, Math.min((width.value - 4) / w, (height.value - 12) / h))
  return { width: Math.round(w * share), height: Math.round(h * share), share }
})

function painted() {
  const dots = window.devicePixelRatio || 1
  const { width: w, height: h } = fitted.value
  return { width: Math.min(4096, Math.max(16, Math.round(w * dots))), height: Math.min(4096, Math.max(16, Math.round(h * dots))) }
}

const player = usePlayer(canvas, painted)
onMounted(() => setTimeout(player.connect, 0))
watchDebounced(() => fitted.value.width, () => { if (!desk.playing) player.wish() }, { debounce: 150 })

const heldPicture = computed(() => {
  const held = desk.held
  if (!held) return ''
  const { width: w, height: h } = painted()
  return `/api/projects/${project.id}/clips/${held.clip}/stage?done=${held.done}&at=${desk.frame}&width=${w}&height=${h}`
})

/** Only while the step is there, and its clip in hand. */
const parted = computed(() => desk.parted !== null && !desk.playing && !desk.trying && desk.clip?.id === desk.parted.clip && desk.clip.steps.some((step) => step.id === desk.parted!.step))

const framed = computed(() => desk.framed !== null && !desk.playing && !desk.trying && desk.clip?.id === desk.framed.clip && desk.clip.steps.some((step) => step.id === desk.framed!.step))

const before = computed(() => {
  if (!desk.parted) return ''
  const { width: w, height: h } = painted()
  return `/api/projects/${project.id}/clips/${desk.parted.clip}/stage?done=${desk.parted.done}&at=${desk.frame}&width=${w}&height=${h}&r=${project.revision}`
})

watch(player.exact, (exact) => { if (exact) loadTheRest() })

const state = computed(() => {
  if (player.problem.value) return player.problem.value
  if (!player.connected.value) return 'waiting for the painter'
  if (player.compiling.value && !player.exact.value) return 'compiling what paints: the first pictures take longer'
  if (desk.trying) return 'trial: a click or Enter keeps it'
  if (desk.beside && !desk.playing) return `${desk.beside.title}: click one to keep it, Esc leaves all as it was`
  if (desk.playing) {
    if (player.buffering.value) return 'getting ready'
    const { width: w } = player.shownSize.value
    const size = w && w < project.settings!.width ? `playing at ${Math.round((100 * w) / project.settings!.width)} % size, ` : ''
    const loud = player.level.value ? `${player.level.value[1].toFixed(1)} LUFS, ` : ''
    return `${loud}${size}${blur()}${player.late.value} ${player.late.value === 1 ? 'frame' : 'frames'} late`
  }
  const { frame, revision } = player.seen.value
  if (frame !== desk.frame) return frame < 0 ? 'painting' : `the picture of ${timecode(frame, project.numbering)} until this one is painted`
  if (revision !== project.revision) return 'painting what was changed'
  const percent = Math.round(100 * fitted.value.share * (window.devicePixelRatio || 1))
  return player.exact.value ? `full quality, ${blur()}at ${percent} %` : 'draft quality first'
})

/** Motion blur that wants more pictures than its ceiling allows says so. */
function blur(): string {
  const [taken, wanted] = player.samples.value
  if (!wanted) return ''
  return taken < wanted ? `motion blur from ${taken} of ${wanted} pictures, ` : 'motion blur, '
}

async function point(event: PointerEvent) {
  if (desk.playing) return
  const box = canvas.value!.getBoundingClientRect()
  const x = ((event.clientX - box.left) / box.width) * project.settings!.width
  const y = ((event.clientY - box.top) / box.height) * project.settings!.height
  const { clip } = await answered(api.GET('/api/projects/{project_id}/pointed-at', { params: { path: { project_id: project.id }, query: { at: desk.frame, x, y, opened: project.openGroups } } }))
  desk.select(clip)
}

/** A point of the picture, for whoever asked for one. */
function takePoint(event: PointerEvent) {
  const box = canvas.value!.getBoundingClientRect()
  desk.picking?.done([((event.clientX - box.left) / box.width) * project.settings!.width, ((event.clientY - box.top) / box.height) * project.settings!.height])
  desk.picking = null
}

/** The colour under the pointer, as the mean of 5 × 5 px: one pixel of grain or of compression is not what is meant. */
function takeColour(event: PointerEvent) {
  const target = canvas.value!
  const box = target.getBoundingClientRect()
  const x = Math.floor(((event.clientX - box.left) / box.width) * target.width)
  const y = Math.floor(((event.clientY - box.top) / box.height) * target.height)
  const { data } = target.getContext('2d')!.getImageData(Math.max(0, x - 2), Math.max(0, y - 2), 5, 5)
  const mean = [0, 1, 2].map((channel) => {
    let sum = 0
    for (let i = channel; i < data.length; i += 4) sum += data[i]
    return Math.round((sum * 4) / data.length)
  })
  desk.dropper?.(`#${mean.map((each) => each.toString(16).padStart(2, '0')).join('')}`)
  desk.dropper = null
}
</script>

<template>
  <section class="preview dark-room" aria-label="Preview">
    <div class="halves">
      <SpaceView v-if="desk.around" />
      <div ref="place" class="place">
      <div class="picture" :style="{ width: `${fitted.width}px`, height: `${fitted.height}px` }">
        <canvas ref="canvas" data-test="preview" @pointerdown="point" />
        <img v-if="heldPicture" class="held" :src="heldPicture" alt="The picture after the held step" />
        <FramedOverlay v-if="framed" />
        <div v-if="desk.picking" class="dropper" data-test="picking" @pointerdown="takePoint"><span>{{ desk.picking.says }}</span></div>
        <div v-if="desk.dropper" class="dropper" data-test="dropper" @pointerdown="takeColour" />
        <div v-if="!project.clips.length" class="empty" data-test="empty">
          <p>An empty film. Drop shots or stills anywhere on the page, or</p>
          <button class="act" @click="desk.tray = 'media'">add footage</button>
          <button class="act" @click="addTitle">write a title <kbd>T</kbd></button>
          <button class="act" @click="desk.tray = 'recipes'">begin with a recipe <kbd>Y</kbd></button>
        </div>
        <PartedOverlay v-if="parted" :src="before" left="before" right="after" :width="fitted.width" />
        <PartedOverlay v-else-if="desk.reference" :src="desk.reference" left="reference" right="film" :width="fitted.width" />
        <BesideOverlay v-if="desk.beside" :width="fitted.width" :height="fitted.height" />
        <PreviewOverlay v-else-if="!framed" :share="fitted.share" />
        <ComingTitle v-if="desk.coming" :key="desk.coming.clip" />
        <DrawOverlay v-if="desk.drawing && !desk.playing" :key="desk.drawing === 'shape' ? 'shape' : desk.drawing.step" :share="fitted.share" />
        <ShapeOverlay v-if="desk.shaping && !desk.playing" :form="desk.shaping" :share="fitted.share" />
      </div>
      </div>
    </div>
    <Transport :state="state" :width="fitted.width" :level="player.level.value" />
  </section>
</template>

<style scoped>
.preview { color: var(--bone); flex: 1; min-width: 0; display: flex; flex-direction: column; background: var(--surround); }
.halves { flex: 1; min-height: 0; display: flex; }
.place { flex: 1 1 50%; min-width: 0; min-height: 0; display: grid; place-items: center; overflow: hidden; padding-top: 4px; }
.picture { position: relative; background: #000; }
canvas { width: 100%; height: 100%; display: block; }
.dropper { position: absolute; inset: 0; z-index: 5; cursor: crosshair; }
.dropper span { position: absolute; left: 50%; top: 10px; transform: translateX(-50%); padding: 3px 10px; background: var(--soot); border-radius: 2px; font-size: 12.5px; }
.empty { position: absolute; inset: 0; display: grid; align-content: center; justify-items: center; gap: 8px; }
.empty p { color: var(--muted); margin: 0 0 6px; }
.empty button { justify-self: center; width: 220px; padding: 7px 0; border: 1px solid var(--line); border-radius: 2px; }
.empty button:hover { border-color: var(--bone); }
.held { position: absolute; inset: 0; width: 100%; height: 100%; }
</style>
