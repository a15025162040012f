<script setup lang="ts">
/** A shape drawn over the Preview by one drag; Shift keeps it as high as it is wide, Alt draws it from its middle. */
import { computed, nextTick, onMounted, ref } from 'vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useNewShape } from '../use/newShape'

const props = defineProps<{ form: NonNullable<ReturnType<typeof useDesk>['shaping']>; share: number }>()
const desk = useDesk()
const project = useProject()
const { add } = useNewShape()
type Point = [number, number]

const ground = ref<SVGSVGElement | null>(null)
const from = ref<Point | null>(null)
const to = ref<Point>([0, 0])
const fromMiddle = ref(false)
const settings = computed(() => project.settings!)
const px = computed(() => 1 / props.share)

onMounted(() => nextTick(() => ground.value?.focus()))

function here(event: PointerEvent): Point {
  const box = ground.value!.getBoundingClientRect()
  return [(event.clientX - box.left) * px.value, (event.clientY - box.top) * px.value]
}
function press(event: PointerEvent) {
  if (event.button !== 0) return
  event.preventDefault()
  ground.value!.setPointerCapture(event.pointerId)
  from.value = to.value = here(event)
}
function move(event: PointerEvent) {
  if (!from.value) return
  const [x, y] = here(event)
  let [dx, dy] = [x - from.value[0], y - from.value[1]]
  if (event.shiftKey && props.form === 'line') {
    // To the nearest eighth of a turn.
    const turn = (Math.round((Math.atan2(dy, dx) * 4) / Math.PI) * Math.PI) / 4
    const long = Math.hypot(dx, dy)
    ;[dx, dy] = [long * Math.cos(turn), long * Math.sin(turn)]
  } else if (event.shiftKey) {
    const side = Math.max(Math.abs(dx), Math.abs(dy))
    ;[dx, dy] = [side * (dx < 0 ? -1 : 1), side * (dy < 0 ? -1 : 1)]
  }
  fromMiddle.value = event.altKey
  to.value = [from.value[0] + dx, from.value[1] + dy]
}
const ends = computed<[Point, Point]>(() => {
  const [a, b] = [from.value ?? [0, 0], to.value]
  return fromMiddle.value ? [[2 * a[0] - b[0], 2 * a[1] - b[1]], b] : [a as Point, b]
})
const round = (value: number) => Math.round(value * 10) / 10

function drop() {
  if (!from.value) return
  const [[x0, y0], [x1, y1]] = ends.value
  const x = round((x0 + x1) / 2 - settings.value.width / 2)
  const y = round((y0 + y1) / 2 - settings.value.height / 2)
  from.value = null
  const { form } = props
  desk.shaping = null
  if (Math.hypot(x1 - x0, y1 - y0) < 6 * px.value) return add(form, { x, y })
  if (form === 'line') return add(form, { x, y, width: round(Math.hypot(x1 - x0, y1 - y0)), turn: round((Math.atan2(y1 - y0, x1 - x0) * 180) / Math.PI) })
  add(form, { x, y, width: round(Math.abs(x1 - x0)), height: round(Math.abs(y1 - y0)) })
}
function byKey(event: KeyboardEvent) {
  if (event.key !== 'Escape' && event.key !== 'Enter') return
  event.preventDefault()
  event.stopPropagation()
  const { form } = props
  desk.shaping = null
  if (event.key === 'Enter') add(form)
}
const says = computed(() => `${Math.round(Math.abs(ends.value[1][0] - ends.value[0][0]))} × ${Math.round(Math.abs(ends.value[1][1] - ends.value[0][1]))}`)
</script>

<template>
  <svg
    ref="ground" class="ground" :viewBox="`0 0 ${settings.width} ${settings.height}`" tabindex="0" role="application" :aria-label="`Draw the ${form}`" data-test="shaping"
    @pointerdown="press" @pointermove="move" @pointerup="drop" @pointercancel="from = null" @keydown="byKey"
  >
    <template v-if="from">
      <line v-if="form === 'line'" :x1="ends[0][0]" :y1="ends[0][1]" :x2="ends[1][0]" :y2="ends[1][1]" :stroke-width="1.4 * px" />
      <ellipse v-else-if="form === 'ellipse'" :cx="(ends[0][0] + ends[1][0]) / 2" :cy="(ends[0][1] + ends[1][1]) / 2" :rx="Math.abs(ends[1][0] - ends[0][0]) / 2" :ry="Math.abs(ends[1][1] - ends[0][1]) / 2" :stroke-width="1.4 * px" />
      <rect v-else :x="Math.min(ends[0][0], ends[1][0])" :y="Math.min(ends[0][1], ends[1][1])" :width="Math.abs(ends[1][0] - ends[0][0])" :height="Math.abs(ends[1][1] - ends[0][1])" :stroke-width="1.4 * px" />
    </template>
  </svg>
  <div class="hint">{{ from ? says : 'Drag to draw it. Shift: even sides, Alt: from its middle, Enter: in the middle, Esc: not at all.' }}</div>
</template>

<style scoped>
.ground { position: absolute; inset: 0; width: 100%; height: 100%; z-index: 4; cursor: crosshair; touch-action: none; outline: none; }
line, rect, ellipse { fill: none; stroke: var(--bone); pointer-events: none; }
.hint { position: absolute; left: 50%; bottom: 10px; transform: translateX(-50%); background: var(--soot); border: 1px solid var(--line); padding: 3px 10px; font-size: 12.5px; z-index: 5; white-space: nowrap; pointer-events: none; }
</style>
