<script setup lang="ts">
/** How the tones of a clip's picture are spread after a step, and (as an outline) how they were before it. */
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answered, api, type Tally } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'

const props = defineProps<{ clip: string; place: number }>()
const desk = useDesk()
const project = useProject()
const tones = ref<{ before: Tally; after: Tally } | null>(null)
let asked = 0

const count = (done: number) => answered(api.GET('/api/projects/{project_id}/clips/{clip_id}/tones', {
  params: { path: { project_id: project.id, clip_id: props.clip }, query: { done, at: desk.frame } },
}))
const ask = useDebounceFn(async () => {
  const serial = ++asked
  const found = await Promise.all([count(props.place - 1), count(props.place)]).catch(() => null)
  if (serial === asked && found) tones.value = { before: found[0], after: found[1] }
}, 120)
watch(() => [props.clip, props.place, desk.playing ? -1 : desk.frame, project.revision], ask, { immediate: true })

const WIDE = 256
const HIGH = 56
/** Square roots: a few bright px are seen beside a large even ground. */
const top = computed(() => Math.max(...(['red', 'green', 'blue', 'light'] as const).flatMap((name) => tones.value!.after[name].slice(1, -1)), ...tones.value!.before.light.slice(1, -1), 0.001))
const high = (share: number) => HIGH - 1 - Math.min(1, Math.sqrt(share / top.value)) * (HIGH - 4)
const line = (shares: number[]) => shares.map((share, i) => `${i ? 'L' : 'M'}${((i + 0.5) / shares.length) * WIDE} ${high(share).toFixed(1)}`).join('')
const percent = (share: number) => `${(share * 100).toFixed(share && share < 0.01 ? 1 : 0)} %`
</script>

<template>
  <figure v-if="tones" class="tones" data-test="tones">
    <svg :viewBox="`0 0 ${WIDE} ${HIGH}`" preserveAspectRatio="none" role="img" aria-label="How its tones are spread, dark to bright">
      <path class="filled" :d="`${line(tones.after.light)}L${WIDE} ${HIGH}L0 ${HIGH}Z`" />
      <path v-for="name in (['red', 'green', 'blue'] as const)" :key="name" :class="name" :d="line(tones.after[name])" />
      <path class="before" :d="line(tones.before.light)" />
    </svg>
    <figcaption class="muted"><span>{{ percent(tones.after.least) }} at black</span><span>dashed: before</span><span>{{ percent(tones.after.most) }} at white</span></figcaption>
  </figure>
</template>

<style scoped>
.tones { margin: 4px 0 8px; max-width: 420px; }
svg { display: block; width: 100%; height: 56px; background: var(--lane); border: 1px solid var(--line); }
path { fill: none; stroke-width: 1; vector-effect: non-scaling-stroke; }
.filled { fill: var(--muted); opacity: 0.45; }
.red { stroke: #d8695a; }
.green { stroke: #7fae6a; }
.blue { stroke: #6d93c9; }
.before { stroke: var(--bone); stroke-dasharray: 3 3; }
figcaption { display: flex; justify-content: space-between; font-size: 12.5px; }
</style>
