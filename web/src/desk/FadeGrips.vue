<script setup lang="ts">
/** Where a sound has come up, and where it begins to go down: two grips at the top of the clip, drawn along it. */
import { computed } from 'vue'
import type { Clip } from '../api/client'
import { useDesk } from '../stores/desk'
import { byArrows } from '../use/arrows'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'

const props = defineProps<{ clip: Clip; scale: number; width: number; top: number }>()
const desk = useDesk()
const edits = useEdits()
const sound = computed(() => props.clip.content as Extract<Clip['content'], { kind: 'sound' }>)
/** Frames of a fade that lie within the clip: of one that was cut, the rest. */
const left = computed(() => ({ fade_in: Math.max(0, sound.value.fade_in - sound.value.fade_before), fade_out: Math.max(0, sound.value.fade_out - sound.value.fade_after) }))
const grips = computed(() => ([
  { which: 'fade_in', at: left.value.fade_in * props.scale, says: 'End of the fade in' },
  { which: 'fade_out', at: props.width - left.value.fade_out * props.scale, says: 'Beginning of the fade out' },
] as const))
type Which = 'fade_in' | 'fade_out'
const put = (which: Which, frames: number, gesture: string) => {
  const other = left.value[which === 'fade_in' ? 'fade_out' : 'fade_in']
  edits.put({ kind: 'set_fades', clips: [props.clip.id], [which]: Math.round(Math.min(Math.max(0, frames), props.clip.length - other)) }, gesture)
}
function drag(press: PointerEvent, which: Which) {
  desk.select(props.clip.id)
  const from = left.value[which]
  followDrag(press, ({ dx, gesture }) => put(which, from + (dx / props.scale) * (which === 'fade_in' ? 1 : -1), gesture))
}
let stood = 0
function byKeys(event: KeyboardEvent, which: Which) {
  byArrows(event, (x, _y, gesture, begins) => {
    if (begins) stood = left.value[which]
    put(which, stood + (which === 'fade_in' ? x : -x), gesture)
  })
}
</script>

<template>
  <div
    v-for="each in grips" :key="each.which" class="fade" :style="{ left: `${each.at - 6}px`, top: `${top}px` }" :data-test="each.which" role="slider"
    tabindex="0" :aria-label="each.says" :title="`${each.says}: drag along the sound`" :aria-valuenow="left[each.which]" aria-valuemin="0" :aria-valuemax="clip.length"
    @pointerdown.stop="drag($event, each.which)" @keydown="byKeys($event, each.which)"
  ><svg width="12" height="12"><path d="M2.500 2.500H9.500V6L6 9.500L2.500 6Z" /></svg></div>
</template>

<style scoped>
.fade { position: absolute; z-index: 3; width: 12px; height: 12px; cursor: ew-resize; touch-action: none; }
.fade svg { position: static; display: block; }
path { fill: var(--soot); stroke: var(--bone); stroke-width: 1.2; }
.fade:hover path, .fade:focus-visible path { fill: var(--bone); }
</style>
