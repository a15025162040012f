<script setup lang="ts">
/** How loud the film is, and bringing it to where it has to be. */
import { watchDebounced } from '@vueuse/core'
import { computed, onUnmounted, ref } from 'vue'
import { answered, api, said, type FilmLoudness } from '../api/client'
import { passes, Refused } from '../api/refused'
import Gauge from '../parts/Gauge.vue'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'

const project = useProject()
const edits = useEdits()
const found = ref<FilmLoudness | null>(null)
const busy = ref(false)
let asked = 0
// Measured when an edit is done with, not at every step of a drag: it takes a part of the film's own length.
watchDebounced(() => [project.id, project.revision], async () => {
  const own = ++asked
  if (!project.heard) { found.value = null; return }
  busy.value = true
  let answer: FilmLoudness | null = null
  for (;;) {
    try {
      answer = await answered(api.GET('/api/projects/{project_id}/loudness', { params: { path: { project_id: project.id } } }))
      break
    } catch (error) {
      // A newer state was measured meanwhile, or the failure passes: it is asked again, unless there is a newer question.
      if (!passes(error) && !(error instanceof Refused && error.status === 409)) break
      await new Promise((resume) => setTimeout(resume, 800))
      if (own !== asked) return
    }
  }
  if (own !== asked) return
  found.value = answer
  busy.value = false
}, { immediate: true, debounce: 500 })

onUnmounted(() => { asked += 1 })

const sound = computed(() => project.settings!.sound)
const LAWS = ['0 dB', '-3 dB', '-4.5 dB', '-6 dB'] as const
const TARGETS = [[-23, 'broadcast'], [-16, 'spoken web'], [-14, 'web']] as const
async function bring(target: number) {
  busy.value = true
  try {
    project.take(await answered(api.POST('/api/projects/{project_id}/loudness', { params: { path: { project_id: project.id } }, body: { target, ceiling: sound.value.ceiling ?? -1 } })))
  } catch (error) {
    project.problem = said(error)
    busy.value = false
  }
}
const near = (target: number) => found.value !== null && Math.abs(found.value.integrated - target) < 0.15

const WIDTH = 288
const HEIGHT = 56
const LOW = -48
const y = (level: number) => ((Math.min(0, Math.max(LOW, level)) / LOW) * (HEIGHT - 4) + 2).toFixed(1)
const course = computed(() => {
  const all = found.value?.course ?? []
  return all.length > 1 ? `M${all.map((level, i) => `${((i / (all.length - 1)) * (WIDTH - 26)).toFixed(1)} ${y(level)}`).join('L')}` : ''
})
const shown = (level: number) => (level <= -119 ? 'silent' : level.toFixed(1))
</script>

<template>
  <div class="loudness" data-test="loudness">
    <p v-if="!project.heard" class="muted">Nothing is heard in this film yet.</p>
    <template v-else>
      <div class="numbers three" :class="{ busy }">
        <span data-test="integrated"><b>{{ found ? shown(found.integrated) : '' }}</b><br />LUFS, the film</span>
        <span><b>{{ found ? shown(found.short_term) : '' }}</b><br />short-term max</span>
        <span :class="{ alarm: found && found.true_peak > -0.95 }"><b>{{ found ? shown(found.true_peak) : '' }}</b><br />dB true peak</span>
      </div>
      <svg :width="WIDTH" :height="HEIGHT" role="img" aria-label="Loudness over the film, of three seconds each">
        <path v-for="line in [-14, -23, -36]" :key="line" class="scale" :d="`M0 ${y(line)}H${WIDTH - 26}`" />
        <text v-for="line in [-14, -23, -36]" :key="line" :x="WIDTH" :y="Number(y(line)) + 3" text-anchor="end">{{ line }}</text>
        <path class="course" :d="course" />
      </svg>
      <span v-if="found" class="muted">{{ found.range.toFixed(1) }} LU loudness range</span>
      <div class="choice" role="group" aria-label="Bring the film to">
        <button v-for="[target, word] in TARGETS" :key="target" :class="{ on: near(target) }" :disabled="busy && !found" :title="`The whole film at ${target} LUFS, no true peak above ${sound.ceiling ?? -1} dB`" :data-test="`bring${target}`" @click="bring(target)">{{ target }} {{ word }}</button>
      </div>
      <Gauge label="Film’s gain" :value="sound.gain" :low="-24" :high="24" :least="-48" :most="48" :digits="1" :rest="0" unit="dB" @change="(v, g) => edits.put({ kind: 'set_film_sound', sound: { ...sound, gain: v } }, g)" />
      <Gauge label="Ceiling" :value="sound.ceiling ?? 0" :low="-9" :high="0" :least="-20" :most="0" :digits="1" :rest="-1" unit="dB" @change="(v, g) => edits.put({ kind: 'set_film_sound', sound: { ...sound, ceiling: v } }, g)" />
      <div class="law">
        <span class="muted" title="The level of a mono sound on either side, in the middle">Pan law, mono</span>
        <div class="choice" role="radiogroup" aria-label="Pan law">
          <button v-for="law in LAWS" :key="law" role="radio" :aria-checked="sound.pan_law === law" :class="{ on: sound.pan_law === law }" @click="edits.put({ kind: 'set_film_sound', sound: { ...sound, pan_law: law } })">{{ law }}</button>
        </div>
      </div>
      <a class="act" :href="`/api/projects/${project.id}/film.wav`" download="film.wav">save the sound alone</a>
    </template>
  </div>
</template>

<style scoped>
.loudness { font-size: 12.5px; display: grid; gap: 8px; justify-items: start; container-type: inline-size; }
.loudness > p { margin: 0; }
.law { display: grid; gap: 4px; }
.three { display: grid; grid-template-columns: repeat(3, 1fr); gap: 10px; width: 100%; font-family: inherit; line-height: 16px; }
.three b { font-family: var(--numbers); letter-spacing: -0.03em; line-height: 26px; font-size: 20px; font-weight: 500; }
.busy { opacity: 0.5; }
svg { display: block; background: var(--soot); }
.scale { stroke: var(--line); stroke-dasharray: 2 3; }
.course { fill: none; stroke: var(--bone); stroke-width: 1.3; }
text { font: 8px var(--numbers); fill: var(--muted); }
.choice { display: flex; flex-wrap: wrap; }
.gauge { justify-self: stretch; }
</style>
