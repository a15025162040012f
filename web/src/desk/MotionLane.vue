<script setup lang="ts">
/** One property over the clip's own time: the curve thickens at its keys, a tick stands on the floor at each. */
import { computed } from 'vue'
import type { Clip, Curve } from '../api/client'
import { useDesk } from '../stores/desk'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'

const props = defineProps<{ clip: Clip; curve: Curve; scale: number; width: number }>()
const HEIGHT = 38
const desk = useDesk()
const edits = useEdits()

const range = computed(() => {
  const values = props.curve.points.map((point) => point[1])
  return { low: Math.min(...values), high: Math.max(...values) }
})
const x = (frame: number) => (props.clip.head + frame + 0.5) * props.scale
const y = (value: number) => HEIGHT - 8 - ((value - range.value.low) / (range.value.high - range.value.low || 1)) * (HEIGHT - 14)
const trace = (points: [number, number][]) => points.map(([frame, value], i) => `${i ? 'L' : 'M'}${x(frame).toFixed(2)} ${y(value).toFixed(2)}`).join('')
const path = computed(() => trace(props.curve.points))

/** The value between two samples, for marks a few px long on either side of a key. */
function at(frame: number): number {
  const points = props.curve.points
  let after = points.findIndex((point) => point[0] >= frame)
  if (after < 0) after = points.length - 1
  if (after === 0) return points[0][1]
  const [f0, v0] = points[after - 1]
  const [f1, v1] = points[after]
  return v0 + ((v1 - v0) * (frame - f0)) / (f1 - f0 || 1)
}
const marks = computed(() => props.curve.keys.map(([frame, value, index]) => {
  const reach = 7 / props.scale
  const last = props.clip.length - 1
  const from = Math.max(0, frame - reach)
  const to = Math.min(last, frame + reach)
  const points: [number, number][] = [0, 0.25, 0.5, 0.75, 1].map((share) => {
    const f = from + (to - from) * share
    return [f, at(f)]
  })
  const chosen = desk.key?.step === props.curve.step && desk.key.name === props.curve.name && desk.key.index === index
  return { frame, value, index, chosen, path: trace(points) }
}))

/** A key follows the pointer in time and value; Shift keeps its value. */
function drag(press: PointerEvent, mark: { frame: number; value: number; index: number }) {
  const { clip, curve, scale } = props
  desk.key = { step: curve.step, name: curve.name, index: mark.index }
  const { low, high } = range.value
  const unit = (high - low || Math.abs(high) || 1) / (HEIGHT - 14)
  followDrag(press, ({ dx, dy, event, gesture }) => {
    const frame = Math.min(Math.max(Math.round(mark.frame + dx / scale), 0), clip.length - 1)
    const value = event.shiftKey || Math.abs(dy) < 4 ? null : mark.value - dy * unit
    edits.moveKey(clip.id, curve.step, curve.name, mark.index, frame, value, gesture)
  }, (moved) => { if (!moved) desk.goTo(clip.head + Math.round(mark.frame)) })
}

function add(event: MouseEvent) {
  const box = (event.currentTarget as Element).getBoundingClientRect()
  const frame = Math.floor((event.clientX - box.left) / props.scale) - props.clip.head
  if (frame >= 0 && frame < props.clip.length) edits.addKey(props.clip.id, props.curve.step, props.curve.name, frame)
}
</script>

<template>
  <svg :width="width" :height="HEIGHT" class="motion-lane" @dblclick="add">
    <title>Double-click to add a key; drag a key in time and value</title>
    <rect :x="x(-0.5)" :width="clip.length * scale" :height="HEIGHT" y="0" fill="var(--lane)" />
    <path :d="`M${x(-0.5)} ${HEIGHT - 4.500}H${x(clip.length - 0.5)}`" stroke="var(--line)" />
    <path :d="path" fill="none" stroke="var(--bone)" stroke-width="1.1" />
    <!-- Keyed by the key itself: its frame changes while it is dragged. -->
    <g v-for="mark in marks" :key="mark.index" fill="none" stroke="var(--bone)">
      <path :d="mark.path" :stroke-width="mark.chosen ? 5 : 3.2" />
      <path :d="`M${x(mark.frame)} ${HEIGHT - 8}V${HEIGHT - 1}`" :stroke="mark.chosen ? 'var(--bone)' : 'var(--muted)'" :stroke-width="mark.chosen ? 2 : 1" />
      <rect
        class="grip" :x="x(mark.frame) - 7" y="0" width="14" :height="HEIGHT" tabindex="0" role="button" :aria-label="`Key at frame ${Math.round(mark.frame)}`"
        data-test="key" @pointerdown.stop="drag($event, mark)" @dblclick.stop
        @keydown.delete.stop.prevent="edits.removeKey(clip.id, curve.step, curve.name, mark.index)"
        @focus="desk.key = { step: curve.step, name: curve.name, index: mark.index }"
      />
    </g>
  </svg>
</template>

<style scoped>
.motion-lane { display: block; }
.grip { fill: transparent; stroke: none; cursor: move; touch-action: none; }
.grip:focus-visible { outline: 1px solid var(--bone); }
</style>
