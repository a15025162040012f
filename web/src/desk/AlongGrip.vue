<script setup lang="ts">
/** A line along which colours run: its end turns or lengthens it, dots on it move along it. */
import type { Handles } from '../api/client'
import { byArrows } from '../use/arrows'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'

type Grip = Handles['grips'][number]
type Along = NonNullable<Grip['along']>
type Point = [number, number]
const props = defineProps<{
  clip: string
  grip: Grip
  along: Along
  /** The value of a name at this frame. */
  value: (name: string) => number
  /** Px of the frame for one px of the screen. */
  px: number
  /** A way seen on the picture, in px of the grip's own space. */
  own: (dx: number, dy: number) => Point
}>()
const edits = useEdits()
const put = (name: string, value: number, gesture: string) => edits.value(props.clip, props.grip.owner, name, value, gesture)
const way = (): Point => props.own(props.along.end[0] - props.along.start[0], props.along.end[1] - props.along.start[1])

/** Puts the end somewhere else: a line that turns does so about its middle, any other begins where it began. */
function pulling() {
  const { turn, reach } = props.along
  const [x, y] = way().map((each) => (turn ? each / 2 : each))
  const from = props.value(turn ?? reach!)
  return ([dx, dy]: Point, gesture: string) => {
    if (turn) {
      const turned = ((Math.atan2(y + dy, x + dx) - Math.atan2(y, x)) * 180) / Math.PI
      put(turn, Math.round((from + turned - 360 * Math.round(turned / 360)) * 10) / 10, gesture)
    } else if (reach) put(reach, Math.max(0.01, Math.round(from * ((x * (x + dx) + y * (y + dy)) / (x * x + y * y || 1)) * 1000) / 1000), gesture)
  }
}
function sliding(name: string) {
  const [x, y] = way()
  const from = props.value(name)
  return ([dx, dy]: Point, gesture: string) => put(name, Math.min(1, Math.max(0, Math.round((from + (x * dx + y * dy) / (x * x + y * y || 1)) * 1000) / 1000)), gesture)
}

type Act = (by: Point, gesture: string) => void
function drag(press: PointerEvent, act: Act) {
  followDrag(press, ({ dx, dy, gesture }) => act(props.own(dx * props.px, dy * props.px), gesture))
}
let held: Act | null = null
function byKey(event: KeyboardEvent, begin: () => Act) {
  byArrows(event, (x, y, gesture, first) => {
    if (first) held = begin()
    held?.([x, y], gesture)
  })
}
const shown = (share: number) => `${Math.round(100 * share)} %`
</script>

<template>
  <path class="halo" :d="`M${along.start.join(' ')}L${along.end.join(' ')}`" :stroke-width="3 * px" />
  <path :d="`M${along.start.join(' ')}L${along.end.join(' ')}`" :stroke-width="1.2 * px" />
  <circle class="begins" :cx="along.start[0]" :cy="along.start[1]" :r="3 * px" :stroke-width="1.2 * px" />
  <g
    v-if="along.turn || along.reach" class="held" role="slider" tabindex="0" data-test="along-end" :aria-label="along.turn ? 'End of the run of colours: turns it' : 'End of the run of colours: its length'"
    :aria-valuenow="Math.round(100 * value((along.turn ?? along.reach)!)) / 100" @pointerdown.stop="drag($event, pulling())" @keydown="byKey($event, pulling)"
  >
    <circle :cx="along.end[0]" :cy="along.end[1]" :r="10 * px" />
    <rect :x="along.end[0] - 4 * px" :y="along.end[1] - 4 * px" :width="8 * px" :height="8 * px" :stroke-width="1.2 * px" />
  </g>
  <g
    v-for="[name, at] in along.places" :key="name" class="held" role="slider" tabindex="0" :data-test="`along-${name}`" aria-label="Place along the run of colours"
    :aria-valuenow="Math.round(100 * value(name))" :aria-valuetext="shown(value(name))" @pointerdown.stop="drag($event, sliding(name))" @keydown="byKey($event, () => sliding(name))"
  >
    <circle :cx="at[0]" :cy="at[1]" :r="10 * px" />
    <path class="dot" :d="`M${at[0]} ${at[1] - 5 * px}l${5 * px} ${5 * px}l${-5 * px} ${5 * px}l${-5 * px} ${-5 * px}z`" :stroke-width="1.2 * px" />
  </g>
</template>

<style scoped>
path { fill: none; stroke: var(--bone); }
.halo { stroke: #000; opacity: 0.4; }
.begins { fill: var(--bone); stroke: var(--soot); }
.held { cursor: move; touch-action: none; }
.held circle { fill: transparent; pointer-events: all; }
.held rect, .held .dot { fill: var(--soot); stroke: var(--bone); }
.held:focus-visible { outline: none; }
.held:focus-visible rect, .held:focus-visible .dot { stroke: var(--now); }
</style>
