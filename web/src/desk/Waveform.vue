<script setup lang="ts">
/** A clip's sound over its length, as the core has it. */
import { watchDebounced } from '@vueuse/core'
import { computed, shallowRef } from 'vue'
import { answered, api, type Clip } from '../api/client'
import { useProject } from '../stores/project'

const props = defineProps<{ clip: Clip; width: number; height: number; top: number }>()
const project = useProject()

const part = computed(() => {
  const content = props.clip.content
  if (content.kind !== 'sound' && content.kind !== 'footage') return null
  const begin = content.start / project.rate
  return { media: content.media, begin, end: begin + (props.clip.length * content.speed) / project.rate, count: Math.max(2, Math.min(2000, Math.round(props.width / 1.5))) }
})
const found = shallowRef<{ low: number[]; high: number[] } | null>(null)
let asked = 0
watchDebounced(() => JSON.stringify(part.value), async () => {
  const own = ++asked
  if (!part.value || part.value.end <= part.value.begin) return
  const { media, ...query } = part.value
  const answer = await answered(api.GET('/api/projects/{project_id}/media/{media_id}/peaks', { params: { path: { project_id: project.id, media_id: media }, query } })).catch(() => null)
  if (own === asked) found.value = answer
}, { debounce: 60, immediate: true })

const gain = computed(() => {
  const content = props.clip.content
  if (content.kind !== 'sound' && content.kind !== 'footage') return 1
  const now = content.gain
  return now.state === 'fixed' && typeof now.value === 'number' ? 10 ** (now.value / 20) : 1
})
const path = computed(() => {
  if (!found.value) return ''
  const { low, high } = found.value
  const x = (i: number) => ((i / (high.length - 1)) * props.width).toFixed(1)
  const y = (value: number) => ((props.height / 2) * (1 - Math.max(-1, Math.min(1, value * gain.value)) * 0.96)).toFixed(1)
  return `M${high.map((value, i) => `${x(i)} ${y(value)}`).join('L')}L${low.map((value, i) => `${x(i)} ${y(value)}`).reverse().join('L')}Z`
})
/** Hits within the clip, px. */
const hits = computed(() => {
  const content = props.clip.content
  if (content.kind !== 'sound') return []
  const scale = props.width / props.clip.length
  return content.hits.map((hit) => ({ x: ((hit.at * project.rate - content.start) / content.speed) * scale, strength: hit.strength })).filter(({ x }) => x >= 0 && x <= props.width)
})
/** Fades as they are heard: a quarter of a sine. */
const fades = computed(() => {
  const content = props.clip.content
  if (content.kind !== 'sound') return []
  const scale = props.width / props.clip.length
  // Of a sound that was cut, what is left of a fade.
  const curve = (over: number, gone: number, from: number, way: 1 | -1) => Array.from({ length: 13 }, (_, i) => gone + (i / 12) * (over - gone))
    .map((frame) => `${(from + way * (frame - gone) * scale).toFixed(1)} ${(props.height * (1 - Math.sin(((frame / over) * Math.PI) / 2))).toFixed(1)}`).join('L')
  return [content.fade_in && `M${curve(content.fade_in, content.fade_before, 0, 1)}`, content.fade_out && `M${curve(content.fade_out, content.fade_after, props.width, -1)}`].filter(Boolean) as string[]
})
</script>

<template>
  <svg class="wave" :style="{ top: `${top}px` }" :class="{ muted: clip.content.kind !== 'text' && 'muted' in clip.content && clip.content.muted }" :width="width" :height="height" data-test="waveform" aria-hidden="true">
    <path :d="path" />
    <path v-if="hits.length" class="hit" :d="hits.map(({ x, strength }) => `M${x.toFixed(1)} ${height}v${(-4 - 6 * strength).toFixed(1)}`).join('')" data-test="hits" />
    <path v-for="each in fades" :key="each" class="fade" :d="each" />
  </svg>
</template>

<style scoped>
.wave { position: absolute; left: 0; pointer-events: none; }
path { fill: var(--bone); opacity: 0.75; }
.hit { fill: none; stroke: var(--bone); stroke-width: 1.3; opacity: 1; }
.fade { fill: none; stroke: var(--bone); stroke-width: 1.4; opacity: 1; }
.muted path { opacity: 0.25; }
</style>
