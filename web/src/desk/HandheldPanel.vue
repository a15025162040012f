<script setup lang="ts">
/** How the camera is held: situations, tried at a rest of the pointer; how it turns over the clip, and how often. */
import { computed, ref } from 'vue'
import { answered, api, said, type Clip, type Edit, type Step } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useAnswer } from '../use/answer'
import { useEdits } from '../use/edits'
import { useTryout } from '../use/tryout'

const props = defineProps<{ clip: Clip; step: Step }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const tryout = useTryout()

const situations = computed(() => desk.catalogue!.situations)
const now = computed(() => props.step.choices.situation ?? situations.value[0].id)
const edit = (value: string): Edit => ({ kind: 'set_choice', clip: props.clip.id, step: props.step.id, name: 'situation', value })
function choose(id: string) {
  tryout.leave()
  edits.put(edit(id))
}
const another = () => edits.value(props.clip.id, props.step.id, 'seed', 1 + Math.floor(Math.random() * 999))

const file = ref<HTMLInputElement | null>(null)
/** A recorded track takes the place of the situation: as keys, which can be changed like any others. */
async function read(event: Event) {
  const field = event.target as HTMLInputElement
  const [chosen] = field.files ?? []
  field.value = ''
  if (!chosen) return
  try {
    const track = await answered(api.POST('/api/projects/{project_id}/clips/{clip_id}/tracks', { params: { path: { project_id: project.id, clip_id: props.clip.id } }, body: { text: await chosen.text() } }))
    const set = (name: string, property: Extract<Edit, { kind: 'set_property' }>['property']) => ({ kind: 'set_property' as const, clip: props.clip.id, step: props.step.id, name, property })
    edits.put({ kind: 'several', label: 'recorded track', edits: [
      set('yaw', track.yaw), set('pitch', track.pitch), set('turned', track.turned), set('intensity', { state: 'fixed', value: 0 }),
    ] })
    if (track.says.length) project.notes = [...project.notes, ...track.says]
  } catch (error) { project.problem = said(error) }
}

const load = () => answered(api.GET('/api/projects/{project_id}/clips/{clip_id}/steps/{step_id}/traces', { params: { path: { project_id: project.id, clip_id: props.clip.id, step_id: props.step.id } } }))
const found = useAnswer(() => [project.revision, props.step.id], () => load)

const WIDE = 300
const HIGH = 44
const AXES = [[1, 'yaw'], [2, 'pitch'], [3, 'roll']] as const
const most = computed(() => Math.max(1e-4, ...(found.value?.turns ?? []).flatMap((each) => each.slice(1).map(Math.abs))))
const turns = (axis: number) => (found.value?.turns ?? []).map((each, i) => `${i ? 'L' : 'M'}${((each[0] / Math.max(1, props.clip.length - 1)) * WIDE).toFixed(1)} ${(HIGH / 2 - (each[axis] / most.value) * (HIGH / 2 - 3)).toFixed(1)}`).join('')
/** Hz from 0.1 to 16 on a logarithmic scale. */
const hz = (rate: number) => (Math.log(rate / 0.1) / Math.log(160)) * WIDE
const top = computed(() => Math.max(1e-6, ...(found.value?.spectrum ?? []).flatMap((each) => each.slice(1))))
const power = (axis: number) => (found.value?.spectrum ?? []).filter((each) => each[0] >= 0.1).map((each, i) => `${i ? 'L' : 'M'}${hz(each[0]).toFixed(1)} ${(HIGH - 3 - (each[axis] / top.value) * (HIGH - 6)).toFixed(1)}`).join('')
const x = computed(() => (Math.max(0, desk.local) / Math.max(1, props.clip.length - 1)) * WIDE)
</script>

<template>
  <div class="held" data-test="handheld">
    <div class="list">
      <button
        v-for="each in situations" :key="each.id" class="act" :class="{ on: now === each.id }" :aria-pressed="now === each.id" :data-situation="each.id"
        v-rests="[() => tryout.whole(edit(each.id), clip), tryout.leave]" @click="choose(each.id)"
      >{{ each.says }}</button>
    </div>
    <div class="list">
      <button class="act" data-test="another" @click="another">new seed</button>
      <button class="act" title="CSV: time in seconds; yaw, pitch and roll in degrees" @click="file!.click()">read a recorded track</button>
      <a class="act" :href="`/api/projects/${project.id}/clips/${clip.id}/steps/${step.id}/track`" download="track.csv">save this one</a>
      <input ref="file" type="file" accept=".csv,text/csv,text/plain" hidden data-test="track-file" @change="read" />
    </div>
    <template v-if="found">
      <svg :viewBox="`0 0 ${WIDE} ${HIGH}`" preserveAspectRatio="none" role="img" :aria-label="`Turns of up to ${most.toFixed(2)}° over the clip`">
        <path v-for="[axis, word] in AXES" :key="word" :class="word" :d="turns(axis)" />
        <line class="at" :x1="x" :x2="x" y1="0" :y2="HIGH" />
      </svg>
      <p class="muted">yaw, <span class="dashed">pitch</span>, <span class="dotted">roll</span>: up to {{ most.toFixed(2) }}°</p>
      <svg :viewBox="`0 0 ${WIDE} ${HIGH}`" preserveAspectRatio="none" role="img" aria-label="How often it turns, from 0.1 to 16 Hz">
        <line v-for="rate in [0.2, 0.8, 2.5, 6, 11]" :key="rate" class="tick" :x1="hz(rate)" :x2="hz(rate)" :y1="HIGH - 5" :y2="HIGH" />
        <path v-for="[axis, word] in AXES" :key="word" :class="word" :d="power(axis)" />
      </svg>
      <p class="muted">how often: slow sway from 0.2 Hz, the body from 0.8, tremor from 6</p>
    </template>
  </div>
</template>

<style scoped>
.held { display: grid; gap: 4px; justify-items: start; padding: 4px 16px 6px 0; font-size: 12.5px; }
.list { display: flex; flex-wrap: wrap; gap: 4px; }
svg { display: block; width: 100%; max-width: 340px; height: 44px; background: var(--lane); }
path { fill: none; stroke: var(--bone); stroke-width: 1.2; vector-effect: non-scaling-stroke; }
.pitch { stroke-dasharray: 5 3; }
.roll { stroke-dasharray: 1.5 2.5; }
.dashed { text-decoration: underline dashed; text-underline-offset: 3px; }
.dotted { text-decoration: underline dotted; text-underline-offset: 3px; }
.at { stroke: var(--now); }
.tick { stroke: var(--muted); }
p { margin: 0; }
</style>
