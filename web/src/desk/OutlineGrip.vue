<script setup lang="ts">
/** The corners of a drawn mask on the picture: dragged, bent by their handles, more of them, fewer. */
import { computed } from 'vue'
import type { Handles, Value } from '../api/client'
import { useProject } from '../stores/project'
import { byArrows } from '../use/arrows'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'

type Grip = Handles['grips'][number]
type Point = [number, number]
const props = defineProps<{ clip: string; grip: Grip; value: Value; /** The revision at which they were asked for. */ at: number; px: number; own: (dx: number, dy: number) => Point }>()
const edits = useEdits()
const project = useProject()

interface Corner { id: number; at: Point; into: Point; out: Point }
/** The corners as the hand has them. */
const outline = computed(() => (props.value as unknown as { corners: Corner[] }).corners.map((corner) => ({
  ...corner, ...project.locally('corner', [props.clip, props.grip.owner, corner.id], props.at),
})))
const bends = computed(() => props.grip.bends)
const next = (i: number) => bends.value[(i + 1) % bends.value.length]
const curve = (i: number) => `M${bends.value[i].at.join(' ')}C${bends.value[i].out.join(' ')} ${next(i).into.join(' ')} ${next(i).at.join(' ')}`
const whole = computed(() => bends.value.map((_, i) => curve(i)).join(''))
const isBent = (i: number) => Math.hypot(outline.value[i].out[0], outline.value[i].out[1]) + Math.hypot(outline.value[i].into[0], outline.value[i].into[1]) > 0.01
const round = (value: number) => Math.round(value * 10) / 10

type Part = 'at' | 'into' | 'out'
/** A handle pulled takes the other along on the same line, unless Alt holds it. */
function moved(from: Corner, part: Part, [x, y]: Point, alone: boolean): Partial<Record<Part, Point>> {
  const at: Point = [round(from[part][0] + x), round(from[part][1] + y)]
  if (part === 'at' || alone) return { [part]: at }
  const other = part === 'out' ? 'into' : 'out'
  const length = Math.hypot(...from[other])
  const own = Math.hypot(...at) || 1
  return { [part]: at, [other]: [round((-at[0] / own) * length), round((-at[1] / own) * length)] }
}
const put = (corner: Corner, to: Partial<Record<Part, Point>>, gesture: string) => edits.moveCorner(props.clip, props.grip.owner, corner.id, to, gesture)
function drag(press: PointerEvent, i: number, part: Part) {
  const from = outline.value[i]
  followDrag(press, ({ dx, dy, event, gesture }) => put(from, moved(from, part, props.own(dx * props.px, dy * props.px), event.altKey), gesture))
}
let was: Corner | null = null
function byKey(event: KeyboardEvent, i: number) {
  if (event.key === 'Delete' || event.key === 'Backspace') {
    event.preventDefault()
    event.stopPropagation()
    return edits.changeCorner(props.clip, props.grip.owner, outline.value[i].id, 'remove')
  }
  if (event.key === 'Enter') return bend(i)
  byArrows(event, (x, y, gesture, begins) => {
    if (begins || !was) was = outline.value[i]
    put(was, moved(was, 'at', [x, y], true), gesture)
  })
}
const bend = (i: number) => edits.changeCorner(props.clip, props.grip.owner, outline.value[i].id, isBent(i) ? 'sharp' : 'round')
</script>

<template>
  <path class="halo" :d="whole" :stroke-width="3 * px" />
  <path :d="whole" :stroke-width="1.2 * px" :stroke-dasharray="`${6 * px} ${4 * px}`" />
  <path
    v-for="(_, i) in bends" :key="`edge-${i}`" class="edge" :d="curve(i)" :stroke-width="9 * px" data-test="outline-edge"
    @dblclick.stop="edits.changeCorner(clip, grip.owner, outline[i].id, 'part')"
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
