<script setup lang="ts">
/** What is measured over a clip, in the timeline's own time: spare picture, how fast it pans, how sure a followed point is. */
import { computed } from 'vue'
import type { Clip } from '../api/client'

/** `lines` are values by frame; `limit` is drawn across, and what lies on the wrong side of it is marked; a `band` lies from one value to another at each frame. */
export interface Measure { name: string; says: string; lines: [number, number][][]; limit?: number; wrong: 'below' | 'above'; low: number; high: number; band?: [number, number, number][] }

const props = defineProps<{ clip: Clip; measure: Measure; begin: number; scale: number; width: number; height: number }>()
const x = (frame: number) => props.begin + (Math.max(0, frame) + 0.5) * props.scale
const y = (value: number) => props.height - 4 - ((value - props.measure.low) / (props.measure.high - props.measure.low || 1)) * (props.height - 8)
const trace = (line: [number, number][]) => line.map(([frame, value], i) => `${i ? 'L' : 'M'}${x(frame).toFixed(1)} ${y(value).toFixed(1)}`).join('')
/** Frames at which any line lies on the wrong side of the limit. */
const wrong = computed(() => {
  const { lines, limit, wrong } = props.measure
  if (limit === undefined) return []
  const bad = (value: number) => (wrong === 'below' ? value < limit - 0.01 : value > limit)
  return (lines[0] ?? []).flatMap(([frame], i) => (lines.some((line) => line[i] && bad(line[i][1])) ? [[frame, (lines[0][i + 1]?.[0] ?? props.clip.length) - frame]] : []))
})
</script>

<template>
  <svg :width="width" :height="height" role="img" :aria-label="measure.says">
    <title>{{ measure.says }}</title>
    <rect :x="begin" :width="clip.length * scale" :height="height" y="0" fill="var(--lane)" />
    <rect v-for="[frame, long] in wrong" :key="frame" class="wrong" :x="x(frame - 0.5)" :width="Math.max(1, long * scale)" y="0" :height="height" />
    <path v-if="measure.band" class="band" :d="`${trace(measure.band.map(([frame, low]) => [frame, low]))}L${trace(measure.band.map(([frame, , high]): [number, number] => [frame, high]).reverse()).slice(1)}Z`" />
    <path v-if="measure.limit !== undefined" class="limit" :d="`M${begin} ${y(measure.limit)}H${begin + clip.length * scale}`" />
    <path v-for="(line, i) in measure.lines" :key="i" :d="trace(line)" :stroke-dasharray="['none', '5 3', '2 3', '7 2 2 2'][i]" />
  </svg>
</template>

<style scoped>
svg { display: block; pointer-events: none; }
path { fill: none; stroke: var(--bone); stroke-width: 1.1; }
.band { fill: var(--bone); fill-opacity: 0.22; stroke: none; }
.limit { stroke: var(--muted); stroke-dasharray: 2 4; }
.wrong { fill: var(--alarm); opacity: 0.45; }
</style>
