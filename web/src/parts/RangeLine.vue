<script setup lang="ts">
/** In and out of a source: a line with two ends to be dragged, or moved by arrow keys. */
import { followDrag } from '../use/gesture'

const props = defineProps<{ length: number; first: number; last: number; label: string }>()
const emit = defineEmits<{ change: [first: number, last: number] }>()
const WIDTH = 148
const x = (frame: number) => 4 + (frame / Math.max(1, props.length)) * (WIDTH - 8)

function set(end: 'first' | 'last', to: number) {
  const frame = Math.min(Math.max(Math.round(to), 0), props.length - 1)
  if (end === 'first') emit('change', Math.min(frame, props.last), props.last)
  else emit('change', props.first, Math.max(frame, props.first))
}
function drag(press: PointerEvent, end: 'first' | 'last') {
  const from = props[end]
  followDrag(press, ({ dx }) => set(end, from + (dx / (WIDTH - 8)) * props.length))
}
function key(event: KeyboardEvent, end: 'first' | 'last') {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
  if (by) set(end, props[end] + by * (event.shiftKey ? 10 : 1))
}
</script>

<template>
  <svg :width="WIDTH" height="16" draggable="true" @dragstart.prevent.stop>
    <path :d="`M4 8H${WIDTH - 4}`" class="whole" />
    <path :d="`M${x(first)} 8H${x(last + 1)}`" class="part" />
    <g v-for="end in (['first', 'last'] as const)" :key="end">
      <path :d="`M${x(end === 'first' ? first : last + 1)} 2V14`" class="end" />
      <rect
        :x="x(end === 'first' ? first : last + 1) - 5" y="0" width="10" height="16" role="slider" tabindex="0" :aria-label="`${end === 'first' ? 'In' : 'Out'} of ${label}`"
        :aria-valuenow="end === 'first' ? first : last" :aria-valuemin="0" :aria-valuemax="length - 1" @pointerdown.stop="drag($event, end)" @keydown="key($event, end)"
      />
    </g>
  </svg>
</template>

<style scoped>
.whole { stroke: var(--tick); }
.part { stroke: var(--bone); stroke-width: 3; }
.end { stroke: var(--bone); stroke-width: 1.5; }
rect { fill: transparent; cursor: ew-resize; touch-action: none; }
</style>
