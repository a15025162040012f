<script setup lang="ts">
/** Under the picture: where we are, playing, guides, and how the preview is doing. */
import { computed, nextTick, ref } from 'vue'
import { answered, api, said } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { timecode } from '../use/timecode'
import SoundMeter from './SoundMeter.vue'

defineProps<{ state: string; width: number; level: [number, number, number] | null }>()
const project = useProject()
const desk = useDesk()
const typing = ref(false)
const field = ref<HTMLInputElement | null>(null)
const now = computed(() => timecode(desk.frame, project.numbering))

async function startTyping() {
  desk.playing = false
  typing.value = true
  await nextTick()
  field.value?.select()
}

async function go() {
  if (!typing.value) return
  const typed = field.value?.value ?? ''
  typing.value = false
  if (!typed || typed === now.value) return
  try {
    const found = await answered(api.GET('/api/projects/{project_id}/time', { params: { path: { project_id: project.id }, query: { typed, now: desk.frame } } }))
    desk.goTo(found.frame)
  } catch (error) {
    project.problem = said(error)
  }
}
</script>

<template>
  <div class="transport" :style="{ width: `${Math.max(width, 660)}px` }">
    <SoundMeter v-if="level" :level="level" />
    <input v-if="typing" ref="field" class="time numbers" v-shown="now" aria-label="Go to a time" @blur="go" @keydown.enter="go" @keydown.esc.stop="typing = false" />
    <button v-else class="time numbers" title="Go to a time: 2:00, +20f, 1.5s" data-test="timecode" @click="startTyping">{{ now }}</button>
    <button class="icon" aria-label="One frame back" title="One frame back (←)" @click="desk.goTo(desk.frame - 1)">
      <svg width="16" height="16"><path d="M10 3.500L5.500 8L10 12.500" /></svg>
    </button>
    <button class="icon play" :aria-label="desk.playing ? 'Pause' : 'Play'" title="Space" data-test="play" @click="desk.playing = !desk.playing">
      <svg width="16" height="16"><path v-if="desk.playing" d="M5.500 3V13M10.500 3V13" /><path v-else d="M4.500 2.500L12.500 8L4.500 13.500Z" /></svg>
    </button>
    <button class="icon" aria-label="One frame on" title="One frame on (→)" @click="desk.goTo(desk.frame + 1)">
      <svg width="16" height="16"><path d="M6 3.500L10.500 8L6 12.500" /></svg>
    </button>
    <button class="flip" :aria-pressed="desk.loop" @click="desk.loop = !desk.loop">
      loop {{ project.range.first != null || project.range.last != null ? 'range' : desk.clip ? (desk.clip.content.kind === 'text' ? 'title' : 'shot') : 'film' }}
    </button>
    <button class="flip" :aria-pressed="desk.guides" @click="desk.guides = !desk.guides">guides</button>
    <button class="flip" :aria-pressed="desk.trail" title="The way the clip in hand travels" @click="desk.trail = !desk.trail">path</button>
    <button class="flip" :aria-pressed="desk.snapping" title="Clips and keys snap to what is near (S)" @click="desk.snapping = !desk.snapping">snap</button>
    <span class="told state" role="status" data-test="preview-state">{{ state }}</span>
  </div>
</template>

<style scoped>
.transport { position: relative; display: flex; align-items: center; gap: 14px; height: 36px; margin: 0 auto; max-width: 100%; padding: 0 12px; font-size: 12.5px; flex: none; }
.time { font-size: 18px; letter-spacing: -0.03em; width: 136px; text-align: left; }
input.time { background: var(--soot); border: 1px solid var(--line); border-radius: 2px; }
.icon svg { display: block; fill: none; stroke: var(--bone); stroke-width: 1.3; stroke-linejoin: round; }
.icon { padding: 5px; margin: 0 -6px; border-radius: 2px; }
.icon:hover { background: var(--raised); }
.state { margin-left: auto; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
</style>
