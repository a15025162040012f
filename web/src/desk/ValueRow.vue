<script setup lang="ts">
/** A property: its gauge (or colour, or point), whether it is fixed, moving or driven, its keys and its curve. */
import { computed, ref } from 'vue'
import type { Clip, ParameterInfo, Value } from '../api/client'
import ColourField from '../parts/ColourField.vue'
import Gauge from '../parts/Gauge.vue'
import Sparkline from '../parts/Sparkline.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { likeIt, propertyOf } from '../use/properties'
import { readNumber } from '../parts/readNumber'
import { useSounding } from '../use/sounding'
import { MotorPanel } from './later'
import { inText } from '../use/wording'

const props = defineProps<{
  clip: Clip; step: string; parameter: ParameterInfo
  /** How it is set while it is fixed, where that changes more than the value. */
  fixes?: (value: number, gesture: string) => void
}>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const choosing = ref(false)

const property = computed(() => propertyOf(props.clip, { step: props.step, name: props.parameter.name }))
const state = computed(() => property.value?.state ?? 'fixed')
const curve = computed(() => desk.course?.curves.find((each) => each.step === props.step && each.name === props.parameter.name) ?? null)

/** The value at the playhead as the core has it; while that is on its way, or while playing, read off its samples. */
const value = computed<Value>(() => {
  const { parameter } = props
  const fixed = property.value?.state === 'fixed' ? property.value.value : null
  if (fixed !== null) return fixed
  if (desk.now && desk.now.clip === props.clip.id && desk.now.frame === desk.frame && !desk.playing) {
    const known = desk.now.values[`${props.step}.${parameter.name}`]
    if (known !== undefined) return known
  }
  if (curve.value && parameter.sort === 'number') return sampled(curve.value.points)
  if (curve.value && parameter.sort === 'colour') return [...curve.value.colours].reverse().find((each) => each[0] <= desk.local)?.[1] ?? parameter.default
  return parameter.default
})
function sampled(points: [number, number][], at = desk.local): number {
  let after = points.findIndex((point) => point[0] >= at)
  if (after < 0) after = points.length - 1
  const [f1, v1] = points[after]
  if (after === 0 || f1 === at) return v1
  const [f0, v0] = points[after - 1]
  return v0 + ((v1 - v0) * (at - f0)) / (f1 - f0)
}

const frames = computed(() => (curve.value?.keys ?? []).map((key) => Math.round(key[0])))
const keyHere = computed(() => curve.value?.keys.find((each) => Math.round(each[0]) === desk.local)?.[2] ?? null)
const atKey = computed(() => frames.value.includes(desk.local))
const times = computed(() => props.parameter.shown_times)

/** The same value of the other clips in hand: they are set together. */
const others = computed(() => likeIt(props.clip, props.step, desk.clips))
/** What another clip's value is: as set, or about as its curve has it at the playhead. */
function valueOf(other: { clip: Clip; step: string }): Value {
  const { name, default: unset } = props.parameter
  const found = propertyOf(other.clip, { step: other.step, name })
  if (!found || found.state === 'fixed') return found?.value ?? unset
  const points = project.courses[other.clip.id]?.curves.find((each) => each.step === other.step && each.name === name)?.points
  return points?.length ? sampled(points, desk.localOf(other.clip)) : unset
}
const mixed = computed(() => others.value.some((each) => JSON.stringify(valueOf(each)) !== JSON.stringify(value.value)))
/** All that are in hand; an entry such as +10 counts for each from its own value. */
function set(next: Value, gesture: string, typed = '') {
  const { parameter: { name, label, unit, least, most }, clip, step } = props
  if (props.fixes && state.value === 'fixed') return props.fixes(next as number, gesture)
  if (!others.value.length) return edits.value(clip.id, step, name, next, gesture)
  const all = others.value.map((each) => {
    const own = typed.trim().startsWith('+') ? readNumber(typed, (valueOf(each) as number) * times.value, null, unit) : null
    const given = own === null ? next : Math.min(Math.max(own / times.value, least), most)
    return { kind: 'set_value' as const, clip: each.clip.id, step: each.step, name, value: given, frame: Math.min(Math.max(desk.localOf(each.clip), 0), each.clip.length - 1) }
  })
  edits.put({ kind: 'several', label: `${inText(label)} of ${all.length + 1} clips`, edits: [{ kind: 'set_value', clip: clip.id, step, name, value: next, frame: desk.local }, ...all] }, gesture)
}
/** What is confirmed at a frame of a moving value is a key there, though it is the value it has; what is mixed becomes one. */
function confirm(gesture: string) {
  if (mixed.value || (state.value === 'moving' && !atKey.value)) set(value.value, gesture)
}

/** A framing's numbers, at the playhead. */
const FRAMING = [
  { name: 'scale', label: 'Zoom', unit: '%', times: 100, low: 100, high: 200, least: 5, most: 2000, neutral: 100, digits: 1 },
  { name: 'x', label: 'X', unit: 'px', times: 1, low: -300, high: 300, least: -20000, most: 20000, neutral: 0, digits: 1 },
  { name: 'y', label: 'Y', unit: 'px', times: 1, low: -300, high: 300, least: -20000, most: 20000, neutral: 0, digits: 1 },
  { name: 'roll', label: 'Rotation', unit: '°', times: 1, low: -15, high: 15, least: -3600, most: 3600, neutral: 0, digits: 2 },
] as const
/** All moves in hand get the same, each at the playhead. */
function reframe(change: Partial<Record<(typeof FRAMING)[number]['name'], number>>, gesture: string) {
  const { clip, step } = props
  if (!others.value.length) return edits.framing(clip.id, step, keyHere.value, change, gesture)
  const all = [{ clip, step }, ...others.value].map((each) => ({ kind: 'change_framing' as const, clip: each.clip.id, step: each.step, frame: Math.min(Math.max(desk.localOf(each.clip), 0), each.clip.length - 1), ...change }))
  edits.put({ kind: 'several', label: `framing of ${all.length} clips`, edits: all }, gesture)
}
const framed = computed(() => value.value as unknown as Record<(typeof FRAMING)[number]['name'], number>)

function toggleKey() {
  const { clip, step, parameter } = props
  const key = curve.value?.keys.find((each) => Math.round(each[0]) === desk.local)
  if (key) edits.removeKeys([{ clip: clip.id, step, name: parameter.name, key: key[2] }])
  else edits.addKey(clip.id, step, parameter.name, desk.local)
}

/** Where a press on the small curve lies, the key nearest to it is gone to; by arrow keys the next one either way. */
function toNearest(press: MouseEvent) {
  const box = (press.currentTarget as Element).getBoundingClientRect()
  const last = props.clip.length - 1
  const pointed = press.detail ? ((press.clientX - box.left) / box.width) * last : desk.local
  const nearest = frames.value.reduce((best, frame) => (Math.abs(frame - pointed) < Math.abs(best - pointed) ? frame : best), frames.value[0])
  if (nearest !== undefined) desk.goIn(props.clip, nearest)
}
function toNext(event: KeyboardEvent) {
  const direction = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
  if (!direction) return
  event.preventDefault()
  event.stopPropagation()
  const beyond = frames.value.filter((frame) => (frame - desk.local) * direction > 0)
  if (beyond.length) desk.goIn(props.clip, direction > 0 ? Math.min(...beyond) : Math.max(...beyond))
}

/** A level, a rise from key to key, a wave. */
const SIGNS = { fixed: 'M2 6.500H12', moving: 'M2 9.500C6 9.500 8 3.500 12 3.500', driven: 'M1.500 6.500Q4.100 0 6.800 6.500T12.200 6.500' }
const STATES = ['fixed', 'moving', 'driven'] as const
const states = computed(() => (props.parameter.integrated ? STATES.filter((each) => each !== 'driven') : STATES))
function become(next: 'fixed' | 'moving' | 'driven') {
  const { clip, step, parameter } = props
  choosing.value = false
  if (next === state.value) return
  if (next === 'driven') {
    const centre = typeof value.value === 'number' ? value.value : 0
    if (parameter.sort === 'number') edits.motor(clip.id, step, parameter.name, { kind: 'wobble', centre, amplitude: parameter.gentle, rate: 0.6, seed: 1 + Math.floor(Math.random() * 1e6) })
    else project.problem = `${parameter.label} can only follow another ${parameter.sort}; there is none to follow here.`
  } else edits.setMoving(clip.id, step, parameter.name, next === 'moving')
}
/** Up and back again, over and over, by eases that can be set: from the value as it is. */
function pulsate() {
  choosing.value = false
  const { clip, step, parameter } = props
  const now = value.value as number
  const swing = parameter.gentle * 2 * (now + parameter.gentle * 4 > parameter.most ? -1 : 1)
  edits.motor(clip.id, step, parameter.name, { kind: 'oscillation', shape: 'eased', centre: now + swing, amplitude: swing, rate: 0.5 })
}
const { withHits } = useSounding()
const beats = computed(() => (props.parameter.sort === 'number' ? withHits(props.clip).slice(0, 1) : []))
/** A few gentle steps up at every hit, or down where there is no more above. */
function pulse(sound: string) {
  choosing.value = false
  const { clip, step, parameter } = props
  const now = value.value as number
  const up = Math.min(parameter.high, now + parameter.gentle * 4)
  edits.put({ kind: 'pulse_by_hits', clip: clip.id, step, name: parameter.name, sound, peak: up > now ? up : Math.max(parameter.low, now - parameter.gentle * 4) })
}
const says = computed(() => ({ fixed: 'Fixed: one value for the whole clip', moving: 'Moving: by its keys', driven: `Driven: ${curve.value?.says ?? ''}` })[state.value])
</script>

<template>
  <component
    :is="parameter.sort === 'number' ? Gauge : 'div'" class="value-row" :class="{ flat: parameter.sort !== 'number', point: (parameter.sort === 'point' && state !== 'driven') || parameter.sort === 'framing' }"
    v-bind="parameter.sort === 'number' ? {
      label: parameter.label, value: (value as number) * times, low: parameter.low * times, high: parameter.high * times, least: parameter.least * times, most: parameter.most * times,
      neutral: parameter.neutral * times, rest: (parameter.default as number) * times, unit: parameter.unit, digits: parameter.digits, rate: project.rate, live: curve !== null && atKey, mixed,
    } : {}"
    @change="(shown: number, gesture: string, typed?: string) => set(shown / times, gesture, typed)" @confirm="(_: number, gesture: string) => confirm(gesture)"
  >
    <template v-if="parameter.sort === 'colour'">
      <span class="label muted">{{ parameter.label }}</span>
      <ColourField :value="value as string" :label="parameter.label" @change="set" />
    </template>
    <template v-if="parameter.sort === 'point'">
      <span v-if="state !== 'driven'" class="axes">
        <Gauge
          v-for="axis in ([0, 1] as const)" :key="axis" :label="`${parameter.label} ${axis ? 'Y' : 'X'}`" :value="(value as [number, number])[axis]" :low="parameter.low" :high="parameter.high"
          :least="parameter.least" :most="parameter.most" unit="px" :digits="parameter.digits" @change="(shown, gesture) => set(axis ? [(value as [number, number])[0], shown] : [shown, (value as [number, number])[1]], gesture)"
          @confirm="(_, gesture) => confirm(gesture)"
        />
        <span v-if="state === 'moving' && curve" class="muted">{{ curve.keys.length }} points, {{ Math.round(curve.points.at(-1)?.[1] ?? 0) }} px long</span>
      </span>
      <template v-else><span class="label muted">{{ parameter.label }}</span><span class="muted">{{ says }}</span></template>
    </template>
    <template v-if="parameter.sort === 'framing'">
      <span class="axes" data-test="framing-numbers">
        <Gauge
          v-for="each in FRAMING" :key="each.name" :label="each.label" :value="framed[each.name] * each.times" :low="each.low" :high="each.high" :least="each.least" :most="each.most"
          :neutral="each.neutral" :unit="each.unit" :digits="each.digits" :live="atKey"
          @change="(shown, gesture) => reframe({ [each.name]: shown / each.times }, gesture)" @confirm="(_, gesture) => confirm(gesture)"
        />
      </span>
    </template>
    <template v-if="parameter.sort === 'outline'">
      <span class="label muted">{{ parameter.label }}</span>
      <span class="muted">{{ (value as unknown as { corners: unknown[] }).corners.length }} corners, to be dragged on the picture</span>
    </template>
    <div v-if="parameter.may_move" class="keys">
      <span v-if="choosing" class="states choice" role="menu">
        <button v-for="each in states" :key="each" role="menuitem" :class="{ on: state === each }" @click="become(each)">{{ each }}</button>
        <button v-if="parameter.sort === 'number' && !parameter.integrated" role="menuitem" title="Up and back, over and over, by eases of its own" data-test="pulsate" @click="pulsate">pulsing</button>
        <button v-for="each in beats" :key="each.value!" role="menuitem" :title="`A pulse at every hit of ${each.title}`" data-test="pulse" @click="pulse(each.value!)">by hits</button>
      </span>
      <template v-else>
        <button class="state" :aria-label="`${parameter.label}: ${state}`" aria-haspopup="menu" :title="`${says}; click to change`" @click="choosing = true">
          <svg width="14" height="12" aria-hidden="true"><path :d="SIGNS[state]" /></svg>
        </button>
        <template v-if="curve && curve.points.length">
          <button
            v-if="state === 'moving'" class="curve" :aria-label="`Nearest key of ${parameter.label}, of ${frames.length}; arrows go from key to key`" title="Click to go to the nearest key"
            @click="toNearest" @keydown="toNext"
          ><Sparkline :points="curve.points" :keys="frames" :at="desk.local" :width="28" :height="18" /></button>
          <Sparkline v-else :points="curve.points" :at="desk.local" :width="28" :height="18" />
        </template>
        <button v-if="state === 'moving'" class="act keyed" :class="{ here: atKey }" :aria-pressed="atKey" :aria-label="`Key of ${parameter.label} here`" :title="atKey ? 'Remove the key here' : 'Key here'" @click="toggleKey">key</button>
      </template>
    </div>
  </component>
  <MotorPanel v-if="property?.state === 'driven'" :clip="clip" :step="step" :parameter="parameter" :motor="property.motor" />
</template>

<style scoped>
.flat { display: grid; grid-template-columns: 88px 1fr auto; align-items: center; gap: 5px; min-height: 26px; }
.value-row.point { display: block; position: relative; }
.point > .keys { position: absolute; left: 338px; top: 4px; }
.label { font-size: 12.5px; }
.keys { display: flex; align-items: center; gap: 4px; position: relative; }
.state { display: grid; place-items: center; width: 18px; height: 18px; border: 1px solid var(--outline); border-radius: 2px; }
.state path { fill: none; stroke: var(--bone); stroke-width: 1.2; }
.state:hover { background: var(--chosen); }
.curve { display: grid; background: var(--lane); }
.curve:hover { background: var(--soot); }
.keyed { padding: 0 4px; min-height: 18px; line-height: 18px; }
.keyed.here { background: var(--now); color: var(--on-now); }
.states { position: absolute; right: 0; z-index: 3; background: var(--raised); }
@container (max-width: 340px) {
  .point > .keys { left: auto; right: 0; top: 2px; }
  .flat { grid-template-columns: 1fr auto; gap: 2px 5px; }
  .flat > .label { grid-column: 1 / -1; }
}
</style>
