<script setup lang="ts">
/** When a move on a clip begins and ends, as a line along its upper edge with two grips: before and after it rests. */
import { computed } from 'vue'
import type { Clip, Curve } from '../api/client'
import { byArrows } from '../use/arrows'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'

const props = defineProps<{ clip: Clip; curve: Curve; scale: number; chosen: boolean }>()
const edits = useEdits()

/** Of a clip that was cut, the part of the move that it has. */
const within = (frame: number) => Math.min(Math.max(frame, 0), props.clip.length - 1)
const first = computed(() => within(props.curve.keys[0][0]))
const last = computed(() => within(props.curve.keys.at(-1)![0]))
const x = (frame: number) => (frame + 0.5) * props.scale
const END = { head: 'Where the move begins', tail: 'Where the move ends' }

function rest(end: 'head' | 'tail', frame: number, gesture: string) {
  const at = Math.round(end === 'head' ? Math.min(Math.max(frame, 0), last.value - 1) : Math.max(Math.min(frame, props.clip.length - 1), first.value + 1))
  edits.put({ kind: 'change_move', clip: props.clip.id, step: props.curve.step, ...(end === 'head' ? { head: at } : { tail: props.clip.length - 1 - at }) }, gesture)
}
function drag(press: PointerEvent, end: 'head' | 'tail') {
  const from = end === 'head' ? first.value : last.value
  followDrag(press, ({ dx, gesture }) => rest(end, from + dx / props.scale, gesture))
}
let held = 0
function byKey(event: KeyboardEvent, end: 'head' | 'tail') {
  byArrows(event, (by, _, gesture, begins) => {
    if (begins) held = end === 'head' ? first.value : last.value
    rest(end, held + by, gesture)
  })
}
</script>

<template>
  <svg class="line" :width="Math.max(1, x(clip.length))" height="7" aria-hidden="true"><path :d="`M${x(first)} 0.500v5M${x(first)} 3H${x(last)}M${x(last)} 0.500v5`" /></svg>
  <div
    v-for="end in (['head', 'tail'] as const)" :key="end" class="grip" :style="{ left: `${x(end === 'head' ? first : last) - 6}px` }" :title="END[end]" :data-test="`move-${end}`" role="slider"
    :tabindex="chosen ? 0 : -1" :aria-label="END[end]" :aria-valuenow="Math.round(end === 'head' ? first : last)" @pointerdown.stop="drag($event, end)" @keydown="byKey($event, end)"
  />
</template>

<style scoped>
.line { position: absolute; left: 0; top: -1px; z-index: 2; pointer-events: none; overflow: visible; }
.line path { fill: none; stroke: var(--now); stroke-width: 1.5; }
.grip { position: absolute; top: -4px; width: 12px; height: 12px; z-index: 3; cursor: ew-resize; touch-action: none; }
.grip:focus-visible { outline: 1px solid var(--now); }
</style>
