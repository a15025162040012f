<script setup lang="ts">
/** How a sound begins and ends, and whether it is heard; of a shot, its own sound and the way to part it. */
import { useDebounceFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, api, said, type Clip, type Edit } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import Gauge from '../parts/Gauge.vue'
import { useProject } from '../stores/project'
import { useDesk } from '../stores/desk'
import { newId, useEdits } from '../use/edits'
import { saidSpeed, speedOf } from '../use/speed'

const props = defineProps<{ clip: Clip }>()
const project = useProject()
const desk = useDesk()
const edits = useEdits()
const sound = computed(() => (props.clip.content.kind === 'sound' ? props.clip.content : null))
const muted = computed(() => 'muted' in props.clip.content && props.clip.content.muted)
const media = computed(() => ('media' in props.clip.content ? project.project!.media[props.clip.content.media]?.sound ?? null : null))
const says = computed(() => (media.value ? `${(media.value.rate / 1000).toFixed(1)} kHz, ${media.value.channels === 1 ? 'one channel' : media.value.channels === 2 ? 'stereo' : `${media.value.channels} channels`}, ${media.value.seconds.toFixed(1)} s` : ''))
const hits = computed(() => sound.value?.hits ?? [])
const least = ref(0.12)
const apart = ref(0.06)
let gesture = 0
/** Hits found again as the gauges are moved; the last wish counts. */
async function find() {
  const own = ++gesture
  try {
    const answer = await answered(api.POST('/api/projects/{project_id}/clips/{clip_id}/hits', { params: { path: { project_id: project.id, clip_id: props.clip.id } }, body: { least: least.value, apart: apart.value } }))
    if (own === gesture) project.take(answer)
  } catch (error) { project.problem = said(error) }
}
const again = useDebounceFn(() => { if (hits.value.length) void find() }, 250)
/** The hit at the playhead, if there is one: taken away, else a new one is put. */
const steady = computed(() => sound.value?.speed.state === 'fixed')
const seconds = computed(() => (sound.value ? (sound.value.start + (desk.frame - props.clip.head) * speedOf(sound.value)) / project.rate : 0))
const near = computed(() => hits.value.findIndex((hit) => Math.abs(hit.at - seconds.value) < 0.5 / project.rate + 1e-9 || (hit.at >= seconds.value && hit.at < seconds.value + 1 / project.rate - 1e-9)))
function put() {
  const kept = near.value >= 0 ? hits.value.filter((_, i) => i !== near.value) : [...hits.value, { at: Math.max(0, seconds.value), strength: 1 }]
  edits.put({ kind: 'set_hits', clip: props.clip.id, hits: kept })
}
type Fades = Omit<Extract<Edit, { kind: 'set_fades' }>, 'kind' | 'clips'>
const fade = (change: Fades, gesture?: string) => edits.put({ kind: 'set_fades', clips: [props.clip.id], ...change }, gesture)
const EASES = [['equal-power', 'even power'], ['straight', 'straight'], ['soft', 'soft'], ['late', 'late']] as const
const FADES = { 'equal-power': 'equal-power', straight: { kind: 'linear' }, soft: { kind: 'strengths', start: 0.5, end: 0.5 }, late: { kind: 'strengths', start: 0.8, end: 0 } } as const
const named = (ease: object | null | undefined) => (ease ? EASES.find(([name]) => JSON.stringify(FADES[name]) === JSON.stringify(ease))?.[0] : 'equal-power')
const ends = computed(() => (sound.value ? [{ over: 'fade_in' as const, ease: 'fade_in_ease' as const, label: 'Comes up' }, { over: 'fade_out' as const, ease: 'fade_out_ease' as const, label: 'Goes down' }].filter((each) => sound.value![each.over] > 0) : []))
/** Other sounds that are heard while this one is. */
const others = computed(() => project.clips.filter((clip) => clip.id !== props.clip.id && (clip.content.kind === 'sound' || clip.content.kind === 'footage') && project.project!.media[clip.content.media]?.sound
  && clip.head < project.endOf(props.clip) && project.endOf(clip) > props.clip.head).map((clip) => ({ title: clip.name, value: clip.id as string | null })))
async function duck(under: string | null) {
  if (!under) return
  try {
    project.take(await answered(api.POST('/api/projects/{project_id}/clips/{clip_id}/duck', { params: { path: { project_id: project.id, clip_id: props.clip.id } }, body: { under: [under] } })))
  } catch (error) { project.problem = said(error) }
}
const paced = computed(() => (props.clip.content.kind === 'sound' || props.clip.content.kind === 'footage') && saidSpeed(props.clip.content) !== '')
const keeps = computed(() => 'keeps_pitch' in props.clip.content && props.clip.content.keeps_pitch)
</script>

<template>
  <div class="offers" data-test="sound">
    <p class="muted">{{ sound ? 'sound' : 'the shot’s own sound' }}: {{ says }}</p>
    <template v-if="sound">
      <Gauge label="Fade in" :value="sound.fade_in" :low="0" :high="75" :least="0" :most="clip.length" unit="f" :rate="project.rate" @change="(v, g) => fade({ fade_in: Math.round(v) }, g)" />
      <Gauge label="Fade out" :value="sound.fade_out" :low="0" :high="75" :least="0" :most="clip.length" unit="f" :rate="project.rate" @change="(v, g) => fade({ fade_out: Math.round(v) }, g)" />
      <ChoiceLine v-for="each in ends" :key="each.over" :label="each.label" :choices="EASES" :now="named(sound[each.ease])" @choose="(name) => fade({ [each.ease]: FADES[name] })" />
      <div class="acts">
        <button class="act" title="The moments at which something begins" data-test="find-hits" @click="find">{{ hits.length ? `${hits.length} hits, detect again` : 'detect hits' }}</button>
        <button v-if="hits.length && steady && desk.isOver(clip)" class="act" @click="put">{{ near >= 0 ? 'take the hit here away' : 'put a hit here' }}</button>
      </div>
      <template v-if="hits.length">
        <Gauge label="At least" :value="least * 100" :low="1" :high="60" :least="1" :most="100" unit="%" @change="(v) => { least = v / 100; again() }" />
        <Gauge label="Apart" :value="apart" :low="0.01" :high="0.5" :least="0.01" :most="5" :digits="2" unit="s" @change="(v) => { apart = v; again() }" />
      </template>
    </template>
    <div v-if="sound && others.length" class="line">
      <span class="muted">Goes down</span>
      <VSelect :model-value="null" :items="others" placeholder="under…" aria-label="Duck under" data-test="duck" @update:model-value="duck" />
    </div>
    <div class="acts">
      <button class="flip" :aria-pressed="muted" data-test="mute" @click="edits.put({ kind: 'set_muted', clips: desk.picked, muted: !muted })">muted</button>
      <button v-if="paced" class="flip" :aria-pressed="keeps" title="At another speed its pitch stays as it was" data-test="keeps-pitch" @click="edits.put({ kind: 'set_keeps_pitch', clips: desk.picked, keeps: !keeps })">pitch kept</button>
      <button v-if="!sound" class="act" title="A sound clip below that is attached to it" data-test="part-sound" @click="edits.put({ kind: 'part_sound', clips: [clip.id], seed: newId() })">part it from the picture</button>
    </div>
  </div>
</template>

<style scoped>
.offers p { margin: 0 0 4px; }
.acts { display: flex; gap: 6px; margin-top: 6px; }
</style>
