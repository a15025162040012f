<script setup lang="ts">
/** How a shot or still meets the frame. */
import { computed } from 'vue'
import type { Clip } from '../api/client'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'

const props = defineProps<{ clip: Clip }>()
const project = useProject()
const edits = useEdits()

const FITS = [['fill', 'fill the frame'], ['fit', 'whole in it'], ['own', 'own size']] as const
const content = computed(() => props.clip.content)
const media = computed(() => (content.value.kind === 'footage' || content.value.kind === 'still' ? project.project!.media[content.value.media] : undefined))
</script>

<template>
  <div class="settings">
    <p v-if="media" class="muted">{{ media.name }}, {{ media.width }}×{{ media.height }}<template v-if="content.kind === 'footage'">, from frame {{ content.start }}</template></p>
    <div v-if="content.kind === 'footage' || content.kind === 'still'" class="choice" role="radiogroup" aria-label="In the frame">
      <button v-for="[value, word] in FITS" :key="value" role="radio" :aria-checked="content.fit === value" :class="{ on: content.fit === value }" @click="edits.fit(clip.id, value)">{{ word }}</button>
    </div>
  </div>
</template>

<style scoped>
.settings { font-size: 12.5px; }
.settings p { margin: 2px 0 8px; }
</style>
