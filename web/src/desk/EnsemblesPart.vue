<script setup lang="ts">
/** Recipes of several clips. Resting on one plays it at the playhead; a click lays it there; what it leaves to be filled in stands below. */
import { computed, onMounted, ref } from 'vue'
import { answered, api, said, type Edit, type Ensemble, type EnsembleInfo, type EnsemblePart } from '../api/client'
import ColourField from '../parts/ColourField.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { newId, useEdits } from '../use/edits'
import { propertyOf } from '../use/properties'
import { useTryout } from '../use/tryout'

const project = useProject()
const desk = useDesk()
const edits = useEdits()
const tryout = useTryout()

const all = ref<EnsembleInfo[]>([])
const resting = ref<string | null>(null)
const tile = ref(0)
const kept = ref<EnsembleInfo | null>(null)
const files = ref<HTMLInputElement | null>(null)
let turning = 0
const MOMENTS = 16
const HIGH = 80

const load = async () => { all.value = await answered(api.GET('/api/ensembles')) }
onMounted(load)

type Use = Extract<Edit, { kind: 'use_ensemble' }>
const use = (ensemble: Ensemble, seed: string, more: Partial<Use> = {}): Use => ({ kind: 'use_ensemble', ensemble, frame: desk.frame, seed, length: null, fills: {}, ...more })
/** Frames of this film that it lasts. */
const lasts = (each: EnsembleInfo, frames = each.length) => Math.round((frames * project.rate) / (each.ensemble.film.settings.rate!.num / each.ensemble.film.settings.rate!.den))
const picture = (id: string, tiles: number) => `/api/projects/${project.id}/ensembles/${id}/moments?tiles=${tiles}&width=142&height=${HIGH}&at=${desk.frame}&r=${project.revision}`

function rest(each: EnsembleInfo) {
  resting.value = each.ensemble.id
  tile.value = 0
  clearInterval(turning)
  turning = window.setInterval(() => { tile.value = (tile.value + 1) % MOMENTS }, 160)
  tryout.rest(use(each.ensemble, 'tried'), [desk.frame, desk.frame + lasts(each) - 1])
}
function leave() {
  clearInterval(turning)
  resting.value = null
  tryout.leave()
}
/** Words, or else a picture, are what is shown of it first; and it is looked at where all of it has come. */
function takeUp(seed: string, info: EnsembleInfo) {
  const { ensemble } = info
  const outer = new Set(ensemble.film.tracks!.filter((track) => !track.within).map((track) => track.id))
  const order: Record<string, number> = { sound: 0, text: 2 }
  const ids = Object.values(ensemble.film.clips!)
    .map((clip, i) => ({ clip, id: `${seed}-${i + 1}`, place: order[clip.content.kind] ?? 1 }))
    .filter(({ clip }) => outer.has(clip.track))
    .sort((a, b) => a.place - b.place)
  desk.takeUp(ids.map(({ id }) => id), (there) => {
    desk.goTo(Math.min(...there.map((id) => project.project!.clips[id].head)) + Math.min(lasts(info) - 1, lasts(info, ensemble.stretches ? ensemble.head : Math.round(ensemble.film.settings.rate!.num * 2))))
  })
}
function lay(each: EnsembleInfo) {
  leave()
  const seed = newId()
  edits.put(use(each.ensemble, seed))
  takeUp(seed, each)
}

/** The ensemble that what is in hand belongs to, and under which name it was laid. */
const laid = computed(() => {
  const clip = desk.clip
  const info = clip && all.value.find((each) => each.ensemble.id === clip.recipe)
  return clip && info ? { info, seed: clip.id.replace(/-\d+$/, '') } : null
})
const idOf = (place: string) => `${laid.value!.seed}-${Object.keys(laid.value!.info.ensemble.film.clips!).indexOf(place.split(':')[0]) + 1}`
const clipOf = (place: string) => project.project!.clips[idOf(place)]
const parts = computed(() => (laid.value ? laid.value.info.ensemble.parts!.filter((part) => part.places.some((place) => clipOf(place))) : []))

/** What stands at the first of a part's places now. */
function now(part: EnsemblePart): string | null {
  const place = part.places.find((each) => clipOf(each))!
  const { content } = clipOf(place)
  if (part.kind === 'words') return content.kind === 'text' ? content.text : ''
  if (part.kind === 'picture' || part.kind === 'sound') return 'media' in content ? content.media : null
  const [step, name] = place.slice(place.indexOf(':') + 1).split('.')
  const property = propertyOf(clipOf(place), { step, name })
  return property?.state === 'fixed' ? String(property.value) : part.value!
}
const mediaFor = (part: EnsemblePart) => Object.values(project.project!.media).filter((each) => (part.kind === 'sound' ? each.kind === 'sound' : each.kind === 'still' || each.kind === 'video')).map((each) => ({ title: each.name, value: each.id as string | null }))
function fill(part: EnsemblePart, value: string, gesture?: string) {
  edits.put({ kind: 'fill_ensemble', ensemble: laid.value!.info.ensemble, seed: laid.value!.seed, fills: { [part.name]: value } }, gesture)
}
/** Laid anew as long as that, with what was filled in. */
function stretch(length: number) {
  const { info, seed } = laid.value!
  const fills: Record<string, string> = {}
  for (const part of parts.value) {
    const value = now(part)
    if (value !== null && value !== part.value) fills[part.name] = value
  }
  const own = Object.keys(info.ensemble.film.clips!).map((_, i) => project.project!.clips[`${seed}-${i + 1}`]).filter(Boolean)
  const outer = own.filter((clip) => !project.project!.tracks.find((track) => track.id === clip.track)?.within)
  const tracks = [...new Set(outer.map((clip) => clip.track))].filter((track) => track.startsWith(seed))
  const next = newId()
  edits.put({ kind: 'several', label: `${info.ensemble.name}, as long`, edits: [
    { kind: 'remove_clips', clips: outer.map((clip) => clip.id), close: false },
    ...tracks.map((track) => ({ kind: 'remove_track' as const, track })),
    use(info.ensemble, next, { frame: Math.round(Math.min(...outer.map((clip) => clip.head))), length: Math.round(length), fills }),
  ] })
  takeUp(next, info)
}
const span = computed(() => {
  const { info, seed } = laid.value!
  const own = Object.keys(info.ensemble.film.clips!).map((_, i) => project.project!.clips[`${seed}-${i + 1}`]).filter((clip) => clip && clip.content.kind !== 'sound' && !project.project!.tracks.find((track) => track.id === clip.track)?.within)
  return Math.round(Math.max(...own.map((clip) => project.endOf(clip))) - Math.min(...own.map((clip) => clip.head)))
})

async function keep() {
  try {
    kept.value = await answered(api.POST('/api/projects/{project_id}/ensembles', { params: { path: { project_id: project.id } }, body: { clips: desk.picked, name: `${desk.clips[0].name.slice(0, 40)} and ${desk.picked.length - 1} more`, sort: 'arrangement', note: '' } }))
    await load()
  } catch (error) { project.problem = said(error) }
}
async function remove({ ensemble }: EnsembleInfo) {
  try {
    await answered(api.DELETE('/api/ensembles/{id}', { params: { path: { id: ensemble.id } } }))
    await load()
  } catch (error) { project.problem = said(error) }
}
async function read(event: Event) {
  const field = event.target as HTMLInputElement
  try {
    for (const file of [...(field.files ?? [])]) await answered(api.POST('/api/ensembles', { body: { text: await file.text() } }))
    await load()
  } catch (error) { project.problem = said(error) }
  field.value = ''
}
</script>

<template>
  <div class="inside" @pointerleave="leave">
    <p class="muted to">Laid from the playhead on: pictures above all that is there, sounds below</p>
    <div class="shelf">
      <div v-for="each in all" :key="each.ensemble.id" class="ensemble" :class="{ now: laid?.info === each }" v-rests="[() => rest(each), leave]">
        <button class="picture" :data-ensemble="each.ensemble.id" :aria-label="`${each.ensemble.name}: ${each.ensemble.note}`" :title="each.ensemble.note" @click="lay(each)">
          <img :src="picture(each.ensemble.id, 1)" alt="" width="142" height="80" loading="lazy" draggable="false" />
          <span v-if="resting === each.ensemble.id" class="moving" :style="{ backgroundImage: `url(${picture(each.ensemble.id, MOMENTS)})`, backgroundPositionY: `${-tile * HIGH}px` }" />
        </button>
        <span class="name">{{ each.ensemble.name }}</span>
        <span class="muted">{{ (lasts(each) / project.rate).toFixed(1) }} s{{ each.least < each.length ? `, or from ${(lasts(each, each.least) / project.rate).toFixed(1)} s on` : ', always' }}</span>
        <p v-if="each.missing.length" class="alarm missing">Without {{ each.missing.join(', ') }}</p>
        <div v-if="each.own" class="muted own"><a :href="`/api/ensembles/${each.ensemble.id}/file`" download>save as a file</a><button class="act" @click="remove(each)">remove</button></div>
      </div>
    </div>
    <section v-if="laid" class="fills" data-test="ensemble-parts">
      <p class="head"><span class="muted">Fill in</span> {{ laid.info.ensemble.name }}</p>
      <label v-if="laid.info.ensemble.stretches" class="line"><span class="muted">lasts</span>
        <span><input class="numbers" type="number" :value="span" :min="lasts(laid.info, laid.info.least)" aria-label="Frames it lasts" data-test="lasts" @change="stretch(Number(($event.target as HTMLInputElement).value))" /> frames <span class="muted">arrival and departure stay as long</span></span></label>
      <template v-for="part in parts" :key="part.name">
        <label v-if="part.kind === 'words'" class="line"><span class="muted">{{ part.name }}</span>
          <textarea :value="now(part) ?? ''" rows="2" :aria-label="part.name" @change="fill(part, ($event.target as HTMLTextAreaElement).value)" /></label>
        <div v-else-if="part.kind === 'colour'" class="line"><span class="muted">{{ part.name }}</span><ColourField :value="now(part) ?? ''" :label="part.name" @change="(value, g) => fill(part, value, g)" /></div>
        <div v-else class="line"><span class="muted">{{ part.name }}</span>
          <VSelect :model-value="now(part)" :items="mediaFor(part)" :placeholder="part.kind === 'sound' ? 'its own' : 'a picture of the film'" :aria-label="part.name" @update:model-value="fill(part, $event)" /></div>
      </template>
    </section>
    <div class="foot">
      <button v-if="desk.picked.length > 1" class="act" data-test="keep-ensemble" title="With all that they hold and use; their words, colours, pictures and sounds can be filled in" @click="keep">keep the {{ desk.picked.length }} clips in hand as a recipe</button>
      <span v-if="kept" class="muted">Kept as “{{ kept.ensemble.name }}”.</span>
      <button class="act" @click="files!.click()">read a recipe file</button>
      <a v-if="laid" :href="`/api/ensembles/${laid.info.ensemble.id}/file`" download>save {{ laid.info.ensemble.name }} as a file</a>
      <input ref="files" type="file" accept=".json" multiple hidden data-test="ensemble-files" @change="read" />
    </div>
  </div>
</template>

<style scoped>
.to { margin: 0 0 8px; font-size: 12.5px; }
.shelf { display: grid; grid-template-columns: 1fr 1fr; gap: 10px 4px; }
.ensemble { width: 142px; font-size: 12.5px; display: grid; }
.picture { display: block; position: relative; width: 142px; height: 80px; background: var(--soot); outline-offset: 1px; }
.now .picture { outline: 1px solid var(--bone); }
.picture img { display: block; }
.moving { position: absolute; inset: 0; background-size: 142px auto; }
.name { font-weight: 600; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; padding-top: 3px; }
.missing { margin: 2px 0 0; }
.own { display: flex; gap: 10px; }
.own a, .foot a { color: inherit; text-decoration: none; }
.fills { display: grid; gap: 6px; padding: 12px 0 4px; border-top: 1px solid var(--line); margin-top: 12px; font-size: 12.5px; }
.head { margin: 0; font-weight: 600; }
.head .muted { font-weight: 400; }
.fills input { width: 64px; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 2px 6px; text-align: right; color: inherit; }
.fills textarea { width: 100%; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 4px 8px; font: inherit; color: inherit; resize: vertical; }
.foot { display: flex; flex-direction: column; align-items: flex-start; gap: 6px; padding: 14px 0; font-size: 12.5px; color: var(--muted); border-top: 1px solid var(--line); margin-top: 12px; }
</style>
