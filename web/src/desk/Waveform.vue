<script setup lang="ts">
/** A clip's sound over its length, as the core has it: its peaks, and the level they are heard at. */
import { watchDebounced } from '@vueuse/core'
import { computed, shallowRef } from 'vue'
import { answered, api, type Clip } from '../api/client'
import { useProject } from '../stores/project'
import { useView } from '../use/view'

const props = defineProps<{ clip: Clip; begin: number; width: number; height: number; top: number }>()
const project = useProject()
const view = useView()

/** Px of the clip that are in sight, with room on both sides, on a coarse grid so that scrolling asks seldom. */
const GRID = 800
const sight = computed(() => {
  const left = view.scrolled.value - props.begin
  const first = Math.max(0, Math.floor((left - GRID / 2) / GRID) * GRID)
  const last = Math.min(props.width, Math.ceil((left + view.room.value + GRID / 2) / GRID) * GRID)
  return { first, last: Math.max(first + 2, last) }
})
const scale = computed(() => props.width / props.clip.length)
const query = computed(() => ({
  first: sight.value.first / scale.value, last: sight.value.last / scale.value, count: Math.max(2, Math.min(4000, Math.round((sight.value.last - sight.value.first) / 1.5))),
}))
const drawn = computed(() => { const { content, opening, closing, length } = props.clip; return JSON.stringify([query.value, content, opening, closing, length]) })
const found = shallowRef<{ low: number[]; high: number[]; level: number[]; first: number; last: number } | null>(null)
let asked = 0
watchDebounced(drawn, async () => {
  const own = ++asked
  const { first, last } = query.value
  const answer = await answered(api.GET('/api/projects/{project_id}/clips/{clip_id}/peaks', { params: { path: { project_id: project.id, clip_id: props.clip.id }, query: query.value } })).catch(() => null)
  if (own === asked) found.value = answer && { ...answer, first, last }
}, { debounce: 60, maxWait: 250, immediate: true })

const lines = computed(() => {
  if (!found.value) return null
  const { low, high, level, first, last } = found.value
  const x = (i: number) => ((first + ((i + 0.5) / high.length) * (last - first)) * scale.value).toFixed(1)
  const y = (value: number) => ((props.height / 2) * (1 - Math.max(-1, Math.min(1, value)) * 0.96)).toFixed(1)
  const around = (much: (i: number) => number) => `M${high.map((value, i) => `${x(i)} ${y(value * much(i))}`).join('L')}L${low.map((value, i) => `${x(i)} ${y(value * much(i))}`).reverse().join('L')}Z`
  // Where the level is not the source's own, it is drawn as a line: at the middle it is silent, at the top as loud as it was or louder.
  const bent = level.some((each) => Math.abs(each - level[0]) > 0.002) || Math.abs(level[0] - 1) > 0.01
  return { wave: around((i) => level[i]), level: bent ? `M${level.map((value, i) => `${x(i)} ${(props.height * (1 - Math.min(1, value)) * 0.96 + 1).toFixed(1)}`).join('L')}` : '' }
})
/** Hits within the clip, px. */
const hits = computed(() => (project.courses[props.clip.id]?.hits ?? []).map(([frame, strength]) => ({ x: frame * scale.value, strength })))
</script>

<template>
  <svg class="wave" :style="{ top: `${top}px` }" :class="{ muted: 'muted' in clip.content && clip.content.muted }" :width="width" :height="height" data-test="waveform" aria-hidden="true">
    <path :d="lines?.wave ?? ''" />
    <path v-if="hits.length" class="hit" :d="hits.map(({ x, strength }) => `M${x.toFixed(1)} ${height}v${(-4 - 6 * strength).toFixed(1)}`).join('')" data-test="hits" />
    <path v-if="lines?.level" class="level" :d="lines.level" data-test="level" />
  </svg>
</template>

<style scoped>
.wave { position: absolute; left: 0; pointer-events: none; }
path { fill: var(--bone); opacity: 0.75; }
.hit { fill: none; stroke: var(--bone); stroke-width: 1.3; opacity: 1; }
.level { fill: none; stroke: var(--bone); stroke-width: 1.2; opacity: 1; }
.muted path { opacity: 0.25; }
</style>
