<script setup lang="ts">
/** The followed points of the shot in hand, with their ways; dragged, one is put by hand at the playhead. */
import type { PointNow } from '../api/client'
import { computed } from 'vue'
import { useDesk } from '../stores/desk'
import { usePoints } from '../stores/points'
import { useProject } from '../stores/project'
import { byArrows } from '../use/arrows'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'

const props = defineProps<{ share: number }>()
const desk = useDesk()
const project = useProject()
const store = usePoints()
const edits = useEdits()
const px = computed(() => 1 / props.share)
const line = (points: [number, number][]) => points.map((each) => each.join(',')).join(' ')
const round = (value: number) => Math.round(value * 100) / 100

/** The way in stretches where the point is known, and where it was lost; each reaches to the next. */
const ways = computed(() => store.points.map((point) => {
  const isLost = (i: number) => point.lost.some(([first, last]) => point.sure[i][0] >= first && point.sure[i][0] <= last)
  const runs: { lost: boolean; points: [number, number][] }[] = []
  point.trail.forEach((each, i) => {
    const lost = isLost(i)
    if (runs.at(-1)?.lost !== lost) runs.push({ lost, points: runs.length ? [point.trail[i - 1]] : [] })
    runs.at(-1)!.points.push(each)
  })
  return { point, runs: runs.map(({ lost, points }) => ({ lost, points: line(points) })) }
}))

const put = (point: PointNow, [x, y]: [number, number], gesture: string) =>
  edits.put({ kind: 'mend_point', clip: store.shot!.id, point: point.id, frame: desk.local, x: round(x), y: round(y) }, gesture)

/** Where a point stands as the hand has it. */
function stood(point: PointNow): [number, number] {
  const { x, y } = project.locally('point', [store.shot!.id, point.id], store.at)
  return x === undefined || y === undefined ? point.at : [x, y]
}
function drag(press: PointerEvent, point: PointNow) {
  const [x, y] = stood(point)
  followDrag(press, ({ dx, dy, gesture }) => put(point, [x + dx * px.value, y + dy * px.value], gesture))
}
let held: [number, number] = [0, 0]
function nudge(event: KeyboardEvent, point: PointNow) {
  byArrows(event, (x, y, gesture, first) => {
    if (first) held = stood(point)
    put(point, [held[0] + x, held[1] + y], gesture)
  })
}
</script>

<template>
  <g v-for="{ point, runs } in ways" :key="point.id" class="point" data-test="point-mark">
    <template v-for="(run, i) in runs" :key="i">
      <polyline class="halo" :points="run.points" :stroke-width="(run.lost ? 4 : 3) * px" />
      <polyline :class="{ lost: run.lost }" :points="run.points" :stroke-width="(run.lost ? 2.2 : 1.1) * px" :stroke-dasharray="run.lost ? `${2 * px} ${4 * px}` : undefined" />
    </template>
    <g
      class="mark" :class="{ gone: !point.known }" role="slider" tabindex="0" :aria-label="`${point.name}: put it by hand`" :aria-valuenow="Math.round(point.at[0])"
      :aria-valuetext="`${Math.round(point.at[0])} across, ${Math.round(point.at[1])} down`" @pointerdown.stop="drag($event, point)" @keydown="nudge($event, point)"
    >
      <circle class="take" :cx="point.at[0]" :cy="point.at[1]" :r="12 * px" />
      <circle class="halo" :cx="point.at[0]" :cy="point.at[1]" :r="6 * px" :stroke-width="4 * px" />
      <circle :cx="point.at[0]" :cy="point.at[1]" :r="6 * px" :stroke-width="1.6 * px" :stroke-dasharray="point.known ? undefined : `${3 * px} ${2.3 * px}`" />
      <circle class="dot" :cx="point.at[0]" :cy="point.at[1]" :r="1.4 * px" />
      <text :x="point.at[0] + 11 * px" :y="point.at[1] - 8 * px" :font-size="12.5 * px">{{ point.name }}</text>
    </g>
  </g>
</template>

<style scoped>
polyline, circle { fill: none; stroke: var(--bone); pointer-events: none; }
.halo { stroke: #000; opacity: 0.45; }
.lost { stroke: var(--alarm); }
.mark { cursor: move; touch-action: none; }
.mark .take { stroke: none; fill: transparent; pointer-events: all; }
.dot { fill: var(--bone); stroke: none; }
.gone circle:not(.halo):not(.take):not(.dot) { stroke: var(--alarm); }
text { fill: var(--bone); paint-order: stroke; stroke: #000; stroke-width: 0.2em; font-weight: 600; pointer-events: none; }
.mark:focus-visible { outline: none; }
.mark:focus-visible circle:not(.halo):not(.take) { stroke: var(--now); }
</style>
