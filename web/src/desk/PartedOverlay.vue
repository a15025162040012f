<script setup lang="ts">
/** Another picture left of a line that can be dragged: the film before a step, or a reference. */
import { ref } from 'vue'
import { byArrows } from '../use/arrows'
import { followDrag } from '../use/gesture'

const props = defineProps<{ src: string; left: string; right: string; width: number }>()
/** Where the line stands, as a share of the picture's width. */
const at = ref(0.5)
const put = (share: number) => { at.value = Math.min(1, Math.max(0, share)) }

function drag(press: PointerEvent) {
  const from = at.value
  followDrag(press, ({ dx }) => put(from + dx / props.width))
}
const stood = ref(0)
</script>

<template>
  <div class="parted" data-test="parted">
    <img :src="src" :alt="left" :style="{ clipPath: `inset(0 ${100 - 100 * at}% 0 0)` }" />
    <span v-if="at > 0.12" class="tag" :style="{ right: `${100 - 100 * at}%` }">{{ left }}</span>
    <span v-if="at < 0.88" class="tag" :style="{ left: `${100 * at}%` }">{{ right }}</span>
    <div
      class="line" role="slider" tabindex="0" :aria-label="`Line between ${left} and ${right}`" :aria-valuenow="Math.round(100 * at)" aria-valuemin="0" aria-valuemax="100" :style="{ left: `${100 * at}%` }"
      @pointerdown="drag" @keydown="byArrows($event, (x, _y, _gesture, begins) => { if (begins) stood = at; put(stood + x / 100) })"
    />
  </div>
</template>

<style scoped>
.parted { position: absolute; inset: 0; z-index: 3; pointer-events: none; }
img { position: absolute; inset: 0; width: 100%; height: 100%; object-fit: cover; }
.line { position: absolute; top: 0; bottom: 0; width: 11px; margin-left: -5px; cursor: ew-resize; pointer-events: all; touch-action: none; background: linear-gradient(90deg, transparent 5px, var(--bone) 5px 6px, transparent 6px); }
.tag { position: absolute; top: 8px; margin: 0 8px; background: #171513cc; color: #ece4d8; padding: 1px 6px; font-size: 12.5px; }
</style>
