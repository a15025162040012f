<script setup lang="ts">
/** Captions: written down from what is said, brought in and saved as files, set all at once. */
import { computed, onMounted, ref, watch } from 'vue'
import { answered, api, said, type RecipeInfo, type TranscribeJob } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { useJobs } from '../use/jobs'
import { useUpload } from '../use/upload'

const project = useProject()
const desk = useDesk()
const edits = useEdits()
const { addCaptions } = useUpload()

const tracks = computed(() => project.tracks.filter((track) => track.captions))
const languages = ref<{ code: string; name: string }[]>([])
const language = ref('en')
const recipes = ref<RecipeInfo[]>([])
const picker = ref<HTMLInputElement | null>(null)
/** Whoever asks for nothing is not bothered where the transcriber is away. */
async function ask() {
  languages.value = await answered(api.GET('/api/transcriber/languages')).catch(() => [])
}
onMounted(async () => {
  recipes.value = (await answered(api.GET('/api/recipes')).catch(() => [])).filter((each) => each.recipe.sort === 'caption' || each.recipe.steps.some((step) => step.kind === 'said_words'))
  await ask()
})

/** What is listened to: the sound in hand, or the shot with one. */
const spoken = computed(() => {
  const can = (clip: (typeof project.clips)[number]) => (clip.content.kind === 'sound' || clip.content.kind === 'footage') && Boolean(project.project!.media[clip.content.media]?.sound)
  return desk.clip && can(desk.clip) ? desk.clip : null
})
const { jobs, refresh, take } = useJobs<TranscribeJob>(() => answered(api.GET('/api/projects/{project_id}/transcribing', { params: { path: { project_id: project.id } } })), 300)
const running = computed(() => jobs.value.find((job) => job.state === 'running') ?? null)
const last = computed(() => jobs.value.at(-1) ?? null)
watch(() => project.id, refresh, { immediate: true })
async function write() {
  try {
    if (!languages.value.length) await ask()
    take(await answered(api.POST('/api/projects/{project_id}/clips/{clip_id}/captions', { params: { path: { project_id: project.id, clip_id: spoken.value!.id } }, body: { language: language.value } })))
  } catch (error) { project.problem = said(error) }
}
async function giveUp(id: string) {
  await answered(api.DELETE('/api/transcribing/{job_id}', { params: { path: { job_id: id } } })).catch(() => null)
  await refresh()
}
async function bring(event: Event) {
  const field = event.target as HTMLInputElement
  for (const file of [...(field.files ?? [])]) await addCaptions(file, language.value)
  field.value = ''
}

/** The recipe that all captions of a track have. */
const recipeOf = (track: string) => {
  const own = new Set(project.clips.filter((clip) => clip.track === track).map((clip) => clip.recipe ?? ''))
  return own.size === 1 ? [...own][0] : null
}
function style(track: string, id: string | null) {
  const found = recipes.value.find((each) => each.recipe.id === id)
  if (found) edits.put({ kind: 'style_captions', track, recipe: found.recipe })
}
const styles = computed(() => recipes.value.map((each) => ({ title: each.recipe.name, value: each.recipe.id as string | null })))
const count = (track: string) => project.clips.filter((clip) => clip.track === track).length
function rename(track: string, event: Event) {
  const typed = (event.target as HTMLInputElement).value.trim()
  if (typed) edits.put({ kind: 'change_track', track, language: typed })
}
</script>

<template>
  <section class="captions" aria-label="Captions" data-test="captions">
    <h3>Captions</h3>
    <div v-for="track in tracks" :key="track.id" class="track" data-test="caption-track">
      <div class="line">
        <span class="name">{{ track.name }}</span>
        <span class="muted">{{ count(track.id) }} in <input class="language" :value="track.captions!.language" maxlength="35" :aria-label="`Language of ${track.name}`" @change="rename(track.id, $event)" /></span>
      </div>
      <VSelect :model-value="recipeOf(track.id)" :items="styles" density="compact" hide-details :aria-label="`How ${track.name} are set`" placeholder="several looks" data-test="caption-style" @update:model-value="style(track.id, $event)" />
      <div class="line acts">
        <a class="act" :href="`/api/projects/${project.id}/captions/${track.captions!.language}.srt`" download data-test="save-srt">save as SRT</a>
        <a class="act" :href="`/api/projects/${project.id}/captions/${track.captions!.language}.vtt`" download data-test="save-vtt">save as WebVTT</a>
        <button class="flip" :aria-pressed="!track.hidden" :title="track.hidden ? 'Only in the file' : 'In the picture and in the file'" @click="edits.put({ kind: 'change_track', track: track.id, hidden: !track.hidden })">in the picture</button>
      </div>
    </div>
    <div class="new">
      <div v-if="languages.length" class="line">
        <span class="muted">In</span>
        <div class="choice" role="radiogroup" aria-label="Language">
          <button v-for="each in languages" :key="each.code" role="radio" :aria-checked="language === each.code" :class="{ on: language === each.code }" :data-test="`language-${each.code}`" @click="language = each.code">{{ each.name }}</button>
        </div>
      </div>
      <button class="act" :disabled="!spoken || running !== null" title="Every word with its time, as captions above all" data-test="write-down" @click="write">{{ spoken ? `transcribe ${spoken.name}` : 'take a sound in hand to transcribe it' }}</button>
      <button class="act" data-test="bring-captions" @click="picker?.click()">bring in SRT or WebVTT</button>
      <input ref="picker" type="file" hidden accept=".srt,.vtt,.txt" data-test="caption-file" @change="bring" />
      <template v-if="running">
        <VProgressLinear :model-value="100 * running.progress" aria-label="Listening" />
        <span class="muted">listening, {{ Math.round(100 * running.progress) }} % <button class="act" @click="giveUp(running.id)">give up</button></span>
      </template>
      <p v-else-if="last?.message" :class="last.state === 'failed' ? 'alarm' : 'muted'" data-test="written">{{ last.message }}</p>
    </div>
  </section>
</template>

<style scoped>
.captions { font-size: 12.5px; padding: 12px 0; display: grid; gap: 10px; }
h3 { margin: 0; font-size: 13px; font-weight: 600; }
.track { display: grid; gap: 6px; padding-bottom: 10px; border-bottom: 1px solid var(--line); }
.line { display: flex; justify-content: space-between; align-items: baseline; gap: 8px; }
.acts { justify-content: flex-start; flex-wrap: wrap; gap: 6px; }
.name { font-weight: 600; }
.new { display: grid; gap: 6px; justify-items: start; }
.new p { margin: 0; }
.language { width: 34px; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 1px 3px; }
</style>
