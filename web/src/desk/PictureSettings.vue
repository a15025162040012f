<script setup lang="ts">
/** How a shot or still meets the frame, or the colour of a plain clip. */
import { computed, ref } from 'vue'
import type { Clip } from '../api/client'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'

const props = defineProps<{ clip: Clip }>()
const project = useProject()
const edits = useEdits()
const gesture = ref('')

const FITS = [['fill', 'fill the frame'], ['fit', 'whole in it'], ['own', 'own size']] as const
const content = computed(() => props.clip.content)
const media = computed(() => (content.value.kind === 'footage' || content.value.kind === 'still' ? project.project!.media[content.value.media] : undefined))
const enter = () => { gesture.value = crypto.randomUUID() }
</script>

<template>
  <div class="settings">
    <p v-if="media" class="muted">{{ media.name }}, {{ media.width }}×{{ media.height }}<template v-if="content.kind === 'footage'">, from frame {{ content.start }}</template></p>
    <div v-if="content.kind === 'footage' || content.kind === 'still'" class="choice" role="radiogroup" aria-label="In the frame">
      <button v-for="[value, word] in FITS" :key="value" role="radio" :aria-checked="content.fit === value" :class="{ on: content.fit === value }" @click="edits.fit(clip.id, { fit: value })">{{ word }}</button>
    </div>
    <label v-if="content.kind === 'plain'" class="swatch" :style="{ background: content.colour }">
      <input type="color" :value="content.colour" aria-label="Colour" @focus="enter" @input="edits.fit(clip.id, { colour: ($event.target as HTMLInputElement).value }, gesture)" />
    </label>
  </div>
</template>

<style scoped>
.settings { font-size: 12px; }
.settings p { margin: 2px 0 8px; }
.choice { display: flex; gap: 14px; }
.choice button { color: var(--muted); border-bottom: 1px solid transparent; }
.choice button:hover, .choice .on { color: var(--bone); }
.choice .on { border-color: var(--bone); }
.swatch { display: block; width: 60px; height: 20px; border: 1px solid var(--line); border-radius: 2px; position: relative; }
.swatch input { position: absolute; inset: 0; opacity: 0; width: 100%; height: 100%; cursor: pointer; }
</style>
