<script setup lang="ts">
/** Steps of the selected clip, in the order they are done, each with the picture as it is after it. */
import { computed, nextTick, ref, watch } from 'vue'
import type { Clip } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { isSeen } from '../use/kinds'
import { useNewTitle } from '../use/newTitle'
import AddStep from './AddStep.vue'
import ClipRow from './ClipRow.vue'
import KeepLook from './KeepLook.vue'
import MovesRow from './MovesRow.vue'
import BecomeRow from './BecomeRow.vue'
import KeyPanel from './KeyPanel.vue'
import StandRow from './StandRow.vue'
import SpansRow from './SpansRow.vue'
import StepRow from './StepRow.vue'
import { ArrangeRow, CameraRow, LightRow, PairRow, PointsRow, SoundRow } from './later'

const desk = useDesk()
const project = useProject()
const { addTitle } = useNewTitle()
const clip = computed(() => desk.clip)
/** Moves stand beside pictures; words have theirs in their steps. */
const moved = computed(() => (desk.clips.every((each) => ['footage', 'still', 'group', 'treatment'].includes(each.content.kind)) ? desk.clips : []))
/** What can stand in cells of one frame. */
const pictures = computed(() => (desk.clips.every((each) => ['footage', 'still', 'group', 'generated', 'shape', 'plain'].includes(each.content.kind)) && !(desk.clips.length === 1 && clip.value?.content.kind === 'shape') ? desk.clips : []))
/** Two pictures in hand, in the order they were taken. */
const pair = computed<[Clip, Clip] | null>(() => {
  const [one, other] = desk.clips
  return desk.clips.length === 2 && desk.clips.every((each) => !(each.content.kind === 'treatment' || !isSeen(each))) ? [one, other] : null
})
const untitled = computed(() => project.clips.length > 0 && !project.clips.some((each) => each.content.kind === 'text'))

/** The row that opens is scrolled into view whole; one taller than the panel from its head on. */
const rows = ref<HTMLElement | null>(null)
/** The key in hand stands at the panel's head. */
watch(() => desk.key && `${desk.key.clip} ${desk.key.step} ${desk.key.name} ${desk.key.key}`, (key) => { if (key && rows.value) rows.value.scrollTop = 0 }, { flush: 'post' })
watch([() => desk.openRow, () => clip.value?.steps.length], async () => {
  await nextTick()
  const row = rows.value?.querySelector<HTMLElement>('.row.open')
  if (!row) return
  const [top, foot] = [row.offsetTop, row.offsetTop + row.offsetHeight]
  const { scrollTop, clientHeight } = rows.value!
  if (foot > scrollTop + clientHeight) rows.value!.scrollTop = Math.min(top, foot - clientHeight)
  else if (top < scrollTop) rows.value!.scrollTop = top
})
</script>

<template>
  <aside class="steps" aria-label="Steps">
    <template v-if="clip">
      <header>
        <span class="title"><span class="muted for">{{ desk.clips.length > 1 ? `${desk.clips.length} clips in hand, steps of` : 'Steps for' }}</span> {{ clip.name }}</span>
        <AddStep v-if="isSeen(clip)" :clip="clip" />
      </header>
      <div ref="rows" class="rows">
        <KeyPanel v-if="desk.key?.clip === clip.id" :clip="clip" />
        <ClipRow :clip="clip" />
        <MovesRow v-if="moved.length" :key="moved.map((each) => each.id).join()" :clips="moved" />
        <ArrangeRow v-if="pictures.length" :key="`a${pictures.map((each) => each.id).join()}`" :clips="pictures" />
        <StandRow v-if="clip.steps.some((step) => step.kind === 'stand' && step.on)" :key="`s${clip.id}`" :clip="clip" />
        <CameraRow v-if="clip.content.kind === 'camera'" :key="`e${clip.id}`" :clip="clip" />
        <LightRow v-if="clip.content.kind === 'light'" :key="`l${clip.id}`" :clip="clip" />
        <PairRow v-if="pair" :key="`p${desk.picked.join()}`" :clips="pair" />
        <BecomeRow v-if="desk.clips.length === 1 && ['shape', 'still', 'group'].includes(clip.content.kind)" :key="`b${clip.id}`" :clip="clip" />
        <SoundRow v-if="desk.clips.length === 1 && (clip.content.kind === 'sound' || clip.content.kind === 'footage') && project.project!.media[clip.content.media]?.sound" :clip="clip" />
        <PointsRow v-if="clip.content.kind === 'footage' && desk.clips.length === 1" :key="clip.id" :clip="clip" />
        <SpansRow v-if="desk.course && clip.content.kind === 'text'" :clip="clip" />
        <StepRow :clip="clip" :step="null" :place="0" />
        <StepRow v-for="(step, i) in clip.steps" :key="step.id" :clip="clip" :step="step" :place="i + 1" />
        <KeepLook v-if="isSeen(clip)" :clip="clip" />
        <p v-for="note in desk.course?.notes ?? []" :key="note" class="note alarm">{{ note }}</p>
      </div>
    </template>
    <div v-else-if="untitled" class="nothing" data-test="next">
      <p class="muted">There is no title yet. Put one over the playhead, and type.</p>
      <button class="act" @click="addTitle">write a title <kbd>T</kbd></button>
      <button class="act" @click="desk.tray = 'recipes'">begin with a recipe <kbd>Y</kbd></button>
    </div>
    <p v-else class="nothing muted">Choose a clip on the timeline, or click it in the picture, and its steps stand here.</p>
  </aside>
</template>

<style scoped>
.steps { background: var(--panel); display: flex; flex-direction: column; min-height: 0; }
header { display: flex; justify-content: space-between; align-items: baseline; gap: 12px; padding: 13px 16px 9px 36px; font-size: 14px; }
.title { display: block; font-weight: 600; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.title .muted { font-weight: 400; }
.rows { position: relative; overflow-y: auto; min-height: 0; flex: 1; padding-bottom: 12px; }
.note { margin: 10px 16px 0 36px; font-size: 12.5px; }
.nothing { padding: 24px 36px; line-height: 20px; }
div.nothing { display: grid; gap: 6px; justify-items: start; }
div.nothing p { margin: 0 0 6px; }
@container (max-width: 340px) {
  header { padding-left: 12px; padding-right: 8px; }
  .for { display: none; }
  .note { margin: 10px 12px 0; }
  .nothing { padding: 24px 12px; }
}
</style>
