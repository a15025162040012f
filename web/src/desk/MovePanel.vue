<script setup lang="ts">
/** A move: where it rests, how softly it goes, its framings on the whole picture. */
import { computed } from 'vue'
import type { Clip, Step } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import Gauge from '../parts/Gauge.vue'
import Sparkline from '../parts/Sparkline.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'

const props = defineProps<{ clip: Clip; step: Step; place: number }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()

type Zoom = 'ratio' | 'linear'
const property = computed(() => props.step.values.framing)
const keys = computed(() => (property.value?.state === 'moving' ? property.value.keys : []))
const first = computed(() => keys.value[0])
const curve = computed(() => desk.course?.curves.find((each) => each.step === props.step.id && each.name === 'framing'))
/** Frames at which the move begins and ends, as they stand in the clip. */
const ends = computed(() => { const keys = curve.value?.keys ?? []; return [keys[0]?.[0] ?? 0, keys.at(-1)?.[0] ?? props.clip.length - 1] })
const head = computed(() => Math.max(0, Math.round(ends.value[0])))
const tail = computed(() => Math.max(0, props.clip.length - 1 - Math.round(ends.value[1])))
const strength = computed(() => (first.value?.ease.kind === 'strengths' ? Math.round(50 * (first.value.ease.start + first.value.ease.end)) : 0))
const zoom = computed<Zoom>(() => (first.value?.value as { zoom?: Zoom } | undefined)?.zoom ?? 'ratio')
const change = (what: { head?: number; tail?: number; strength?: number; zoom?: Zoom }, gesture?: string) => edits.put({ kind: 'change_move', clip: props.clip.id, step: props.step.id, ...what }, gesture)
const open = computed(() => desk.framed?.step === props.step.id)
function show() {
  // A framing is judged where the clip is.
  if (!open.value && !desk.isOver(props.clip)) desk.goIn(props.clip, 0)
  desk.framed = open.value ? null : { clip: props.clip.id, step: props.step.id, done: props.place - 1 }
}
function add() {
  edits.addKey(props.clip.id, props.step.id, 'framing', desk.local)
}
</script>

<template>
  <div class="move">
    <div class="acts">
      <button class="flip" :aria-pressed="open" data-test="frame-it" @click="show">edit framings</button>
      <button class="act" title="A framing here, on the way" @click="add">add a framing here</button>
    </div>
    <template v-if="keys.length > 1">
      <Gauge label="Rests at head" :value="head" :low="0" :high="75" :least="0" :most="clip.length - 1" unit="f" :rate="project.rate" @change="(v, g) => change({ head: Math.round(v) }, g)" />
      <Gauge label="Rests at tail" :value="tail" :low="0" :high="75" :least="0" :most="clip.length - 1" unit="f" :rate="project.rate" @change="(v, g) => change({ tail: Math.round(v) }, g)" />
      <div class="eased">
        <Gauge label="Eases" :value="strength" :low="0" :high="100" :least="0" :most="100" unit="%" @change="(v, g) => change({ strength: v / 100 }, g)" />
        <Sparkline v-if="curve" :points="curve.points" :at="desk.local" :width="60" :height="22" />
      </div>
      <ChoiceLine label="Zoom" :choices="[['ratio', 'even to the eye'], ['linear', 'linear']] as const" :now="zoom" @choose="change({ zoom: $event })" />
    </template>
  </div>
</template>

<style scoped>
.move { display: grid; gap: 2px; }
.acts { display: flex; flex-wrap: wrap; gap: 6px; padding: 2px 0 4px; }
.eased { display: flex; align-items: center; gap: 8px; }
</style>
