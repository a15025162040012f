<script setup lang="ts">
/** All texts in time order, edited in place. */
import { computed } from 'vue'
import WordsField from '../parts/WordsField.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { shortTimecode } from '../use/timecode'

const project = useProject()
const desk = useDesk()

const texts = computed(() => project.clips.flatMap((clip) => (clip.content.kind === 'text' ? [{ clip, text: clip.content.text }] : [])))
const rate = computed(() => project.settings!.rate)
const span = (head: number, length: number) => `${shortTimecode(head, rate.value)} to ${shortTimecode(head + length, rate.value)}`

function enter(id: string) {
  desk.select(id)
  desk.goToStay(project.project!.clips[id])
}
</script>

<template>
  <aside class="tray" aria-label="Text">
    <header>Text <button class="muted" aria-label="Close the tray" @click="desk.tray = null">close</button></header>
    <div class="inside">
      <div v-for="{ clip, text } in texts" :key="clip.id" class="entry" :class="{ chosen: desk.selected === clip.id }">
        <span class="muted numbers when">{{ span(clip.head, clip.length) }}</span>
        <WordsField
          :clip="clip.id" :text="text" :label="`Words of ${clip.name}`"
          :rows="Math.min(8, text.split('\n').length + (text.length > 34 ? 1 : 0))" @enter="enter(clip.id)"
        />
        <p v-for="note in project.drawings[clip.id]?.notes ?? []" :key="note" class="alarm note">{{ note }}</p>
      </div>
      <p v-if="!texts.length" class="muted">There are no titles on the timeline yet.</p>
    </div>
  </aside>
</template>

<style scoped>
.entry { padding: 8px 0 10px; border-bottom: 1px solid var(--line); }
.when { display: block; font-size: 12px; margin-bottom: 4px; }
.note { font-size: 12px; margin: 6px 0 0; }
header button:hover { color: var(--bone); }
header button { font-size: 12px; font-weight: 400; }
</style>
