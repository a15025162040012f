<script setup lang="ts">
/** The whole picture with a move's framings on it, each to be dragged, sized and turned; the film itself small beside it. */
import { useElementSize, watchDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, api } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useAnswer } from '../use/answer'
import { byArrows } from '../use/arrows'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'

const desk = useDesk()
const project = useProject()
const edits = useEdits()
const ground = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(ground)

const load = ({ clip, step }: { clip: string; step: string }) => answered(api.GET('/api/projects/{project_id}/clips/{clip_id}/steps/{step_id}/framings', {
  params: { path: { project_id: project.id, clip_id: clip, step_id: step }, query: { at: desk.frame } } }))
type Framed = NonNullable<Awaited<ReturnType<typeof load>>>
type One = Framed['framings'][number]
type Point = [number, number]
const found = useAnswer<Framed | null>(() => [desk.framed, desk.frame, project.revision], () => {
  const { framed } = desk
  return framed ? () => load(framed) : undefined
})

/** The whole picture as large as it goes. */
const shown = computed(() => {
  if (!found.value || !width.value) return null
  const { width: w, height: h, left, top } = found.value
  const share = Math.min(width.value / w, height.value / h)
  return { share, width: Math.round(w * share), height: Math.round(h * share), left, top, view: `${left} ${top} ${w} ${h}` }
})
const dots = window.devicePixelRatio || 1
const source = ref('')
watchDebounced([shown, () => desk.frame, () => desk.framed, () => project.revision], () => {
  if (!shown.value || !desk.framed) return
  const { width: w, height: h } = shown.value
  const side = (px: number) => Math.min(4096, Math.max(16, Math.round(px * dots)))
  source.value = `/api/projects/${project.id}/clips/${desk.framed.clip}/stage?done=${desk.framed.done}&at=${desk.frame}&width=${side(w)}&height=${side(h)}&whole=true&r=${project.revision}`
}, { debounce: 60, immediate: true })
const film = computed(() => `/api/projects/${project.id}/frame?at=${desk.frame}&width=320&height=${Math.round((320 * project.settings!.height) / project.settings!.width / 2) * 2}&r=${project.revision}`)

const px = computed(() => 1 / (shown.value?.share ?? 1))
const edge = (one: One) => one.corners.map((each) => each.join(',')).join(' ')
const middle = computed<Point>(() => [project.settings!.width / 2, project.settings!.height / 2])

/** A framing is changed in its key, wherever that stands: of a clip that was cut some lie before its head or past its end. */
function put(one: One, change: Partial<Pick<One['framing'], 'x' | 'y' | 'scale' | 'roll'>>, gesture: string) {
  const { clip, step } = desk.framed!
  edits.framing(clip, step, one.key, change, gesture)
}
/** A framing as the hand has it: what was set and is not answered yet counts. */
function held(one: One): One['framing'] {
  const { clip, step } = desk.framed!
  return { ...one.framing, ...project.locally('framing', [clip, step, one.key ?? 0], found.at.value) }
}
const round = (value: number, digits = 1) => Math.round(value * 10 ** digits) / 10 ** digits
/** No framing smaller than a twentieth of the picture at rest, nor larger than twenty. */
const within = (scale: number) => Math.min(20, Math.max(0.05, round(scale, 4)))

function drag(press: PointerEvent, one: One) {
  const { x, y } = held(one)
  const clip = project.project!.clips[desk.framed!.clip]
  const at = Math.round(one.frame)
  if (one.key !== null && at >= 0 && at < clip.length) desk.goIn(clip, at)
  followDrag(press, ({ dx, dy, gesture }) => put(one, { x: round(x + dx * px.value), y: round(y + dy * px.value) }, gesture))
}
/** What arrow keys move is counted from where it stood as they began. */
let began: One['framing']
function byKeys(event: KeyboardEvent, one: One, change: (began: One['framing'], x: number, y: number) => Partial<One['framing']>) {
  byArrows(event, (x, y, gesture, begins) => {
    if (begins) began = held(one)
    put(one, change(began, x, y), gesture)
  })
}
const nudge = (event: KeyboardEvent, one: One) => byKeys(event, one, (framing, x, y) => ({ x: round(framing.x + x), y: round(framing.y + y) }))
/** A corner sizes the framing about its middle. */
function size(press: PointerEvent, one: One, corner: Point) {
  const from: Point = [corner[0] - one.middle[0], corner[1] - one.middle[1]]
  const { scale } = held(one)
  const far = Math.hypot(...from) || 1
  followDrag(press, ({ dx, dy, gesture }) => {
    const now = (from[0] * (from[0] + dx * px.value) + from[1] * (from[1] + dy * px.value)) / far
    put(one, { scale: within((scale * far) / Math.max(1e-3, now)) }, gesture)
  })
}
const sizeBy = (event: KeyboardEvent, one: One) => byKeys(event, one, (framing, x, y) => ({ scale: within(framing.scale * 1.01 ** (y - x)) }))
/** The stalk above the upper side turns it. */
const stalk = (one: One): Point => {
  const [a, b] = one.corners
  const [mx, my] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]
  const away = Math.hypot(mx - one.middle[0], my - one.middle[1]) || 1
  const by = 1 + (18 * px.value) / away
  return [one.middle[0] + (mx - one.middle[0]) * by, one.middle[1] + (my - one.middle[1]) * by]
}
function turn(press: PointerEvent, one: One) {
  const at = stalk(one)
  const angle = (p: Point) => (Math.atan2(p[1] - one.middle[1], p[0] - one.middle[0]) * 180) / Math.PI
  const from = angle(at)
  const { roll } = held(one)
  followDrag(press, ({ dx, dy, gesture }) => {
    const turned = angle([at[0] + dx * px.value, at[1] + dy * px.value]) - from
    put(one, { roll: round(roll + turned - 360 * Math.round(turned / 360)) }, gesture)
  })
}
const turnBy = (event: KeyboardEvent, one: One) => byKeys(event, one, (framing, x, y) => ({ roll: round(framing.roll + (x - y) * 0.1, 2) }))
const says = (one: One) => `Framing ${one.key === null ? '' : (found.value?.framings.indexOf(one) ?? 0) + 1}: ${Math.round(100 * one.framing.scale)} %, ${round(one.framing.x)} across, ${round(one.framing.y)} down, ${round(one.framing.roll)}°`
</script>

<template>
  <div class="framed" data-test="framed">
    <div ref="ground" class="ground">
      <div v-if="shown && found" class="whole" :style="{ width: `${shown.width}px`, height: `${shown.height}px` }">
        <img :src="source" alt="The whole picture" draggable="false" />
        <svg :viewBox="shown.view" :width="shown.width" :height="shown.height">
          <polygon class="now" :points="edge(found.now)" :stroke-width="2 * px" />
          <line v-for="(one, i) in found.framings.slice(1)" :key="`way-${i}`" class="way" :x1="found.framings[i].middle[0]" :y1="found.framings[i].middle[1]" :x2="one.middle[0]" :y2="one.middle[1]" :stroke-width="1.2 * px" :stroke-dasharray="`${3 * px} ${4 * px}`" />
          <g v-for="(one, i) in found.framings" :key="i" class="one" data-test="framing-box">
            <polygon class="halo" :points="edge(one)" :stroke-width="3 * px" />
            <polygon :points="edge(one)" class="edge" :stroke-width="1.4 * px" />
            <g class="held" role="slider" tabindex="0" :aria-label="says(one)" :aria-valuenow="Math.round(one.framing.x)" data-test="framing-middle" @pointerdown.stop="drag($event, one)" @keydown="nudge($event, one)">
              <polygon class="take" :points="edge(one)" />
              <text :x="one.corners[0][0] + 9 * px" :y="one.corners[0][1] + 20 * px" :font-size="14 * px">{{ i + 1 }}</text>
            </g>
            <g v-for="(corner, c) in one.corners" :key="c" class="held corner" role="slider" tabindex="0" :aria-label="`Size of framing ${i + 1}`" :aria-valuenow="Math.round(100 * one.framing.scale)" :data-test="`framing-corner-${c}`" @pointerdown.stop="size($event, one, corner)" @keydown="sizeBy($event, one)">
              <circle :cx="corner[0]" :cy="corner[1]" :r="10 * px" />
              <rect :x="corner[0] - 3.5 * px" :y="corner[1] - 3.5 * px" :width="7 * px" :height="7 * px" :stroke-width="1.2 * px" />
            </g>
            <g class="held turn" role="slider" tabindex="0" :aria-label="`Turn of framing ${i + 1}`" :aria-valuenow="one.framing.roll" data-test="framing-turn" @pointerdown.stop="turn($event, one)" @keydown="turnBy($event, one)">
              <circle :cx="stalk(one)[0]" :cy="stalk(one)[1]" :r="10 * px" />
              <circle class="knob" :cx="stalk(one)[0]" :cy="stalk(one)[1]" :r="4 * px" :stroke-width="1.2 * px" />
            </g>
          </g>
          <path class="cross" :d="`M${middle[0] - 5 * px} ${middle[1]}h${10 * px}M${middle[0]} ${middle[1] - 5 * px}v${10 * px}`" :stroke-width="px" />
        </svg>
      </div>
    </div>
    <div class="beside">
      <figure><img :src="film" alt="The film at the playhead" /></figure>
      <p class="muted">what the film shows here</p>
      <button class="act" data-test="framed-done" @click="desk.framed = null">done</button>
    </div>
  </div>
</template>

<style scoped>
.framed { position: absolute; inset: 0; z-index: 4; display: grid; grid-template-columns: minmax(0, 1fr) 29%; gap: 14px; align-items: center; background: #1c1a18; }
.ground { display: grid; place-items: center; height: 100%; min-width: 0; }
.whole { position: relative; }
.whole img { width: 100%; height: 100%; display: block; }
svg { position: absolute; inset: 0; overflow: visible; }
polygon, path { fill: none; }
.edge { stroke: var(--bone); }
.halo { stroke: #000; opacity: 0.4; }
.now { stroke: var(--now); opacity: 0.9; }
.way { stroke: var(--bone); opacity: 0.7; }
.take { fill: transparent; pointer-events: all; }
.held { cursor: move; touch-action: none; }
.held circle { fill: transparent; pointer-events: all; }
.corner { cursor: nwse-resize; }
.corner rect, .held .knob { fill: var(--soot); stroke: var(--bone); }
.turn { cursor: grab; }
text { fill: var(--bone); paint-order: stroke; stroke: #000; stroke-width: 0.15em; font-weight: 600; }
.held:focus-visible { outline: none; }
.held:focus-visible .take { stroke: var(--now); }
.held:focus-visible rect, .held:focus-visible .knob { stroke: var(--now); }
.cross { stroke: var(--bone); opacity: 0.5; }
.beside { display: grid; gap: 8px; justify-items: start; font-size: 12.5px; }
.beside p { margin: 0; }
figure { margin: 0; width: 100%; background: #000; border: 1px solid var(--line); }
figure img { width: 100%; display: block; }
</style>
