<script setup lang="ts">
/** A small curve over the clip: what moves, at a glance. */
import { computed } from 'vue'

const props = withDefaults(defineProps<{ points: [number, number][]; width?: number; height?: number; at?: number | null; keys?: number[] }>(),
  { width: 52, height: 16, at: null, keys: () => [] })

const span = computed(() => {
  const xs = props.points.map((point) => point[0])
  const ys = props.points.map((point) => point[1])
  return { x0: Math.min(...xs), x1: Math.max(...xs), y0: Math.min(...ys), y1: Math.max(...ys) }
})
const x = (frame: number) => 1 + ((frame - span.value.x0) / (span.value.x1 - span.value.x0 || 1)) * (props.width - 2)
const y = (value: number) => props.height - 2 - ((value - span.value.y0) / (span.value.y1 - span.value.y0 || 1)) * (props.height - 4)
const path = computed(() => props.points.map(([frame, value], i) => `${i ? 'L' : 'M'}${x(frame).toFixed(1)} ${y(value).toFixed(1)}`).join(''))
</script>

<template>
  <svg :width="width" :height="height" aria-hidden="true">
    <path v-if="points.length > 1" :d="path" fill="none" stroke="var(--bone)" stroke-width="1.1" />
    <path v-if="keys.length" :d="keys.map((key) => `M${x(key).toFixed(1)} ${height}v-4`).join('')" stroke="var(--bone)" stroke-width="1.5" />
    <path v-if="at !== null" :d="`M${x(at)} 0V${height}`" stroke="var(--now)" opacity="0.8" />
  </svg>
</template>
