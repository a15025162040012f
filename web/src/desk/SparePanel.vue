<script setup lang="ts">
/** What a camera leaves of the picture past the frame, over the clip, and how fast it pans beside what does not judder. */
import { computed } from 'vue'
import type { ClipCourse } from '../api/client'
import { useDesk } from '../stores/desk'
import { useEdits } from '../use/edits'

const props = defineProps<{ camera: NonNullable<ClipCourse['camera']>; length: number; clip: string; move: string | null }>()
const desk = useDesk()
const edits = useEdits()
const fill = (by: 'shift' | 'slow') => edits.put({ kind: 'fill_move', clip: props.clip, step: props.move!, by })

const WIDE = 300
const HIGH = 34
const x = (frame: number) => (Math.max(0, frame) / Math.max(1, props.length - 1)) * WIDE
const most = computed(() => Math.max(8, ...props.camera.spare.map((each) => Math.max(...each.slice(1)))))
const lowest = computed(() => Math.min(0, ...props.camera.spare.map((each) => Math.min(...each.slice(1)))))
const y = (px: number) => 2 + (HIGH - 4) * (1 - (px - lowest.value) / (most.value - lowest.value))
const line = (side: number) => props.camera.spare.map((each, i) => `${i ? 'L' : 'M'}${x(each[0]).toFixed(1)} ${y(each[side]).toFixed(1)}`).join('')
const SIDES = [[1, 'left'], [2, 'above'], [3, 'right'], [4, 'below']] as const
const now = computed(() => [...props.camera.spare].reverse().find((each) => each[0] <= desk.local) ?? props.camera.spare[0])
const px = (value: number) => `${Math.round(value * 10) / 10}`

const fastest = computed(() => Math.max(0.1, ...props.camera.pans.map((each) => each[1])))
const top = computed(() => Math.max(fastest.value, props.camera.limit) * 1.15)
const pan = computed(() => props.camera.pans.map((each, i) => `${i ? 'L' : 'M'}${x(each[0]).toFixed(1)} ${(HIGH - 2 - (HIGH - 4) * (each[1] / top.value)).toFixed(1)}`).join(''))
const limit = computed(() => HIGH - 2 - (HIGH - 4) * (props.camera.limit / top.value))
const speed = computed(() => ([...props.camera.pans].reverse().find((each) => each[0] <= desk.local) ?? [0, 0])[1])
</script>

<template>
  <div class="spare" data-test="spare">
    <p>
      <template v-if="camera.holder">{{ camera.filled > 1.0005 ? `Shown ${((camera.filled - 1) * 100).toFixed(1)} % larger to keep the frame filled` : 'The frame is filled as it is' }}, </template>
      {{ camera.holder ? 'its' : 'Its' }} px at up to {{ Math.round(100 * camera.enlarged) }} % of their own size.
    </p>
    <p v-if="move && camera.filled > 1.0005">
      <span class="muted">or</span> <button class="act" data-test="fill-shift" title="Each framing onto the picture" @click="fill('shift')">shift the framings</button>
      <button class="act" data-test="fill-slow" title="Less far in the same time" @click="fill('slow')">slow it down</button>
    </p>
    <svg :viewBox="`0 0 ${WIDE} ${HIGH}`" preserveAspectRatio="none" role="img" :aria-label="`Spare picture at the playhead: ${SIDES.map(([i, word]) => `${px(now[i])} px ${word}`).join(', ')}`">
      <line class="zero" x1="0" :x2="WIDE" :y1="y(0)" :y2="y(0)" />
      <path v-for="[i, word] in SIDES" :key="word" :class="`side-${i}`" :d="line(i)" />
      <line class="at" :x1="x(desk.local)" :x2="x(desk.local)" y1="0" :y2="HIGH" />
    </svg>
    <p class="muted">spare: <span v-for="[i, word] in SIDES" :key="word" :class="{ alarm: now[i] < -0.01 }">{{ px(now[i]) }} px {{ word }}{{ i < 4 ? ', ' : '' }}</span></p>
    <template v-if="fastest > 0.2">
      <svg :viewBox="`0 0 ${WIDE} ${HIGH}`" preserveAspectRatio="none" role="img" :aria-label="`Pan speed: ${speed.toFixed(1)} % of the frame a second`">
        <line class="limit" x1="0" :x2="WIDE" :y1="limit" :y2="limit" />
        <path class="pan" :d="pan" />
        <line class="at" :x1="x(desk.local)" :x2="x(desk.local)" y1="0" :y2="HIGH" />
      </svg>
      <p class="muted" :class="{ alarm: speed > camera.limit }">pans {{ speed.toFixed(1) }} % of the frame a second{{ speed > 0.1 ? `, a frame's width in ${(100 / speed).toFixed(1)} s` : '' }}; strobing limit {{ camera.limit.toFixed(0) }}&nbsp;%</p>
    </template>
  </div>
</template>

<style scoped>
.spare { font-size: 12.5px; padding: 4px 16px 6px 0; }
.spare p { margin: 2px 0; }
svg { display: block; width: 100%; max-width: 340px; height: 34px; background: var(--lane); }
path { fill: none; stroke: var(--bone); stroke-width: 1.2; vector-effect: non-scaling-stroke; }
.side-2, .side-4 { stroke-dasharray: 4 3; }
.side-3, .side-4 { opacity: 0.6; }
.zero { stroke: var(--muted); }
.limit { stroke: var(--muted); stroke-dasharray: 2 3; }
.at { stroke: var(--now); }
.alarm { color: var(--alarm); }
</style>
