<script setup lang="ts">
/** A transition where it lies: its ease drawn across it, its shape as a sign, its length to be dragged. */
import { computed } from 'vue'
import type { Clip, ClipCourse } from '../api/client'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'
import { useDesk } from '../stores/desk'

const props = defineProps<{ clip: Clip; join: ClipCourse['joins'][number]; scale: number; height: number }>()
const edits = useEdits()
const desk = useDesk()
const left = computed(() => props.join.first * props.scale)
const width = computed(() => Math.max(3, props.join.length * props.scale))
/** What the new picture's edge looks like half-way. */
const sign = computed(() => {
  const [w, h] = [width.value, props.height]
  return {
    dissolve: `M0 ${h - 2}C${w / 2} ${h - 2} ${w / 2} 2 ${w} 2M0 2C${w / 2} 2 ${w / 2} ${h - 2} ${w} ${h - 2}`, dip: `M0 0L${w / 2} ${h}L${w} 0`, wipe: `M0 ${h}L${w} 0`,
    ellipse: `M${w / 2} 2A${w / 2 - 1} ${h / 2 - 2} 0 1 0 ${w / 2 + 0.1} 2Z`, rectangle: `M${w * 0.2} ${h * 0.2}H${w * 0.8}V${h * 0.8}H${w * 0.2}Z`,
    slide: `M0 ${h / 2}H${w - 1}M${w - 1} ${h / 2}l-5 -4M${w - 1} ${h / 2}l-5 4`,
  }[props.join.kind] ?? ''
})

function drag(press: PointerEvent) {
  const transition = props.clip[props.join.end]!
  const from = props.join.asked
  // Between neighbours both halves grow, so one end moves half as far.
  const times = (props.join.between ? 2 : 1) * (props.join.end === 'closing' ? -1 : 1)
  followDrag(press, ({ dx, gesture }) => {
    const length = Math.max(1, Math.round(from + (dx / props.scale) * times))
    edits.transition(props.clip.id, props.join.end, { ...transition, length }, gesture)
  }, (moved) => { if (!moved) { desk.select(props.clip.id); desk.openRow = 'clip' } })
}
</script>

<template>
  <div class="join" :style="{ left: `${left}px`, width: `${width}px`, height: `${height}px` }" :title="`${join.kind}, ${join.length} frames: drag its length`" data-test="join" @pointerdown.stop="drag">
    <svg :width="width" :height="height" preserveAspectRatio="none"><rect width="100%" height="100%" /><path :d="sign" /></svg>
  </div>
</template>

<style scoped>
.join { position: absolute; top: 0; cursor: ew-resize; z-index: 2; touch-action: none; }
.join svg { position: absolute; inset: 0; overflow: hidden; }
rect { fill: #17151399; stroke: #ece4d8; stroke-width: 1; }
path { fill: none; stroke: #ece4d8; stroke-width: 1.2; }
</style>
