<script setup lang="ts">
/** The key in hand: its frame, its value, what it counts from, and the ease to the next key. */
import { computed } from 'vue'
import type { Clip, Property } from '../api/client'
import EaseCurve from '../parts/EaseCurve.vue'
import Gauge from '../parts/Gauge.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'

const props = defineProps<{ clip: Clip }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()

const place = computed(() => desk.key!)
const property = computed<Property | null>(() => {
  const { step, name } = place.value
  if (step === 'content') return (props.clip.content as unknown as Record<string, Property>)[name] ?? null
  const owner = props.clip.steps.find((each) => each.id === step)
  return (name === 'mix' ? owner?.mix : owner?.values[name]) ?? null
})
const parameter = computed(() => {
  const { step, name } = place.value
  if (name === 'mix') return desk.catalogue!.mix
  const kind = props.clip.steps.find((each) => each.id === step)?.kind
  const known = step === 'content' ? desk.catalogue!.content[props.clip.content.kind] : desk.kindOf(kind ?? '')?.parameters
  return known?.find((each) => each.name === name) ?? null
})
const key = computed(() => (property.value?.state === 'moving' ? property.value.keys[place.value.index] ?? null : null))
const curve = computed(() => desk.drawing?.curves.find((each) => each.step === place.value.step && each.name === place.value.name) ?? null)
const drawn = computed(() => curve.value?.keys.find((each) => each[2] === place.value.index) ?? null)
const isLast = computed(() => curve.value?.keys.at(-1)?.[2] === place.value.index)
const times = computed(() => parameter.value?.shown_times ?? 1)

type Ease = NonNullable<typeof key.value>['ease']
const EASES: [string, Ease][] = [
  ['hold', { kind: 'hold' }], ['even', { kind: 'linear' }], ['soft', { kind: 'strengths', start: 1 / 3, end: 1 / 3 }],
  ['curve', { kind: 'free', x1: 0.2, y1: 0.8, x2: 0.3, y2: 1.15 }],
]
const nowEase = computed(() => ({ hold: 'hold', linear: 'even', strengths: 'soft', free: 'curve' })[key.value?.ease.kind ?? 'linear'])

function set(ease: Ease, gesture?: string) {
  const { step, name, index } = place.value
  edits.easeKey(props.clip.id, step, name, index, ease, gesture)
}

/** The segment's own shape, cut from the sampled curve. */
const shape = computed<[number, number][]>(() => {
  if (!curve.value || !drawn.value || isLast.value) return []
  const order = curve.value.keys
  const next = order[order.findIndex((each) => each[2] === place.value.index) + 1]
  const [from, to] = [drawn.value, next]
  const points = curve.value.points.filter(([frame]) => frame >= from[0] && frame <= to[0])
  const rise = to[1] - from[1]
  if (!rise || points.length < 3) return []
  return points.map(([frame, value]) => [(frame - from[0]) / (to[0] - from[0]), (value - from[1]) / rise])
})
</script>

<template>
  <section v-if="key && parameter && drawn" class="key" aria-label="Key">
    <div class="top">
      <span class="name">Key of {{ parameter.label.toLowerCase() }}</span>
      <button class="muted" @click="edits.removeKey(clip.id, place.step, place.name, place.index); desk.key = null">remove</button>
      <button class="muted" @click="desk.key = null">close</button>
    </div>
    <Gauge
      label="Frame" :value="Math.round(drawn[0])" :low="0" :high="clip.length - 1" :least="0" :most="clip.length - 1" unit="f" :rate="project.rate"
      @change="(frame, gesture) => edits.moveKey(clip.id, place.step, place.name, place.index, frame, null, gesture)"
    />
    <Gauge
      label="Value" :value="drawn[1] * times" :low="parameter.low * times" :high="parameter.high * times" :least="parameter.least * times"
      :most="parameter.most * times" :neutral="parameter.neutral * times" :unit="parameter.unit" :digits="parameter.digits"
      @change="(value, gesture) => edits.moveKey(clip.id, place.step, place.name, place.index, Math.round(drawn![0]), value / times, gesture)"
    />
    <div class="line">
      <span class="muted">Counts from</span>
      <div class="choice" role="radiogroup" aria-label="Counts from">
        <button
          v-for="end in (['head', 'tail', 'proportion'] as const)" :key="end" role="radio" :aria-checked="key.counts_from === end"
          :class="{ on: key.counts_from === end }" @click="edits.recountKey(clip.id, place.step, place.name, place.index, end)"
        >{{ end === 'proportion' ? 'in proportion' : end }}</button>
      </div>
    </div>
    <template v-if="!isLast">
      <div class="line">
        <span class="muted">Ease on</span>
        <div class="choice" role="radiogroup" aria-label="Ease to the next key">
          <button v-for="[word, ease] in EASES" :key="word" role="radio" :aria-checked="nowEase === word" :class="{ on: nowEase === word }" @click="set(ease)">{{ word }}</button>
        </div>
        <EaseCurve v-if="shape.length" :points="shape" :width="52" :height="26" />
      </div>
      <template v-if="key.ease.kind === 'strengths'">
        <Gauge label="Soft start" :value="key.ease.start * 100" :low="0" :high="100" :least="0" :most="100" unit="%" @change="(v, g) => set({ ...key!.ease, start: v / 100 } as Ease, g)" />
        <Gauge label="Soft landing" :value="key.ease.end * 100" :low="0" :high="100" :least="0" :most="100" unit="%" @change="(v, g) => set({ ...key!.ease, end: v / 100 } as Ease, g)" />
      </template>
      <template v-if="key.ease.kind === 'free'">
        <Gauge
          v-for="part in (['x1', 'y1', 'x2', 'y2'] as const)" :key="part" :label="part" :value="key.ease[part]" :digits="2"
          :low="part[0] === 'x' ? 0 : -1" :high="part[0] === 'x' ? 1 : 2" :least="part[0] === 'x' ? 0 : -100" :most="part[0] === 'x' ? 1 : 100"
          @change="(v, g) => set({ ...key!.ease, [part]: v } as Ease, g)"
        />
      </template>
    </template>
  </section>
</template>

<style scoped>
.key { padding: 4px 16px 10px 36px; border-bottom: 1px solid var(--line); background: var(--raised); }
.top { display: flex; gap: 14px; align-items: baseline; height: 28px; font-size: 12px; }
.name { flex: 1; font-weight: 600; font-size: 13px; }
.top button:hover { color: var(--bone); }
.line { display: grid; grid-template-columns: 78px auto 1fr; gap: 5px; align-items: center; min-height: 26px; font-size: 12px; }
.choice { display: flex; gap: 12px; }
.choice button { color: var(--muted); border-bottom: 1px solid transparent; }
.choice button:hover, .choice .on { color: var(--bone); }
.choice .on { border-color: var(--bone); }
</style>
