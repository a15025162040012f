<script setup lang="ts">
/** Export: order a film, watch it being made, watch it. */
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { answered, api, said, type ExportEstimate, type ExportJob } from '../api/client'
import { passes } from '../api/refused'
import ColourField from '../parts/ColourField.vue'
import FilmPlayer from '../parts/FilmPlayer.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useJobs } from '../use/jobs'

const project = useProject()
const desk = useDesk()
const { jobs, busy, refresh, take } = useJobs<ExportJob>(() => answered(api.GET('/api/projects/{project_id}/exports', { params: { path: { project_id: project.id } } })), 400)
const quality = ref(16)
const what = ref<'film' | 'range' | 'clip'>('film')

const QUALITIES = [[10, 'finest'], [16, 'fine'], [23, 'light']] as const
/** As it is painted: in full, or lighter and sooner. */
const draft = ref(false)
/** Of the film that is made: a draft is half as wide and as high. */
const size = computed(() => [project.settings!.width, project.settings!.height].map((side) => (draft.value ? Math.max(16, 2 * Math.round(side / 4)) : side)))
const sound = ref<'aac' | 'pcm'>('aac')
const SOUNDS = [['aac', 'AAC, in MP4'], ['pcm', 'PCM of 24 bits, in MOV']] as const
const clear = ref(false)
const format = ref<Exclude<ExportJob['format'], 'h264'>>('prores4444')
const alpha = ref<ExportJob['alpha']>('straight')
const ground = ref<string | null>(null)
const FORMATS = [['prores4444', 'ProRes 4444'], ['vp9', 'WebM, VP9'], ['png', 'PNG pictures'], ['animation', 'Animation']] as const
const ALPHAS = [['straight', 'straight'], ['premultiplied', 'premultiplied']] as const
const newest = computed(() => jobs.value[0] ?? null)
const finished = computed(() => newest.value?.state === 'done')

const blurred = computed(() => project.settings!.shutter.angle > 0 || project.clips.some((clip) => (clip.shutter?.angle ?? 0) > 0))

onMounted(refresh)
/** Edges in sight, pans that judder: said before the film is made. */
const warnings = ref<string[]>([])
watch(() => project.revision, async () => {
  const told = await answered(api.GET('/api/projects/{project_id}/exports/warnings', { params: { path: { project_id: project.id } } })).catch(() => null)
  if (told) warnings.value = told
}, { immediate: true })

const span = computed(() => {
  const { first, last } = project.range
  return what.value === 'clip' && desk.clip ? { first: Math.round(desk.clip.head), last: Math.max(Math.round(desk.clip.head), Math.ceil(project.endOf(desk.clip)) - 1) }
    : what.value === 'range' ? { first: first ?? 0, last: Math.min(last ?? project.length - 1, project.length - 1) } : {}
})

/** How long it would take, measured on frames of it whenever the film or the range is another. */
const takes = ref<ExportEstimate | null>(null)
const untold = ref('')
let asked = 0
watch(() => [project.revision, JSON.stringify(span.value), busy.value], async () => {
  const serial = ++asked
  takes.value = null
  untold.value = ''
  if (busy.value || !project.length) return
  let pause = 600
  do {
    await new Promise((resume) => setTimeout(resume, pause))
    if (serial !== asked) return
    try {
      const answer = await answered(api.POST('/api/projects/{project_id}/exports/estimate', { params: { path: { project_id: project.id } }, body: { ...span.value } }))
      if (serial === asked) takes.value = answer
      return
    } catch (error) {
      if (serial !== asked) return
      untold.value = said(error)
      pause = passes(error) ? 3000 : 0
    }
  } while (pause)
}, { immediate: true })
onUnmounted(() => { asked += 1 })
const lasting = (seconds: number) => (seconds < 90 ? `${Math.max(1, Math.round(seconds))} s` : `${Math.round(seconds / 60)} min`)
const told = computed(() => {
  if (!takes.value) return busy.value ? '' : untold.value || 'measuring how long it takes …'
  const [frame, film] = draft.value ? [takes.value.draft_frame, takes.value.draft_film] : [takes.value.full_frame, takes.value.full_film]
  return `About ${frame < 0.095 ? frame.toFixed(2) : frame.toFixed(1)} s a frame, ${lasting(film)} for all ${takes.value.frames}.`
})

/** Whether the film is ordered and not answered for yet. */
const ordering = ref(false)

async function order() {
  ordering.value = true
  // With transparency, the clip in hand is alone: what lies below it is not in the film.
  const asked = clear.value ? { format: format.value, alpha: alpha.value, ground: ground.value, clip: what.value === 'clip' ? desk.clip!.id : null } : {}
  try {
    const job = await answered(api.POST('/api/projects/{project_id}/exports', { params: { path: { project_id: project.id } }, body: { quality: quality.value, draft: draft.value, sound: project.heard ? sound.value : 'aac', ...span.value, ...asked } }))
    take(job, true)
  } catch (error) {
    project.problem = said(error)
    // It may have been taken, and its answer lost.
    void refresh()
  }
  ordering.value = false
}

async function cancel(id: string) {
  await answered(api.DELETE('/api/exports/{job_id}', { params: { path: { job_id: id } } })).catch((error: Error) => { project.problem = error.message })
  await refresh()
}

/** The export whose file is to be deleted, once that was confirmed. */
const leaving = ref<string | null>(null)
async function remove(id: string) {
  if (leaving.value !== id) {
    leaving.value = id
    return
  }
  leaving.value = null
  await answered(api.DELETE('/api/exports/{job_id}/film', { params: { path: { job_id: id } } })).catch((error: Error) => { project.problem = error.message })
  await refresh()
}

/** Those under way stand above all else; the others below, the newest first. */
const running = computed(() => jobs.value.filter((job) => job.state === 'running' || job.state === 'waiting'))
const over = computed(() => jobs.value.filter((job) => !running.value.includes(job)))

const says = (job: ExportJob) => {
  if (job.state === 'waiting') return 'waiting for its turn'
  if (job.state === 'running') {
    const left = job.seconds_left == null ? '' : `, about ${Math.max(1, Math.round(job.seconds_left))} s left`
    return `${job.frames_done} of ${job.frames} frames${left}`
  }
  if (job.state === 'cancelled') return 'cancelled; nothing was kept'
  if (job.state === 'failed') return job.message ?? 'failed'
  const size = job.bytes == null ? '' : `, ${(job.bytes / 1e6).toFixed(1)} MB`
  return `${job.frames} frames, ${job.width}×${job.height}${size}`
}
</script>

<template>
  <aside class="tray" aria-label="Export">
    <header>Export <button class="act" @click="desk.tray = null">close</button></header>
    <div v-for="job in running" :key="job.id" class="job now" :data-test="`job-${job.state}`">
      <div class="line">
        <span class="told">{{ says(job) }}</span>
        <button class="act" @click="cancel(job.id)">cancel</button>
      </div>
      <VProgressLinear :model-value="(100 * job.frames_done) / job.frames" :aria-label="says(job)" />
    </div>
    <div class="inside">
      <span class="muted label">As</span>
      <div class="choice" role="radiogroup" aria-label="As">
        <button role="radio" :aria-checked="!clear" :class="{ on: !clear }" data-test="as-film" @click="clear = false">a film</button>
        <button role="radio" :aria-checked="clear" :class="{ on: clear }" data-test="as-clear" @click="clear = true">with transparency</button>
      </div>
      <template v-if="clear">
        <span class="muted label">Format</span>
        <div class="choice formats" role="radiogroup" aria-label="Format">
          <button v-for="[value, word] in FORMATS" :key="value" role="radio" :aria-checked="format === value" :class="{ on: format === value }" :data-test="`format-${value}`" @click="format = value">{{ word }}</button>
        </div>
        <span class="muted label">Colours</span>
        <div class="choice" role="radiogroup" aria-label="Colours">
          <button v-for="[value, word] in ALPHAS" :key="value" role="radio" :aria-checked="alpha === value" :class="{ on: alpha === value }" :title="value === 'straight' ? 'As they are, whatever covers how much: what most programs expect' : 'Multiplied by their alpha: over black they are right as they are'" @click="alpha = value">{{ word }}</button>
        </div>
        <div class="ground">
          <button class="flip" :aria-pressed="ground !== null" title="In place of nothing a plain colour, to be keyed out elsewhere" @click="ground = ground === null ? '#00b140' : null">over a plain colour</button>
          <ColourField v-if="ground !== null" :value="ground" label="The plain colour" @change="(colour) => { ground = colour }" />
        </div>
      </template>
      <p v-else class="muted what">H.264 in {{ sound === 'pcm' && project.heard ? 'QuickTime' : 'MP4' }}, {{ size.join('×') }}, Rec.709, {{ draft ? 'half as large and painted lightly, as the Preview plays it' : 'painted exactly as the paused Preview shows it' }}.<template v-if="blurred"> Motion blur takes up to {{ desk.catalogue!.ceilings.exact }} pictures a frame.</template></p>
      <span class="muted label">What</span>
      <div class="choice" role="radiogroup" aria-label="Range">
        <button role="radio" :aria-checked="what === 'film'" :class="{ on: what === 'film' }" @click="what = 'film'">the whole film</button>
        <button role="radio" :aria-checked="what === 'range'" :class="{ on: what === 'range' }" :disabled="project.range.first == null && project.range.last == null" @click="what = 'range'">in to out</button>
        <button role="radio" :aria-checked="what === 'clip'" :class="{ on: what === 'clip' }" :disabled="!desk.clip" @click="what = 'clip'">the clip in hand</button>
      </div>
      <span class="muted label">Painted</span>
      <div class="choice" role="radiogroup" aria-label="Painted">
        <button role="radio" :aria-checked="!draft" :class="{ on: !draft }" data-test="in-full" @click="draft = false">in full</button>
        <button role="radio" :aria-checked="draft" :class="{ on: draft }" data-test="as-draft" title="Lighter pictures, to be judged and not to be shown" @click="draft = true">as a draft</button>
      </div>
      <p class="muted takes" data-test="estimate">{{ told }}</p>
      <span v-if="!clear" class="muted label">Quality</span>
      <div v-if="!clear" class="choice" role="radiogroup" aria-label="Quality">
        <button v-for="[value, word] in QUALITIES" :key="value" role="radio" :aria-checked="quality === value" :class="{ on: quality === value }" @click="quality = value">{{ word }}</button>
      </div>
      <template v-if="project.heard && !clear">
        <span class="muted label">Sound</span>
        <div class="choice" role="radiogroup" aria-label="Sound">
          <button v-for="[value, word] in SOUNDS" :key="value" role="radio" :aria-checked="sound === value" :class="{ on: sound === value }" @click="sound = value">{{ word }}</button>
        </div>
      </template>
      <ul v-if="warnings.length" class="warnings" data-test="export-warnings"><li v-for="each in warnings" :key="each">{{ each }}</li></ul>
      <VBtn v-if="finished" block class="again" :disabled="busy || ordering" data-test="export" @click="order">{{ ordering ? 'Asking for the film' : 'Export it again' }}</VBtn>
      <VBtn v-else block variant="flat" :disabled="busy || ordering" data-test="export" @click="order">{{ busy ? 'Exporting' : ordering ? 'Asking for the film' : 'Export the film' }}</VBtn>
      <div v-for="(job, i) in over" :key="job.id" class="job" :data-test="`job-${job.state}`">
        <div class="line">
          <span class="told" :class="{ alarm: job.state === 'failed' }">{{ says(job) }}</span>
          <a v-if="job.state === 'done'" class="act" :class="{ save: i === 0 }" :href="`/api/exports/${job.id}/film`" :download="job.file_name ?? 'film.mp4'" data-test="save">save a copy</a>
          <button class="act" :class="{ alarm: leaving === job.id }" data-test="delete-export" :title="job.state === 'done' ? 'The file, and what it was made of' : 'From this list'" @click="remove(job.id)" @pointerleave="leaving = null">{{ leaving === job.id ? 'delete it for good' : 'delete' }}</button>
        </div>
        <span v-if="job.state === 'done'" class="muted numbers file" :title="job.file_name ?? ''">{{ job.file_name }}</span>
        <FilmPlayer v-if="job.state === 'done' && job === jobs[0] && (job.format === 'h264' || job.format === 'vp9')" :class="{ clear: job.format === 'vp9' }" :src="`/api/exports/${job.id}/film`" :rate="project.rate" />
      </div>
    </div>
  </aside>
</template>

<style scoped>
.what { margin: 0 0 12px; font-size: 12.5px; line-height: 18px; }
.choice { margin-bottom: 12px; }
.takes { margin: -6px 0 12px; font-size: 12.5px; min-height: 18px; }
.formats { flex-wrap: wrap; }
.ground { display: flex; gap: 10px; align-items: center; margin-bottom: 12px; }
.clear { background: repeating-conic-gradient(#8a8378 0 25%, #b5ada0 0 50%) 0 0 / 16px 16px; }
.label { display: block; margin-bottom: 4px; font-size: 12.5px; }
.warnings { margin: 0 0 12px; padding: 0 0 0 14px; font-size: 12.5px; line-height: 18px; color: var(--alarm); }
.save { font-weight: 600; background: var(--bone); color: var(--soot); text-decoration: none; }
.save:hover { background: var(--bone); }
.act.alarm { color: var(--alarm); }
.file { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.job { border-top: 1px solid var(--line); margin-top: 12px; padding-top: 10px; font-size: 12.5px; display: grid; gap: 8px; }
/* Where it is seen however far down the settings are read. */
.now { margin: 0; padding: 8px 16px 10px; border-bottom: 1px solid var(--line); }
.line { display: flex; justify-content: space-between; gap: 12px; }
</style>
