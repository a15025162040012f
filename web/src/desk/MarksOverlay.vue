<script setup lang="ts">
/** What the open step has on the picture: the edges of its masks, the middle of its light; each to be taken hold of. */
import { computed } from 'vue'
import type { Handles } from '../api/client'
import { useDesk } from '../stores/desk'
import { byArrows } from '../use/arrows'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'

const props = defineProps<{ handles: Handles; share: number }>()
const desk = useDesk()
const edits = useEdits()
type Mark = Handles['marks'][number]

const px = computed(() => 1 / props.share)
const marks = computed(() => props.handles.marks.filter((mark) => mark.owner.split('/')[0] === desk.openRow))
const edge = (mark: Mark) => mark.edge.map((point) => point.join(',')).join(' ')
const cross = ([x, y]: [number, number]) => `M${x - 7 * px.value} ${y}h${14 * px.value}M${x} ${y - 7 * px.value}v${14 * px.value}`

/** A way seen on the picture, in px of the mark's own space. */
function own(mark: Mark, dx: number, dy: number): [number, number] {
  const [[ax, ay], [bx, by]] = [mark.across, mark.down]
  const det = ax * by - ay * bx || 1e-9
  return [(dx * by - dy * bx) / det, (dy * ax - dx * ay) / det]
}
const value = (mark: Mark, name: string) => props.handles.values[`${mark.owner}.${name}`]
const round = (number: number) => Math.round(number * 10) / 10

function shift(mark: Mark, [x, y]: [number, number], from: [number, number], gesture: string) {
  const { clip } = props.handles
  if (mark.names.length === 1) return edits.value(clip, mark.owner, mark.names[0], [round(from[0] + x), round(from[1] + y)], gesture)
  const both = [round(from[0] + x), round(from[1] + y)].map((value, i) => ({ kind: 'set_value' as const, clip, step: mark.owner, name: mark.names[i], value, frame: desk.local }))
  edits.put({ kind: 'several', label: 'move the mask', edits: both }, gesture)
}
const begins = (mark: Mark): [number, number] => (mark.names.length === 1 ? value(mark, mark.names[0]) as [number, number] : [value(mark, mark.names[0]) as number, value(mark, mark.names[1]) as number])

function drag(press: PointerEvent, mark: Mark) {
  const from = begins(mark)
  followDrag(press, ({ dx, dy, gesture }) => shift(mark, own(mark, dx * px.value, dy * px.value), from, gesture))
}

/** A side follows the pointer along its own direction; the other side goes as far the other way. */
function size(press: PointerEvent, mark: Mark, side: 0 | 1) {
  const [sx, sy] = own(mark, mark.sides[side][0] - mark.at[0], mark.sides[side][1] - mark.at[1])
  const length = Math.hypot(sx, sy) || 1
  const name = side ? 'height' : 'width'
  const from = value(mark, name) as number
  followDrag(press, ({ dx, dy, gesture }) => {
    const [x, y] = own(mark, dx * px.value, dy * px.value)
    edits.value(props.handles.clip, mark.owner, name, Math.max(1, round(from + (2 * (x * sx + y * sy)) / length)), gesture)
  })
}

let held: [number, number] = [0, 0]
function nudge(event: KeyboardEvent, mark: Mark) {
  byArrows(event, (x, y, gesture, first) => {
    if (first) held = begins(mark)
    shift(mark, [x, y], held, gesture)
  })
}
</script>

<template>
  <g v-for="mark in marks" :key="mark.owner + mark.names[0]" class="mark" :data-test="`mark-${mark.names[0]}`">
    <template v-if="mark.edge.length">
      <polygon class="halo" :points="edge(mark)" :stroke-width="3 * px" />
      <polygon :points="edge(mark)" :stroke-width="1.2 * px" :stroke-dasharray="`${6 * px} ${4 * px}`" />
      <g v-for="side in ([0, 1] as const)" :key="side" class="side" :data-test="side ? 'mask-height' : 'mask-width'" @pointerdown.stop="size($event, mark, side)">
        <circle :cx="mark.sides[side][0]" :cy="mark.sides[side][1]" :r="9 * px" />
        <rect :x="mark.sides[side][0] - 3 * px" :y="mark.sides[side][1] - 3 * px" :width="6 * px" :height="6 * px" :stroke-width="1.2 * px" />
      </g>
    </template>
    <g
      class="middle" role="slider" tabindex="0" :aria-label="mark.edge.length ? 'Middle of the mask' : 'Middle of the step'" :aria-valuenow="Math.round(mark.at[0])"
      :aria-valuetext="`${Math.round(mark.at[0])} across, ${Math.round(mark.at[1])} down`" @pointerdown.stop="drag($event, mark)" @keydown="nudge($event, mark)"
    >
      <circle :cx="mark.at[0]" :cy="mark.at[1]" :r="10 * px" />
      <path class="halo" :d="cross(mark.at)" :stroke-width="4 * px" />
      <path :d="cross(mark.at)" :stroke-width="1.6 * px" />
    </g>
  </g>
</template>

<style scoped>
.mark polygon, .mark path { fill: none; stroke: var(--bone); }
.mark .halo { stroke: #000; opacity: 0.4; }
.mark rect { fill: var(--soot); stroke: var(--bone); }
.mark circle { fill: transparent; pointer-events: all; }
.middle { cursor: move; touch-action: none; }
.side { cursor: nwse-resize; touch-action: none; }
.middle:focus-visible { outline: none; }
.middle:focus-visible path:last-child { stroke: var(--now); }
</style>
