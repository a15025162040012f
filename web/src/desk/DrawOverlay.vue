<script setup lang="ts">
/** An outline of a mask or a shape, drawn over the Preview: a press sets a corner, pulling bends it, the first corner closes it. */
import { computed, nextTick, onMounted, ref } from 'vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { useNewShape } from '../use/newShape'

const props = defineProps<{ share: number }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const { add } = useNewShape()
type Point = [number, number]
interface Drawn { at: Point; out: Point }

const ground = ref<SVGSVGElement | null>(null)
const drawn = ref<Drawn[]>([])
const hand = ref<Point | null>(null)
const pulled = ref(false)
const settings = computed(() => project.settings!)
const px = computed(() => 1 / props.share)
const closes = computed(() => drawn.value.length > 2 && hand.value !== null && near(hand.value, drawn.value[0].at))

onMounted(() => nextTick(() => ground.value?.focus()))

function near(a: Point, b: Point) {
  return Math.hypot(a[0] - b[0], a[1] - b[1]) < 10 * px.value
}
function here(event: PointerEvent): Point {
  const box = ground.value!.getBoundingClientRect()
  return [(event.clientX - box.left) * px.value, (event.clientY - box.top) * px.value]
}
const round = ([x, y]: Point): Point => [Math.round(x * 10) / 10, Math.round(y * 10) / 10]

function press(event: PointerEvent) {
  if (event.button !== 0) return
  event.preventDefault()
  if (closes.value) return finish()
  ground.value!.setPointerCapture(event.pointerId)
  drawn.value.push({ at: here(event), out: [0, 0] })
  pulled.value = true
}
function move(event: PointerEvent) {
  hand.value = here(event)
  const last = drawn.value.at(-1)
  if (!pulled.value || !last) return
  const out: Point = [hand.value[0] - last.at[0], hand.value[1] - last.at[1]]
  last.out = Math.hypot(...out) < 4 * px.value ? [0, 0] : out
}
function finish() {
  const drawing = desk.drawing
  if (!drawing) return
  if (drawn.value.length < 3) {
    project.problem = `An outline needs three corners; this one has ${drawn.value.length}. Go on drawing, or leave with Esc.`
    return
  }
  const corners = drawn.value.map(({ at, out }) => ({ at: round(at), out: round(out), into: round([-out[0] || 0, -out[1] || 0]) }))
  if (drawing === 'shape') {
    desk.drawing = null
    const middle = [0, 1].map((axis) => drawn.value.reduce((sum, { at }) => sum + at[axis], 0) / drawn.value.length)
    const counted = corners.map((each) => ({ ...each, at: round([each.at[0] - middle[0], each.at[1] - middle[1]]) }))
    return add('outline', { x: middle[0] - settings.value.width / 2, y: middle[1] - settings.value.height / 2, outline: { corners: counted } })
  }
  const step = project.project?.clips[drawing.clip]?.steps.find((each) => each.id === drawing.step)
  edits.drawMask(drawing.clip, drawing.step, { corners }, step?.masks.length ? 'add' : 'intersect')
  desk.drawing = null
}
function byKey(event: KeyboardEvent) {
  const acts: Record<string, () => void> = { Enter: finish, Escape: () => { desk.drawing = null }, Backspace: () => drawn.value.pop() }
  const act = acts[event.key]
  if (!act) return
  event.preventDefault()
  event.stopPropagation()
  act()
}

const path = computed(() => {
  const all = [...drawn.value, ...(closes.value ? [drawn.value[0]] : hand.value && !pulled.value ? [{ at: hand.value, out: [0, 0] as Point }] : [])]
  return all.map(({ at, out }, i) => {
    if (!i) return `M${at.join(' ')}`
    const from = all[i - 1]
    return `C${from.at[0] + from.out[0]} ${from.at[1] + from.out[1]} ${at[0] - out[0]} ${at[1] - out[1]} ${at.join(' ')}`
  }).join('')
})
</script>

<template>
  <svg
    ref="ground" class="ground" :viewBox="`0 0 ${settings.width} ${settings.height}`" tabindex="0" role="application" :aria-label="desk.drawing === 'shape' ? 'Draw the shape’s outline' : 'Draw the mask’s outline'" data-test="drawing"
    @pointerdown="press" @pointermove="move" @pointerup="pulled = false" @pointercancel="pulled = false" @keydown="byKey"
  >
    <path class="halo" :d="path" :stroke-width="3.5 * px" />
    <path :d="path" :stroke-width="1.4 * px" />
    <template v-for="(corner, i) in drawn" :key="i">
      <path v-if="corner.out[0] || corner.out[1]" class="pull" :stroke-width="px" :d="`M${corner.at[0] - corner.out[0]} ${corner.at[1] - corner.out[1]}L${corner.at[0] + corner.out[0]} ${corner.at[1] + corner.out[1]}`" />
      <circle :cx="corner.at[0]" :cy="corner.at[1]" :r="(i === 0 && closes ? 7 : 3.5) * px" :stroke-width="1.2 * px" />
    </template>
  </svg>
  <div class="hint">
    {{ drawn.length < 3 ? 'Press for each corner; pull while pressing to bend.' : 'Press the first corner, or Enter, to close.' }} Backspace takes one back, Esc leaves.
  </div>
</template>

<style scoped>
.ground { position: absolute; inset: 0; width: 100%; height: 100%; z-index: 4; cursor: crosshair; touch-action: none; outline: none; }
path { fill: none; stroke: var(--bone); pointer-events: none; }
.halo { stroke: #000; opacity: 0.45; }
.pull { opacity: 0.6; }
circle { fill: var(--soot); stroke: var(--bone); pointer-events: none; }
.hint { position: absolute; left: 50%; bottom: 10px; transform: translateX(-50%); background: var(--soot); border: 1px solid var(--line); padding: 3px 10px; font-size: 12.5px; z-index: 5; white-space: nowrap; pointer-events: none; }
</style>
