<script setup lang="ts">
/** How a sound begins and ends, and whether it is heard; of a shot, its own sound and the way to part it. */
import { computed } from 'vue'
import type { Clip } from '../api/client'
import Gauge from '../parts/Gauge.vue'
import { useProject } from '../stores/project'
import { useDesk } from '../stores/desk'
import { newId, useEdits } from '../use/edits'

const props = defineProps<{ clip: Clip }>()
const project = useProject()
const desk = useDesk()
const edits = useEdits()
const sound = computed(() => (props.clip.content.kind === 'sound' ? props.clip.content : null))
const muted = computed(() => 'muted' in props.clip.content && props.clip.content.muted)
const media = computed(() => ('media' in props.clip.content ? project.project!.media[props.clip.content.media]?.sound ?? null : null))
const says = computed(() => (media.value ? `${(media.value.rate / 1000).toFixed(1)} kHz, ${media.value.channels === 1 ? 'one channel' : media.value.channels === 2 ? 'stereo' : `${media.value.channels} channels`}, ${media.value.seconds.toFixed(1)} s` : ''))
const fade = (change: { fade_in?: number; fade_out?: number }, gesture?: string) => edits.put({ kind: 'set_fades', clips: [props.clip.id], ...change }, gesture)
</script>

<template>
  <div class="sound" data-test="sound">
    <p class="muted">{{ sound ? 'sound' : 'the shot’s own sound' }}: {{ says }}</p>
    <template v-if="sound">
      <Gauge label="Comes up over" :value="sound.fade_in" :low="0" :high="75" :least="0" :most="clip.length" unit="f" :rate="project.rate" @change="(v, g) => fade({ fade_in: Math.round(v) }, g)" />
      <Gauge label="Goes down over" :value="sound.fade_out" :low="0" :high="75" :least="0" :most="clip.length" unit="f" :rate="project.rate" @change="(v, g) => fade({ fade_out: Math.round(v) }, g)" />
    </template>
    <div class="acts">
      <button class="flip" :aria-pressed="muted" data-test="mute" @click="edits.put({ kind: 'set_muted', clips: desk.picked, muted: !muted })">muted</button>
      <button v-if="!sound" class="act" title="A sound clip below that rides with it" data-test="part-sound" @click="edits.put({ kind: 'part_sound', clips: [clip.id], seed: newId() })">part it from the picture</button>
    </div>
  </div>
</template>

<style scoped>
.sound { padding: 6px 16px 8px 36px; font-size: 12.5px; border-top: 1px solid var(--line); }
.sound p { margin: 0 0 4px; }
.acts { display: flex; gap: 6px; margin-top: 6px; }
@container (max-width: 340px) { .sound { padding-left: 12px; padding-right: 8px; } }
</style>
