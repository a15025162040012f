<script setup lang="ts">
/** What the open step has on the picture: the edges of its masks or of a shape, the middle of its light; each to be taken hold of. */
import { computed } from 'vue'
import type { Handles } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { byArrows } from '../use/arrows'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'
import AlongGrip from './AlongGrip.vue'
import OutlineGrip from './OutlineGrip.vue'

/** `at` is the revision at which the handles were asked for. */
const props = defineProps<{ handles: Handles; at: number; share: number }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
type Grip = Handles['grips'][number]

const px = computed(() => 1 / props.share)
const grips = computed(() => props.handles.grips.filter((grip) => grip.owner.split('/')[0] === desk.openRow))
const edge = (grip: Grip) => grip.edge.map((point) => point.join(',')).join(' ')
const cross = ([x, y]: [number, number]) => `M${x - 7 * px.value} ${y}h${14 * px.value}M${x} ${y - 7 * px.value}v${14 * px.value}`

/** A way seen on the picture, in px of the grip's own space. */
function own(grip: Pick<Grip, 'across' | 'down'>, dx: number, dy: number): [number, number] {
  const [[ax, ay], [bx, by]] = [grip.across, grip.down]
  const det = ax * by - ay * bx || 1e-9
  return [(dx * by - dy * bx) / det, (dy * ax - dx * ay) / det]
}
/** A value as the hand has it. */
const value = (grip: Grip, name: string) => project.locally('value', [props.handles.clip, grip.owner, name], props.at).value ?? props.handles.values[`${grip.owner}.${name}`]
const round = (number: number) => Math.round(number * 10) / 10

function shift(grip: Grip, [x, y]: [number, number], from: [number, number], gesture: string) {
  const { clip } = props.handles
  if (grip.names.length === 1) return edits.value(clip, grip.owner, grip.names[0], [round(from[0] + x), round(from[1] + y)], gesture)
  const both = [round(from[0] + x), round(from[1] + y)].map((value, i) => ({ kind: 'set_value' as const, clip, step: grip.owner, name: grip.names[i], value, frame: desk.local }))
  edits.put({ kind: 'several', label: `move the ${what(grip)}`, edits: both }, gesture)
}
/** What a grip is of, in words. */
const what = (grip: Grip) => (grip.from_corner ? 'cell' : grip.owner === 'content' && (grip.edge.length || grip.bends.length) ? 'shape' : grip.edge.length || grip.bends.length ? 'mask' : 'step')
const begins = (grip: Grip): [number, number] => (grip.names.length === 1 ? value(grip, grip.names[0]) as [number, number] : [value(grip, grip.names[0]) as number, value(grip, grip.names[1]) as number])

function drag(press: PointerEvent, grip: Grip) {
  const from = begins(grip)
  followDrag(press, ({ dx, dy, gesture }) => shift(grip, own(grip, dx * px.value, dy * px.value), from, gesture))
}

/** What is sized to both sides of its middle grows by twice as much as its side is drawn. */
const twice = (grip: Grip) => (grip.from_corner ? 1 : 2)
/** A side follows the pointer along its own direction; the other side goes as far the other way. */
function size(press: PointerEvent, grip: Grip, side: 0 | 1) {
  const [sx, sy] = own(grip, grip.sides[side][0] - grip.at[0], grip.sides[side][1] - grip.at[1])
  const length = Math.hypot(sx, sy) || 1
  const name = side ? 'height' : 'width'
  const from = value(grip, name) as number
  followDrag(press, ({ dx, dy, gesture }) => {
    const [x, y] = own(grip, dx * px.value, dy * px.value)
    edits.value(props.handles.clip, grip.owner, name, Math.max(1, round(from + (twice(grip) * (x * sx + y * sy)) / length)), gesture)
  })
}

let was = 0
function sizeBy(event: KeyboardEvent, grip: Grip, side: 0 | 1) {
  const name = side ? 'height' : 'width'
  byArrows(event, (x, y, gesture, first) => {
    if (first) was = value(grip, name) as number
    edits.value(props.handles.clip, grip.owner, name, Math.max(1, round(was + twice(grip) * (side ? y : x))), gesture)
  })
}

let held: [number, number] = [0, 0]
function nudge(event: KeyboardEvent, grip: Grip) {
  byArrows(event, (x, y, gesture, first) => {
    if (first) held = begins(grip)
    shift(grip, [x, y], held, gesture)
  })
}
</script>

<template>
  <g v-for="grip in grips" :key="grip.owner + grip.names[0]" class="grip" :data-test="`grip-${grip.names[0]}`">
    <OutlineGrip v-if="grip.bends.length" :clip="handles.clip" :grip="grip" :value="value(grip, 'outline')" :at="at" :px="px" :own="(dx, dy) => own({ across: grip.turned[0], down: grip.turned[1] }, dx, dy)" />
    <AlongGrip
      v-if="grip.along" :clip="handles.clip" :grip="grip" :along="grip.along" :value="(name) => value(grip, name) as number" :px="px" :own="(dx, dy) => own(grip, dx, dy)"
    />
    <template v-if="grip.edge.length">
      <polygon class="halo" :points="edge(grip)" :stroke-width="3 * px" />
      <polygon :points="edge(grip)" :stroke-width="1.2 * px" :stroke-dasharray="`${6 * px} ${4 * px}`" />
      <g
        v-for="side in (grip.sides.length > 1 ? [0, 1] as const : [0] as const)" :key="side" class="side" :data-test="side ? 'mask-height' : 'mask-width'" role="slider" tabindex="0" :aria-label="`${side ? 'Height' : 'Width'} of the ${what(grip)}`"
        :aria-valuenow="value(grip, side ? 'height' : 'width') as number" @pointerdown.stop="size($event, grip, side)" @keydown="sizeBy($event, grip, side)"
      >
        <circle :cx="grip.sides[side][0]" :cy="grip.sides[side][1]" :r="9 * px" />
        <rect :x="grip.sides[side][0] - 3 * px" :y="grip.sides[side][1] - 3 * px" :width="6 * px" :height="6 * px" :stroke-width="1.2 * px" />
      </g>
    </template>
    <g
      v-if="!grip.along" class="middle" role="slider" tabindex="0" :aria-label="`Middle of the ${what(grip)}`" :aria-valuenow="Math.round(grip.at[0])"
      :aria-valuetext="`${Math.round(grip.at[0])} across, ${Math.round(grip.at[1])} down`" @pointerdown.stop="drag($event, grip)" @keydown="nudge($event, grip)"
    >
      <circle :cx="grip.at[0]" :cy="grip.at[1]" :r="10 * px" />
      <path class="halo" :d="cross(grip.at)" :stroke-width="4 * px" />
      <path :d="cross(grip.at)" :stroke-width="1.6 * px" />
    </g>
  </g>
</template>

<style scoped>
.grip polygon, .grip path { fill: none; stroke: var(--bone); }
.grip .halo { stroke: #000; opacity: 0.4; }
.grip rect { fill: var(--soot); stroke: var(--bone); }
.grip circle { fill: transparent; pointer-events: all; }
.middle { cursor: move; touch-action: none; }
.side { cursor: nwse-resize; touch-action: none; }
.middle:focus-visible, .side:focus-visible { outline: none; }
.side:focus-visible rect { stroke: var(--now); }
.middle:focus-visible path:last-child { stroke: var(--now); }
</style>
