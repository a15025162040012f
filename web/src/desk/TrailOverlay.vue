<script setup lang="ts">
/**
 * The way the clip in hand travels, as the shutter sees it: a dash while it is open, a gap while it is closed, a crossbar
 * every five frames; its first and last placement as numbered corners; the points of its path with their tangents.
 */
import { computed } from 'vue'
import { answered, api, type Trail } from '../api/client'
import { useDesk, type ChosenKey } from '../stores/desk'
import { useProject } from '../stores/project'
import { useAnswer } from '../use/answer'
import { byArrows } from '../use/arrows'
import { useEdits } from '../use/edits'
import { brackets, within } from '../use/brackets'
import { followDrag } from '../use/gesture'
import { keyOf } from '../use/properties'

const props = defineProps<{ share: number }>()
const project = useProject()
const desk = useDesk()
const edits = useEdits()
const trail = useAnswer<Trail | null>(() => [desk.selected, project.revision, desk.playing, desk.trail], () => {
  const clip = desk.selected
  if (!clip || desk.playing || !desk.trail) return null
  return () => answered(api.GET('/api/projects/{project_id}/clips/{clip_id}/trail', { params: { path: { project_id: project.id, clip_id: clip } } }))
}, 120)

/** Over another clip's picture the way would say nothing. */
const onClip = computed(() => desk.clip !== null && desk.isOver(desk.clip))

const px = computed(() => 1 / props.share)
const dashes = computed(() => (trail.value?.dashes ?? []).map((dash) => dash.points.map((point, i) => `${i ? 'L' : 'M'}${point[0].toFixed(2)} ${point[1].toFixed(2)}`).join('')).join(''))
/** Where the way is slow, bars closer than 6 px of the screen would be a smudge: they are left out. */
const bars = computed(() => {
  let last: [number, number] | null = null
  return (trail.value?.crossbars ?? []).map(([[x, y], [ux, uy]]) => {
    if (last && Math.hypot(x - last[0], y - last[1]) < 6 * px.value) return ''
    last = [x, y]
    const reach = 4 * px.value
    return `M${x - uy * reach} ${y + ux * reach}L${x + uy * reach} ${y - ux * reach}`
  }).join('')
})
/** First and last placement, each corner with its number: where two interleave, every corner says whose it is. */
const ends = computed(() => (trail.value?.ends ?? []).map((placed, i) => ({
  number: i + 1, path: brackets(placed.corners, 14 * px.value), at: placed.corners.map((_, corner) => within(placed.corners, corner, -9 * px.value)),
})))
const refOf = (key: number): ChosenKey => {
  const step = [...(desk.clip?.steps ?? [])].reverse().find((each) => each.kind === 'placement')!
  return { clip: desk.clip!.id, step: step.id, name: 'path', key }
}
const inHand = (key: number) => desk.keys.some((each) => each.name === 'path' && each.key === key)

function dragPoint(press: PointerEvent, point: Trail['points'][number]) {
  const key = keyOf(desk.clip!, refOf(point.key))
  const from = key?.value as [number, number] | undefined
  desk.chooseKey(refOf(point.key))
  if (!from) return
  followDrag(press, ({ dx, dy, gesture }) =>
    edits.moveKey(refOf(point.key), Math.round(point.frame), [from[0] + dx * px.value, from[1] + dy * px.value], gesture),
  (moved) => { if (!moved) desk.goIn(desk.clip!, Math.round(point.frame)) })
}

let stood: [number, number] = [0, 0]
function pointBy(event: KeyboardEvent, point: Trail['points'][number]) {
  byArrows(event, (x, y, gesture, begins) => {
    if (begins) stood = keyOf(desk.clip!, refOf(point.key))?.value as [number, number]
    edits.moveKey(refOf(point.key), Math.round(point.frame), [stood[0] + x, stood[1] + y], gesture)
  })
}
function tangentBy(event: KeyboardEvent, point: Trail['points'][number], side: 'into' | 'out') {
  byArrows(event, (x, y, gesture, begins) => {
    if (begins) stood = tangent(point, side)
    const held: [number, number] = [stood[0] + x, stood[1] + y]
    const across: [number, number] = [-held[0], -held[1]]
    edits.tangents(refOf(point.key), side === 'into' ? held : across, side === 'into' ? across : held, gesture)
  })
}

/** A tangent as the hand has it. */
function tangent(point: Trail['points'][number], side: 'into' | 'out'): [number, number] {
  const { clip, step, name, key } = refOf(point.key)
  return project.locally('tangents', [clip, step, name, key], trail.at.value)[side] ?? [point[side][0] - point.at[0], point[side][1] - point.at[1]]
}

/** A tangent's end; Shift bends one side only. */
function dragTangent(press: PointerEvent, point: Trail['points'][number], side: 'into' | 'out') {
  const from = { into: tangent(point, 'into'), out: tangent(point, 'out') }
  followDrag(press, ({ dx, dy, event, gesture }) => {
    const held: [number, number] = [from[side][0] + dx * px.value, from[side][1] + dy * px.value]
    const other = side === 'into' ? 'out' : 'into'
    const length = Math.hypot(...from[other])
    const reach = Math.hypot(...held) || 1
    const opposite: [number, number] = event.shiftKey ? from[other] : [(-held[0] / reach) * length, (-held[1] / reach) * length]
    const [into, out] = side === 'into' ? [held, opposite] : [opposite, held]
    edits.tangents(refOf(point.key), into, out, gesture)
  })
}
</script>

<template>
  <g v-if="trail && onClip" class="trail" data-test="trail">
    <path class="shadow" :d="dashes" :stroke-width="3.5 * px" />
    <path :d="dashes" :stroke-width="1.6 * px" />
    <path :d="bars" :stroke-width="1.2 * px" />
    <g v-for="end in ends" :key="end.number" class="end">
      <path :d="end.path" :stroke-width="1.2 * px" />
      <text v-for="(at, i) in end.at" :key="i" :x="at[0]" :y="at[1] + 4 * px" :font-size="11 * px">{{ end.number }}</text>
    </g>
    <g v-for="(point, place) in trail.points" :key="point.key">
      <template v-if="inHand(point.key)">
        <g v-for="side in (['into', 'out'] as const)" :key="side" class="tangent" :data-test="`tangent-${side}`" role="slider" tabindex="0" :aria-label="`Tangent ${side === 'into' ? 'into' : 'out of'} point ${place + 1}`" :aria-valuenow="Math.round(point[side][0])" @keydown="tangentBy($event, point, side)" @pointerdown.stop="dragTangent($event, point, side)">
          <path :d="`M${point.at.join(' ')}L${point[side].join(' ')}`" :stroke-width="px" />
          <path class="tip" :d="`M${point[side][0] - 4 * px} ${point[side][1]}h${8 * px}`" :stroke-width="2.5 * px" />
          <circle :cx="point[side][0]" :cy="point[side][1]" :r="8 * px" />
        </g>
      </template>
      <g class="point" :class="{ chosen: inHand(point.key) }" data-test="path-point" role="slider" tabindex="0" :aria-label="`Point ${place + 1} of the path`" :aria-valuenow="Math.round(point.at[0])" :aria-valuetext="`${Math.round(point.at[0])} across, ${Math.round(point.at[1])} down`" @focus="inHand(point.key) || desk.chooseKey(refOf(point.key))" @keydown="pointBy($event, point)" @pointerdown.stop="dragPoint($event, point)">
        <path :d="`M${point.at[0] - 5 * px} ${point.at[1]}h${10 * px}M${point.at[0]} ${point.at[1] - 5 * px}v${10 * px}`" :stroke-width="(inHand(point.key) ? 3 : 2) * px" />
        <circle :cx="point.at[0]" :cy="point.at[1]" :r="9 * px" />
      </g>
    </g>
  </g>
</template>

<style scoped>
.trail path { fill: none; stroke: var(--bone); }
.trail .shadow { stroke: #000; opacity: 0.45; }
.end path { opacity: 0.75; }
.end text { fill: var(--bone); font-family: var(--numbers); text-anchor: middle; paint-order: stroke; stroke: #0009; stroke-width: 2px; }
.point:focus-visible, .tangent:focus-visible { outline: none; }
.point:focus-visible path, .tangent:focus-visible path { stroke: var(--now); }
circle { fill: transparent; pointer-events: all; cursor: move; touch-action: none; }
</style>
