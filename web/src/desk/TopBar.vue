<script setup lang="ts">
/** Project, its state, the trays, undo and export. */
import { computed, nextTick, ref } from 'vue'
import { useDesk, type Tray } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { useSaveNote } from '../use/saveNote'
import { useUpload } from '../use/upload'

const project = useProject()
const desk = useDesk()
const edits = useEdits()
const naming = ref(false)
const field = ref<HTMLInputElement | null>(null)

const { share, waiting } = useUpload()
const note = useSaveNote()
const saved = computed(() => {
  const more = waiting.value > 1 ? `, ${waiting.value - 1} more to come` : ''
  if (share.value !== null) return share.value < 1 ? `adding files, ${Math.round(100 * share.value)} %${more}` : `looking at the files${more}`
  if (note.value) return note.value
  if (project.saveState !== 'saved') return 'saving'
  const at = project.savedAt
  return at ? `all saved ${at.toTimeString().slice(0, 5)}` : 'all saved'
})
const frame = computed(() => {
  const settings = project.settings!
  const rate = settings.rate.den === 1 ? settings.rate.num : (settings.rate.num / settings.rate.den).toFixed(2)
  return `${settings.width}×${settings.height} at ${rate}`
})

function openAlone() {
  const { width, height } = project.settings!
  window.open(`/?alone=1&project=${project.id}`, 'idle-comet-preview', `popup,width=${width},height=${height}`)
}

function toggle(tray: Tray) {
  desk.tray = desk.tray === tray ? null : tray
}

async function startNaming() {
  naming.value = true
  await nextTick()
  field.value?.select()
}

function endNaming(keep: boolean) {
  const name = field.value?.value.trim()
  if (naming.value && keep && name && name !== project.settings?.name) edits.rename(name)
  naming.value = false
}
</script>

<template>
  <header class="bar">
    <button class="sign" aria-label="Films" title="All films" @click="desk.films = true"><img src="/assets/sign.svg" alt="" width="24" height="24" /></button>
    <input
      v-if="naming" ref="field" class="name" v-shown="project.settings?.name ?? ''" maxlength="200" aria-label="Project name"
      @blur="endNaming(true)" @keydown.enter="endNaming(true)" @keydown.esc="endNaming(false)"
    />
    <button v-else class="name" title="Rename" @click="startNaming">{{ project.settings?.name }}</button>
    <span class="told saved" :class="{ alarm: note !== '' }" role="status" data-test="saved">{{ saved }}</span>
    <nav>
      <button :class="{ open: desk.tray === 'text' }" :aria-pressed="desk.tray === 'text'" @click="toggle('text')">Text</button>
      <button :class="{ open: desk.tray === 'media' }" :aria-pressed="desk.tray === 'media'" @click="toggle('media')">Media</button>
      <button :class="{ open: desk.tray === 'recipes' }" :aria-pressed="desk.tray === 'recipes'" @click="toggle('recipes')">Recipes</button>
      <button :class="{ open: desk.tray === 'sound' }" :aria-pressed="desk.tray === 'sound'" @click="toggle('sound')">Sound</button>
    </nav>
    <div class="right">
      <button class="act" :disabled="!project.history.undo" title="Ctrl+Z" @click="project.undo()">
        {{ project.history.undo ? `Undo “${project.history.undo}”` : project.history.redo ? 'Undo' : 'Nothing to undo' }}
      </button>
      <button v-if="project.history.redo" class="act" title="Ctrl+Shift+Z" @click="project.redo()">
        Redo “{{ project.history.redo }}”
      </button>
      <button class="act numbers whole" title="The film's frame and rate; click to change them" :aria-label="`The film’s frame: ${frame}`" data-test="frame" @click="desk.framing = !desk.framing">{{ frame }}</button>
      <button class="act whole" title="The Preview alone in a second window, px for px" @click="openAlone">Second window</button>
      <button class="act whole" aria-label="Shortcuts" title="Shortcuts" @click="desk.sheet = true">?</button>
      <VBtn variant="flat" @click="toggle('export')">Export</VBtn>
    </div>
  </header>
</template>

<style scoped>
.bar { display: grid; grid-template-columns: auto auto minmax(0, 1fr) auto minmax(0, 1.4fr); align-items: center; gap: 14px; padding: 0 16px 0 12px; background: var(--soot); white-space: nowrap; }
.name { font-weight: 600; font-size: 14px; }
input.name { background: var(--raised); border: 1px solid var(--line); border-radius: 2px; padding: 3px 6px; width: 280px; }
.sign { line-height: 0; }
.saved { font-size: 12.5px; overflow: hidden; text-overflow: ellipsis; }
.saved.alarm { color: var(--alarm); }
nav { display: flex; gap: 24px; }
nav button { color: var(--muted); padding: 6px 2px; border-bottom: 1px solid transparent; font-size: 14px; }
nav button:hover, nav button.open { color: var(--bone); }
nav button.open { border-color: var(--bone); }
.right { display: flex; justify-content: flex-end; align-items: center; gap: 8px; font-size: 12.5px; min-width: 0; }
.right > button { overflow: hidden; text-overflow: ellipsis; }
.right > button:first-child { min-width: 54px; }
.right > .whole, .right > .v-btn { flex: none; }
</style>
