<script setup lang="ts">
/** Three handles on the picture of what stands in space: across, down and away, as its camera sees them. */
import { computed } from 'vue'
import { useDesk } from '../stores/desk'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'
import { useSurroundings } from '../use/surroundings'

const props = defineProps<{ clip: string; share: number }>()
const desk = useDesk()
const edits = useEdits()
const now = useSurroundings(() => true, () => props.clip)
const plane = computed(() => now.value?.planes.find((each) => each.clip === props.clip) ?? null)
const px = computed(() => 1 / props.share)
const AXES = ['x', 'y', 'z'] as const
const NAMES = { x: 'across', y: 'down', z: 'away' }

interface Grip { axis: 'x' | 'y' | 'z'; at: [number, number]; to: [number, number]; way: [number, number]; base: number }
/** As long on the screen whatever is seen of them; one that points at the eye is left out. */
const grips = computed<Grip[]>(() => {
  const seen = plane.value?.seen
  if (!seen) return []
  const [at, ...ends] = seen as [number, number][]
  return AXES.flatMap((axis, n) => {
    const way: [number, number] = [ends[n][0] - at[0], ends[n][1] - at[1]]
    const long = Math.hypot(...way)
    if (long < 4) return []
    const by = (58 * px.value) / long
    return [{ axis, at, to: [at[0] + way[0] * by, at[1] + way[1] * by] as [number, number], way, base: plane.value!.place[n] }]
  })
})
function pull(event: PointerEvent, { axis, way, base }: Grip) {
  const { clip, step } = plane.value!
  const square = way[0] ** 2 + way[1] ** 2
  followDrag(event, ({ dx, dy, gesture, event: at }) => {
    const along = ((dx * way[0] + dy * way[1]) * px.value * 100) / square
    edits.value(clip, step, axis, Math.round(base + along * (at.ctrlKey ? 0.1 : 1)), gesture)
  })
}
</script>

<template>
  <g v-if="!desk.playing" class="axes" data-test="axes">
    <g v-for="grip in grips" :key="grip.axis" class="axis" :data-axis="grip.axis" @pointerdown.stop="pull($event, grip)">
      <line class="wide" :x1="grip.at[0]" :y1="grip.at[1]" :x2="grip.to[0]" :y2="grip.to[1]" :stroke-width="14 * px" />
      <line class="under" :x1="grip.at[0]" :y1="grip.at[1]" :x2="grip.to[0]" :y2="grip.to[1]" :stroke-width="4 * px" />
      <line :x1="grip.at[0]" :y1="grip.at[1]" :x2="grip.to[0]" :y2="grip.to[1]" :stroke-width="2 * px" />
      <rect :x="grip.to[0] - 5 * px" :y="grip.to[1] - 5 * px" :width="10 * px" :height="10 * px" :stroke-width="px" />
      <text :x="grip.to[0] + (grip.to[0] < grip.at[0] ? -9 : 9) * px" :y="grip.to[1] + 4 * px" :text-anchor="grip.to[0] < grip.at[0] ? 'end' : 'start'" :font-size="12.5 * px" :stroke-width="4 * px">{{ NAMES[grip.axis] }}</text>
    </g>
  </g>
</template>

<style scoped>
.axis { cursor: grab; pointer-events: all; }
line { stroke: var(--bone); }
.wide { stroke: transparent; }
.under { stroke: #131110; }
rect { fill: var(--bone); stroke: #131110; }
text { fill: var(--bone); paint-order: stroke; stroke: #131110; stroke-linejoin: round; user-select: none; }
</style>
