<script setup lang="ts">
/** How an ease runs, drawn from the core's own samples, with its ends marked along their slopes. */
import { computed } from 'vue'

const props = withDefaults(defineProps<{ points: [number, number][]; width?: number; height?: number }>(), { width: 96, height: 40 })

const x = (u: number) => 3 + u * (props.width - 6)
/** What swings below its start or past its end is shown whole. */
const low = computed(() => Math.min(0, ...props.points.map(([, v]) => v)))
const high = computed(() => Math.max(1, ...props.points.map(([, v]) => v)))
const y = (v: number) => props.height - 4 - ((v - low.value) / (high.value - low.value)) * (props.height - 8)
const thick = computed(() => (props.width < 60 ? 2.2 : 3))
const line = (from: number, to: number) =>
  props.points.slice(from, to).map(([u, v], i) => `${i ? 'L' : 'M'}${x(u).toFixed(1)} ${y(v).toFixed(1)}`).join('')
const all = computed(() => line(0, props.points.length))
const start = computed(() => line(0, 6))
const end = computed(() => line(props.points.length - 6, props.points.length))
</script>

<template>
  <svg :width="width" :height="height" aria-hidden="true">
    <path :d="`M3 ${y(0).toFixed(1)}H${width - 3}`" stroke="var(--line)" />
    <g fill="none" stroke="var(--bone)">
      <path :d="all" stroke-width="1.2" />
      <path :d="start" :stroke-width="thick" />
      <path :d="end" :stroke-width="thick" />
    </g>
  </svg>
</template>
