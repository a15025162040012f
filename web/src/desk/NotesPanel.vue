<script setup lang="ts">
/** What an editor should know of this film: parts that can't be done as it says, that do not fit, or could not be read. */
import { ref } from 'vue'
import { useProject } from '../stores/project'

const project = useProject()
const all = ref(false)
</script>

<template>
  <div v-if="project.notes.length" class="notes" role="status" data-test="notes">
    <p v-for="note in all ? project.notes : project.notes.slice(0, 1)" :key="note">{{ note }}</p>
    <div class="acts">
      <button class="act" v-if="project.notes.length > 1" @click="all = !all">{{ all ? 'Show one' : `And ${project.notes.length - 1} more` }}</button>
      <button class="act" @click="project.notes = []">Understood</button>
    </div>
  </div>
</template>

<style scoped>
.notes { position: absolute; z-index: 1100; right: 16px; top: 52px; width: 360px; max-height: 50vh; overflow-y: auto; background: var(--raised); border: 1px solid var(--line); border-left: 2px solid var(--alarm); padding: 10px 14px; font-size: 12.5px; line-height: 1.45; }
p { margin: 0 0 6px; }
.acts { display: flex; gap: 8px; }
</style>
