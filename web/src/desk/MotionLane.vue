<script setup lang="ts">
/** One property over the clip's own time: the curve thickens at its keys, a tick stands on the floor at each. */
import { computed } from 'vue'
import type { Clip, Curve } from '../api/client'

const props = defineProps<{ clip: Clip; curve: Curve; scale: number; width: number }>()
const HEIGHT = 38

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
const marks = computed(() => props.curve.keys.map(([frame]) => {
  const reach = 7 / props.scale
  const last = props.clip.length - 1
  const from = Math.max(0, frame - reach)
  const to = Math.min(last, frame + reach)
  const points: [number, number][] = [0, 0.25, 0.5, 0.75, 1].map((share) => {
    const f = from + (to - from) * share
    return [f, at(f)]
  })
  return { frame, path: trace(points) }
}))
</script>

<template>
  <svg :width="width" :height="HEIGHT" class="motion-lane" aria-hidden="true">
    <rect :x="x(-0.5)" :width="clip.length * scale" :height="HEIGHT" y="0" fill="#1c1916" />
    <path :d="`M${x(-0.5)} ${HEIGHT - 4.500}H${x(clip.length - 0.5)}`" stroke="var(--line)" />
    <path :d="path" fill="none" stroke="var(--bone)" stroke-width="1.1" />
    <g v-for="mark in marks" :key="mark.frame" fill="none" stroke="var(--bone)">
      <path :d="mark.path" stroke-width="3.2" />
      <path :d="`M${x(mark.frame)} ${HEIGHT - 8}V${HEIGHT - 1}`" stroke="var(--muted)" />
    </g>
  </svg>
</template>

<style scoped>
.motion-lane { display: block; }
</style>
