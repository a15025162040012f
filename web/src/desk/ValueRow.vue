<script setup lang="ts">
/** A property's gauge, whether it moves, its keys and its curve over the clip. */
import { computed } from 'vue'
import type { Clip, ParameterInfo } from '../api/client'
import Gauge from '../parts/Gauge.vue'
import Sparkline from '../parts/Sparkline.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'

const props = defineProps<{ clip: Clip; step: string; parameter: ParameterInfo }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()

const curve = computed(() => desk.drawing?.curves.find((each) => each.step === props.step && each.name === props.parameter.name) ?? null)

/** The value at the playhead, read off the core's own samples. */
const value = computed(() => {
  const { step, parameter, clip } = props
  if (curve.value) {
    const points = curve.value.points
    let after = points.findIndex((point) => point[0] >= desk.local)
    if (after < 0) after = points.length - 1
    const [f1, v1] = points[after]
    if (after === 0 || f1 === desk.local) return v1
    const [f0, v0] = points[after - 1]
    return v0 + ((v1 - v0) * (desk.local - f0)) / (f1 - f0)
  }
  const property = step === 'content'
    ? (clip.content as unknown as Record<string, { state: string; value: number }>)[parameter.name]
    : clip.steps.find((each) => each.id === step)?.values[parameter.name]
  return property?.state === 'fixed' ? property.value : parameter.default
})

const frames = computed(() => (curve.value?.keys ?? []).map((key) => Math.round(key[0])))
const atKey = computed(() => frames.value.includes(desk.local))
const times = computed(() => props.parameter.shown_times)

function toggleKey() {
  const { clip, step, parameter } = props
  const key = curve.value?.keys.find((each) => Math.round(each[0]) === desk.local)
  if (key) edits.removeKey(clip.id, step, parameter.name, key[2])
  else edits.addKey(clip.id, step, parameter.name, desk.local)
}

function jump(direction: 1 | -1) {
  const beyond = frames.value.filter((frame) => (frame - desk.local) * direction > 0)
  if (beyond.length) desk.goTo(props.clip.head + (direction > 0 ? Math.min(...beyond) : Math.max(...beyond)))
}
</script>

<template>
  <Gauge
    :label="parameter.label" :value="value * times" :low="parameter.low * times" :high="parameter.high * times"
    :least="parameter.least * times" :most="parameter.most * times" :neutral="parameter.neutral * times" :unit="parameter.unit"
    :digits="parameter.digits" :rate="project.rate" :live="curve !== null && atKey"
    @change="(shown, gesture) => edits.value(clip.id, step, parameter.name, shown / times, gesture)"
  >
    <div v-if="parameter.may_move" class="keys">
      <button
        class="state" :aria-pressed="curve !== null" :aria-label="`${parameter.label} ${curve ? 'moving' : 'fixed'}`"
        :title="curve ? 'Moving; click to fix it at the value here' : 'Fixed; click to set it moving from a key here'"
        @click="edits.setMoving(clip.id, step, parameter.name, curve === null)"
      >
        <Sparkline v-if="curve" :points="curve.points" :width="26" :height="14" />
        <svg v-else width="26" height="14"><path d="M1 7H25" /></svg>
      </button>
      <template v-if="curve">
        <button aria-label="Previous key" @click="jump(-1)"><svg width="8" height="12"><path d="M6 2L2 6L6 10" /></svg></button>
        <button :aria-label="atKey ? 'Remove the key here' : 'Key here'" :title="atKey ? 'Remove the key here' : 'Key here'" :class="{ here: atKey }" @click="toggleKey">
          <svg width="9" height="12"><path :d="atKey ? 'M1.500 6H7.500' : 'M1.500 6H7.500M4.500 3V9'" /></svg>
        </button>
        <button aria-label="Next key" @click="jump(1)"><svg width="8" height="12"><path d="M2 2L6 6L2 10" /></svg></button>
      </template>
    </div>
  </Gauge>
</template>

<style scoped>
.keys { display: flex; align-items: center; gap: 2px; }
.keys button svg { display: block; fill: none; stroke: var(--muted); }
.state svg { opacity: 0.8; }
.state:hover { background: var(--soot); }
.here svg { stroke: var(--now) !important; }
.keys button:hover svg { stroke: var(--bone); }
</style>
