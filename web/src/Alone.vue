<script setup lang="ts">
/** The Preview alone, for a second window: exactly one px of the film on one px of the screen, following the Desk. */
import { said } from './api/client'
import { onMounted, ref } from 'vue'
import { useDesk } from './stores/desk'
import { useProject } from './stores/project'
import { useListener } from './use/companion'
import { usePlayer } from './use/player'

const project = useProject()
const desk = useDesk()
const canvas = ref<HTMLCanvasElement | null>(null)
const failed = ref('')
const player = usePlayer(canvas, () => ({ width: project.settings?.width ?? 1280, height: project.settings?.height ?? 720 }))
useListener((state) => {
  if (state.project !== project.id) return
  if (state.revision > project.revision) void project.open(project.id)
  desk.frame = state.frame
})

onMounted(async () => {
  try {
    await project.open(new URLSearchParams(location.search).get('project') ?? '')
    document.title = `${project.settings?.name}, Preview`
    player.connect()
  } catch (error) {
    failed.value = said(error)
  }
})
const dots = window.devicePixelRatio || 1
</script>

<template>
  <VApp>
    <div class="alone" @dblclick="canvas?.requestFullscreen()">
      <p v-if="failed" class="muted" role="status">{{ failed }}</p>
      <canvas
        v-else ref="canvas" data-test="preview" title="Double-click fills the screen"
        :style="{ width: `${(project.settings?.width ?? 1280) / dots}px`, height: `${(project.settings?.height ?? 720) / dots}px` }"
      />
    </div>
  </VApp>
</template>

<style scoped>
.alone { display: grid; place-items: center; min-height: 100vh; background: var(--surround); overflow: auto; }
canvas { display: block; background: #000; }
</style>
