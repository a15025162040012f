<script setup lang="ts">
/** The Desk: one screen; trays push, they never cover. */
import { onMounted, ref } from 'vue'
import { answered, api, said } from './api/client'
import { Away, passes } from './api/refused'
import CommandLine from './desk/CommandLine.vue'
import KeptEdits from './desk/KeptEdits.vue'
import NotesPanel from './desk/NotesPanel.vue'
import PreviewPane from './desk/PreviewPane.vue'
import StepsPanel from './desk/StepsPanel.vue'
import Timeline from './desk/Timeline.vue'
import TopBar from './desk/TopBar.vue'
import { useDesk } from './stores/desk'
import { useProject } from './stores/project'
import { useTeller } from './use/companion'
import { byArrows } from './use/arrows'
import { followDrag } from './use/gesture'
import { useLook } from './use/look'
import { useCommands } from './use/commands'
import { useShortcuts } from './use/shortcuts'
import { useTaps } from './use/taps'
import { unsure, useUpload } from './use/upload'
import { useKept } from './use/kept'
import { CaptionsEncoding, ExportTray, FilmsSheet, FramePanel, MediaTray, RecipesTray, ShortcutSheet, SoundTray, TextTray, loadTheRest } from './desk/later'

const project = useProject()
const desk = useDesk()
const commands = useCommands()
useShortcuts(commands.table)
useTeller()
useTaps()
const { tall } = useLook()
const failed = ref('')
const timelineHeight = useKept('timeline-height', 308)
const stepsWidth = useKept('steps-width', 480)

async function open() {
  try {
    const [, projects] = await Promise.all([desk.loadCatalogue(), answered(api.GET('/api/projects'))])
    const wanted = new URLSearchParams(location.search).get('project') ?? projects[0]?.id
    if (!wanted) {
      failed.value = 'There is no project in the store yet.'
      return
    }
    await project.open(wanted)
    const title = project.clips.find((clip) => clip.content.kind === 'text')
    desk.select(title?.id ?? null)
    if (title) {
      desk.openRow = 'spans'
      desk.frame = title.head + Math.floor(title.length / 2)
    }
    failed.value = ''
    // The first picture comes before what is not seen yet; a film that can not be painted does not hold it up.
    setTimeout(loadTheRest, 4000)
  } catch (error) {
    failed.value = error instanceof Away ? 'The service does not answer. The film opens as soon as it is back.' : said(error)
    if (passes(error)) setTimeout(() => void open(), 1500)
  }
}

onMounted(open)

/** Files dropped on the picture lie at the playhead; those dropped elsewhere are in the media of the film. */
const upload = useUpload()
const holds = (event: DragEvent) => [...(event.dataTransfer?.types ?? [])].includes('Files')
function over(event: DragEvent) {
  if (holds(event)) event.preventDefault()
}
function drop(event: DragEvent) {
  if (event.defaultPrevented || !holds(event)) return
  event.preventDefault()
  const files = [...event.dataTransfer!.files]
  if (!project.project || !files.length) return
  if ((event.target as Element).closest('.preview')) void upload.putAt(files, desk.frame, null)
  else void upload.add(files).then((added) => { if (added.length && desk.tray !== 'media') project.hint = `${added.length === 1 ? `“${added[0].name}” is` : `${added.length} files are`} in Media.` })
}

const stood = ref(0)
const setTimeline = (height: number) => { timelineHeight.value = Math.min(Math.max(height, 120), window.innerHeight - 320) }
const setSteps = (width: number) => { stepsWidth.value = Math.min(Math.max(width, 470), Math.min(620, window.innerWidth - 720)) }

function resizeTimeline(press: PointerEvent) {
  const from = timelineHeight.value
  followDrag(press, ({ dy }) => setTimeline(from - dy))
}

function resizeSteps(press: PointerEvent) {
  const from = stepsWidth.value
  followDrag(press, ({ dx }) => setSteps(from - dx))
}
</script>

<template>
  <VApp>
    <div v-if="project.project" class="desk" :class="{ tall }" :style="{ gridTemplateRows: `44px minmax(0, 1fr) ${timelineHeight}px` }" @dragover="over" @drop="drop">
      <TopBar />
      <div class="middle">
        <TextTray v-if="desk.tray === 'text'" />
        <MediaTray v-if="desk.tray === 'media'" />
        <RecipesTray v-if="desk.tray === 'recipes'" />
        <SoundTray v-if="desk.tray === 'sound'" />
        <ExportTray v-if="desk.tray === 'export'" />
        <PreviewPane />
      </div>
      <div class="side" :style="{ width: desk.tray ? `min(${stepsWidth}px, max(254px, 100vw - 1026px))` : `${Math.max(470, stepsWidth)}px` }">
        <div
          class="split upright" role="separator" tabindex="0" aria-orientation="vertical" aria-label="Width of the Steps" :aria-valuenow="stepsWidth" aria-valuemin="470" aria-valuemax="620"
          @pointerdown="resizeSteps" @keydown="byArrows($event, (x, _y, _gesture, begins) => { if (begins) stood = stepsWidth; setSteps(stood - 8 * x) })"
        />
        <StepsPanel />
      </div>
      <div class="bottom">
        <div
          class="split level" role="separator" tabindex="0" aria-orientation="horizontal" aria-label="Height of the timeline" :aria-valuenow="timelineHeight" aria-valuemin="120" aria-valuemax="2000"
          @pointerdown="resizeTimeline" @keydown="byArrows($event, (_x, y, _gesture, begins) => { if (begins) stood = timelineHeight; setTimeline(stood - 8 * y) })"
        />
        <Timeline />
      </div>
    </div>
    <div v-else class="waiting muted" role="status">
      {{ failed || 'Opening' }}
      <VBtn v-if="failed" variant="flat" @click="desk.films = true">Films</VBtn>
    </div>
    <NotesPanel v-if="project.project" />
    <KeptEdits v-if="project.project" />
    <FramePanel v-if="desk.framing && project.project" />
    <CaptionsEncoding v-if="unsure && project.project" :key="unsure.file.name" />
    <FilmsSheet v-if="desk.films" />
    <ShortcutSheet v-if="desk.sheet" :table="commands.table" />
    <CommandLine v-if="desk.commanding" :table="[...commands.table, ...commands.fromCatalogue.value]" />
    <VSnackbar
      :key="project.problem" :model-value="project.problem !== ''" :timeout="9000" location="bottom right" content-class="problem"
      @update:model-value="project.problem = ''"
    >
      {{ project.problem }}
      <template #actions><VBtn v-if="project.offer" data-test="offer" @click="project.takeOffer">{{ project.offer.says }}</VBtn><VBtn @click="project.problem = ''">Close</VBtn></template>
    </VSnackbar>
  </VApp>
</template>

<style>
.desk { display: grid; grid-template-columns: minmax(0, 1fr) auto; height: 100vh; width: 100vw; background: var(--soot); }
.desk > .bar { grid-column: 1 / -1; }
.side { display: flex; min-height: 0; border-top: 1px solid var(--line); grid-column: 2; grid-row: 2; }
.side > .steps { flex: 1; min-width: 0; }
.tall > .side { grid-row: 2 / 4; }
.bottom { grid-row: 3; grid-column: 1 / -1; }
.tall > .bottom { grid-column: 1; }
.middle { display: flex; min-height: 0; border-top: 1px solid var(--line); }
.bottom { position: relative; min-height: 0; border-top: 1px solid var(--line); }
.split { position: relative; z-index: 3; touch-action: none; }
.split.upright { width: 1px; background: var(--line); cursor: col-resize; }
.split.upright::after { content: ''; position: absolute; inset: 0 -3px; }
.split.level { position: absolute; inset: -4px 0 auto 0; height: 7px; cursor: row-resize; }
.split:hover, .split:focus-visible { background: var(--muted); }
.split.level:hover, .split.level:focus-visible { background: linear-gradient(transparent 3px, var(--muted) 3px 4px, transparent 4px); }
.waiting { display: grid; place-content: center; justify-items: center; gap: 16px; height: 100vh; }
.tray { width: 320px; flex: none; background: var(--panel); border-right: 1px solid var(--line); display: flex; flex-direction: column; min-height: 0; }
.tray > header { display: flex; justify-content: space-between; align-items: baseline; padding: 14px 16px 10px; font-weight: 600; font-size: 14px; }
.tray > .inside { overflow-y: auto; padding: 0 16px 16px; flex: 1; min-height: 0; }
/* As wide as the Steps: it lies over no track. */
.problem { max-width: 448px !important; border: 1px solid var(--alarm); border-radius: 2px !important; background: var(--raised) !important; color: var(--bone) !important; }
</style>
