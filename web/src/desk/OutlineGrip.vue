<script setup lang="ts">
/** The corners of a drawn mask on the picture: dragged, bent by their handles, more of them, fewer. */
import { computed } from 'vue'
import type { Handles, Value } from '../api/client'
import { byArrows } from '../use/arrows'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'

type Grip = Handles['grips'][number]
type Point = [number, number]
const props = defineProps<{ clip: string; grip: Grip; value: Value; px: number; own: (dx: number, dy: number) => Point }>()
const edits = useEdits()

interface Corner { at: Point; into: Point; out: Point }
const outline = computed(() => (props.value as unknown as { corners: Corner[] }).corners)
const bends = computed(() => props.grip.bends)
const next = (i: number) => bends.value[(i + 1) % bends.value.length]
const curve = (i: number) => `M${bends.value[i].at.join(' ')}C${bends.value[i].out.join(' ')} ${next(i).into.join(' ')} ${next(i).at.join(' ')}`
const whole = computed(() => bends.value.map((_, i) => curve(i)).join(''))
const isBent = (i: number) => Math.hypot(outline.value[i].out[0], outline.value[i].out[1]) + Math.hypot(outline.value[i].into[0], outline.value[i].into[1]) > 0.01
const round = (value: number) => Math.round(value * 10) / 10

type Part = 'at' | 'into' | 'out'
/** A handle pulled takes the other along on the same line, unless Alt holds it. */
function moved(corners: Corner[], i: number, part: Part, [x, y]: Point, alone: boolean): Corner[] {
  const corner = { ...corners[i] }
  corner[part] = [round(corner[part][0] + x), round(corner[part][1] + y)]
  if (part !== 'at' && !alone) {
    const other = part === 'out' ? 'into' : 'out'
    const length = Math.hypot(...corner[other])
    const own = Math.hypot(...corner[part]) || 1
    corner[other] = [round((-corner[part][0] / own) * length), round((-corner[part][1] / own) * length)]
  }
  return corners.map((each, place) => (place === i ? corner : each))
}
function put(corners: Corner[], gesture: string) {
  edits.value(props.clip, props.grip.owner, 'outline', { corners } as unknown as Value, gesture)
}
function drag(press: PointerEvent, i: number, part: Part) {
  const from = outline.value
  followDrag(press, ({ dx, dy, event, gesture }) => put(moved(from, i, part, props.own(dx * props.px, dy * props.px), event.altKey), gesture))
}
let was: Corner[] = []
function byKey(event: KeyboardEvent, i: number) {
  if (event.key === 'Delete' || event.key === 'Backspace') {
    event.preventDefault()
    event.stopPropagation()
    return edits.changeCorner(props.clip, props.grip.owner, i, 'remove')
  }
  if (event.key === 'Enter') return bend(i)
  byArrows(event, (x, y, gesture, begins) => {
    if (begins) was = outline.value
    put(moved(was, i, 'at', [x, y], true), gesture)
  })
}
const bend = (i: number) => edits.changeCorner(props.clip, props.grip.owner, i, isBent(i) ? 'sharp' : 'round')
</script>

<template>
  <path class="halo" :d="whole" :stroke-width="3 * px" />
  <path :d="whole" :stroke-width="1.2 * px" :stroke-dasharray="`${6 * px} ${4 * px}`" />
  <path
    v-for="(_, i) in bends" :key="`edge-${i}`" class="edge" :d="curve(i)" :stroke-width="9 * px" data-test="outline-edge"
    @dblclick.stop="edits.changeCorner(clip, grip.owner, i, 'part')"
  ><title>Double-click for another corner</title></path>
  <template v-for="(bend_, i) in bends" :key="i">
    <template v-if="isBent(i)">
      <path class="pull" :stroke-width="px" :d="`M${bend_.into.join(' ')}L${bend_.at.join(' ')}L${bend_.out.join(' ')}`" />
      <circle v-for="part in (['into', 'out'] as const)" :key="part" class="pulled" :cx="bend_[part][0]" :cy="bend_[part][1]" :r="4 * px" :stroke-width="px" @pointerdown.stop="drag($event, i, part)" />
    </template>
    <g
      class="corner" role="slider" tabindex="0" :aria-label="`Corner ${i + 1} of the mask: Enter bends it, Delete takes it away`" :aria-valuenow="Math.round(bend_.at[0])"
      :aria-valuetext="`${Math.round(bend_.at[0])} across, ${Math.round(bend_.at[1])} down`" data-test="outline-corner"
      @pointerdown.stop="drag($event, i, 'at')" @dblclick.stop="bend(i)" @keydown="byKey($event, i)"
    >
      <circle :cx="bend_.at[0]" :cy="bend_.at[1]" :r="9 * px" />
      <rect :x="bend_.at[0] - 3 * px" :y="bend_.at[1] - 3 * px" :width="6 * px" :height="6 * px" :stroke-width="1.2 * px" />
    </g>
  </template>
</template>

<style scoped>
path { fill: none; stroke: var(--bone); }
.halo { stroke: #000; opacity: 0.4; }
.edge { stroke: transparent; pointer-events: stroke; cursor: copy; }
.pull { opacity: 0.7; }
.pulled { fill: var(--soot); stroke: var(--bone); pointer-events: all; cursor: move; touch-action: none; }
.corner { cursor: move; touch-action: none; }
.corner circle { fill: transparent; pointer-events: all; }
.corner rect { fill: var(--soot); stroke: var(--bone); }
.corner:focus-visible { outline: none; }
.corner:focus-visible rect { stroke: var(--now); }
</style>
