<script setup lang="ts">
/** Steps of the selected clip, in the order they are done, each with the picture as it is after it. */
import { computed } from 'vue'
import { useDesk } from '../stores/desk'
import AddStep from './AddStep.vue'
import ClipRow from './ClipRow.vue'
import KeyPanel from './KeyPanel.vue'
import SpansRow from './SpansRow.vue'
import StepRow from './StepRow.vue'

defineProps<{ folded: boolean }>()
const desk = useDesk()
const clip = computed(() => desk.clip)
</script>

<template>
  <aside class="steps" :class="{ folded }" aria-label="Steps">
    <template v-if="clip">
      <header>
        <span class="title"><span v-if="!folded" class="muted">{{ desk.clips.length > 1 ? `${desk.clips.length} clips in hand, steps of` : 'Steps for' }}</span> {{ clip.name }}</span>
        <AddStep v-if="!folded" :clip="clip" />
      </header>
      <div class="rows">
        <KeyPanel v-if="desk.key?.clip === clip.id && !folded" :clip="clip" />
        <ClipRow :clip="clip" :folded="folded" />
        <SpansRow v-if="desk.course && clip.content.kind === 'text'" :clip="clip" :folded="folded" />
        <StepRow :clip="clip" :step="null" :place="0" :folded="folded" />
        <StepRow v-for="(step, i) in clip.steps" :key="step.id" :clip="clip" :step="step" :place="i + 1" :folded="folded" />
        <p v-for="note in desk.course?.notes ?? []" :key="note" class="note alarm">{{ note }}</p>
      </div>
    </template>
    <p v-else class="nothing muted">Choose a clip on the timeline, or click it in the picture, and its steps stand here.</p>
  </aside>
</template>

<style scoped>
.steps { background: var(--panel); display: flex; flex-direction: column; min-height: 0; }
header { display: flex; justify-content: space-between; align-items: baseline; gap: 12px; padding: 13px 16px 9px 36px; font-size: 14px; }
.title { display: block; font-weight: 600; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.title .muted { font-weight: 400; }
.folded header { display: flex; justify-content: space-between; align-items: baseline; gap: 12px; padding-left: 16px; }
.rows { overflow-y: auto; min-height: 0; flex: 1; padding-bottom: 12px; }
.note { margin: 10px 16px 0 36px; font-size: 12.5px; }
.nothing { padding: 24px 36px; line-height: 20px; }
</style>
