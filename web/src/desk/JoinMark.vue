<script setup lang="ts">
/** A transition where it lies: the two pictures overlapping, each with its knee, and its shape as a sign; its length to be dragged. */
import { computed, ref } from 'vue'
import type { Clip, ClipCourse } from '../api/client'
import { byArrows } from '../use/arrows'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'
import { useDesk } from '../stores/desk'

const props = defineProps<{ clip: Clip; join: ClipCourse['joins'][number]; scale: number; height: number }>()
const edits = useEdits()
const desk = useDesk()
const left = computed(() => props.join.first * props.scale)
const width = computed(() => Math.max(3, props.join.length * props.scale))
/** Of two neighbours the one that leaves lies behind and goes on to the end; the one that comes lies before it, lower, from the beginning. */
const STEP = 5
const cards = computed(() => {
  const [w, h] = [width.value, props.height]
  const knee = Math.min(9, w / 2, h / 2)
  const leaves = { line: `M0 1.500H${w - knee}Q${w} 1.500 ${w} ${1.5 + knee}V${h}`, area: `M0 1.500H${w - knee}Q${w} 1.500 ${w} ${1.5 + knee}V${h}H0Z` }
  const top = props.join.between ? 1.5 + STEP : 1.5
  const comes = { line: `M0 ${h}V${top + knee}Q0 ${top} ${knee} ${top}H${w}`, area: `M0 ${h}V${top + knee}Q0 ${top} ${knee} ${top}H${w}V${h}Z` }
  if (props.join.between) return [leaves, comes]
  return [props.join.end === 'opening' ? comes : leaves]
})
/** What the new picture's edge looks like half-way, small, where there is room. */
const sign = computed(() => ({
  dissolve: '', dip: 'M-5 -4L0 4L5 -4', wipe: 'M-4 5L4 -5', ellipse: 'M-5 0A5 3.500 0 1 0 5 0A5 3.500 0 1 0 -5 0', rectangle: 'M-5 -3.500H5V3.500H-5Z', slide: 'M-5 0H5M5 0l-3.500 -3M5 0l-3.500 3',
}[props.join.kind] ?? ''))

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

const stood = ref(0)
function byKeys(event: KeyboardEvent) {
  const transition = props.clip[props.join.end]
  if (!transition) return
  byArrows(event, (x, _y, gesture, begins) => {
    if (begins) stood.value = props.join.asked
    edits.transition(props.clip.id, props.join.end, { ...transition, length: Math.max(1, stood.value + x) }, gesture)
  })
}
</script>

<template>
  <div class="join" :style="{ left: `${left}px`, width: `${width}px`, height: `${height}px` }" :title="`${join.kind}, ${join.length} frames: drag its length`" data-test="join" role="slider" :tabindex="desk.selected === clip.id ? 0 : -1" :aria-label="`${join.kind}: length`" :aria-valuenow="join.length" @pointerdown.stop="drag" @keydown="byKeys">
    <svg :width="width" :height="height">
      <g v-for="(card, i) in cards" :key="i"><path class="area" :d="card.area" /><path class="halo" :d="card.line" /><path :d="card.line" /></g>
      <path v-if="sign && width > 20" :d="sign" :transform="`translate(${width / 2} ${(height + STEP) / 2})`" />
    </svg>
  </div>
</template>

<style scoped>
.join { position: absolute; top: 0; cursor: ew-resize; z-index: 2; touch-action: none; }
.join svg { position: absolute; inset: 0; overflow: visible; }
path { fill: none; stroke: #ece4d8; stroke-width: 1.4; }
.halo { stroke: #171513b3; stroke-width: 4; }
.area { fill: #17151340; stroke: none; }
</style>
