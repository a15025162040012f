<script setup lang="ts">
/** An exported film, played in the page: click or Space plays, the line scrubs. */
import { computed, ref } from 'vue'
import { followDrag } from '../use/gesture'

const props = defineProps<{ src: string; rate: number }>()
const video = ref<HTMLVideoElement | null>(null)
const playing = ref(false)
const now = ref(0)
const length = ref(0)

const says = (seconds: number) => {
  const frames = Math.round(seconds * props.rate)
  const base = Math.ceil(props.rate)
  const two = (value: number) => String(value).padStart(2, '0')
  return `${two(Math.floor(frames / base / 60))}:${two(Math.floor(frames / base) % 60)}:${two(frames % base)}`
}
const share = computed(() => (length.value ? now.value / length.value : 0))

function toggle() {
  if (!video.value) return
  if (video.value.paused) void video.value.play()
  else video.value.pause()
}
function seek(event: PointerEvent) {
  const box = (event.currentTarget as Element).getBoundingClientRect()
  const to = (at: PointerEvent) => { if (video.value) video.value.currentTime = Math.min(1, Math.max(0, (at.clientX - box.left) / box.width)) * length.value }
  to(event)
  followDrag(event, (drag) => to(drag.event))
}
function key(event: KeyboardEvent) {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
  if (by && video.value) video.value.currentTime = Math.min(length.value, Math.max(0, now.value + by / props.rate))
}
</script>

<template>
  <div class="player">
    <video
      ref="video" :src="src" preload="auto" data-test="film" @click="toggle" @play="playing = true" @pause="playing = false" @ended="playing = false"
      @timeupdate="now = video?.currentTime ?? 0" @seeked="now = video?.currentTime ?? 0" @loadedmetadata="length = video?.duration ?? 0"
    />
    <div class="line">
      <button :aria-label="playing ? 'Pause the film' : 'Play the film'" @click="toggle">
        <svg width="14" height="14"><path v-if="playing" d="M4.500 2V12M9.500 2V12" /><path v-else d="M3.500 2L11 7L3.500 12Z" /></svg>
      </button>
      <svg
        class="scrub" height="14" width="100%" preserveAspectRatio="none" role="slider" tabindex="0" aria-label="Where in the film" :aria-valuenow="now" aria-valuemin="0" :aria-valuemax="length"
        :aria-valuetext="says(now)" @pointerdown="seek" @keydown="key"
      >
        <rect x="0" y="6.500" width="100%" height="1" fill="var(--tick)" /><rect x="0" y="5.500" :width="`${share * 100}%`" height="3" fill="var(--bone)" />
      </svg>
      <span class="numbers muted">{{ says(now) }}</span>
    </div>
  </div>
</template>

<style scoped>
video { width: 100%; display: block; background: #000; cursor: pointer; }
/* What is seen through it is the page. */
.clear video { background: none; }
.line { display: flex; align-items: center; gap: 8px; padding-top: 4px; }
button svg { display: block; fill: none; stroke: var(--bone); stroke-width: 1.3; }
.scrub { flex: 1; cursor: pointer; touch-action: none; }
.numbers { font-size: 12.5px; }
</style>
