<script setup lang="ts">
/** What drives a property: which motor, and its numbers. */
import { computed } from 'vue'
import { answered, api, said, type Clip, type Motor, type SentMotor, type ParameterInfo } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import Gauge from '../parts/Gauge.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { useSounding } from '../use/sounding'
import EaseEditor from './EaseEditor.vue'
import { inText } from '../use/wording'

const props = defineProps<{ clip: Clip; step: string; parameter: ParameterInfo; motor: Motor }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()

const ALL = [['steady', 'steady'], ['wobble', 'wobble'], ['oscillation', 'oscillation'], ['follow', 'follow'], ['tether', 'tether'], ['on_point', 'a point'], ['sound_level', 'a sound']] as const
/** Only a length can go with where another clip stands. */
const KINDS = computed(() => ALL.filter(([kind]) => (kind !== 'tether' || props.parameter.unit === 'px') && (kind !== 'on_point' || points.value.length) && (kind !== 'sound_level' || heard.value.length)))
const SIDES = ['left', 'right', 'top', 'bottom', 'middle-x', 'middle-y', 'anchor-x', 'anchor-y'].map((value) => ({ value, title: value.replace('-x', ', across').replace('-y', ', down') }))
/** Of a place across or down: which edge of its own is brought there. */
const OWN = { x: ['left edge', 'right edge'], y: ['upper edge', 'lower edge'] } as const
const axis = computed(() => (props.parameter.name === 'x' || props.parameter.name === 'y' ? props.parameter.name : null))
const edge = computed(() => axis.value && ([['first', `its ${OWN[axis.value][0]}`], ['middle', 'its middle'], ['last', `its ${OWN[axis.value][1]}`], [null, 'the value']] as const))
/** An edge across can't be brought to one down. */
const sides = computed(() => SIDES.filter(({ value }) => !axis.value || !('own' in props.motor && props.motor.own) || (['top', 'bottom', 'middle-y', 'anchor-y'].includes(value) ? 'y' : 'x') === axis.value))
const HELD = [[null, 'with it'], ['least', 'the least so far'], ['most', 'the most so far']] as const
const SHAPES = [['sine', 'sine'], ['triangle', 'triangle'], ['pulse', 'square'], ['sawtooth', 'sawtooth'], ['eased', 'eased']] as const
const times = computed(() => props.parameter.shown_times)
const reach = computed(() => (props.parameter.high - props.parameter.low) / 4)
const middle = computed(() => ('centre' in props.motor ? props.motor.centre : 'start' in props.motor ? props.motor.start : props.parameter.neutral))

function set(change: object, gesture?: string) {
  edits.motor(props.clip.id, props.step, props.parameter.name, { ...props.motor, ...change }, gesture)
}

/** Properties of the same sort that could be followed: of this clip, and of the other clips in hand. */
const others = computed(() => [props.clip, ...desk.clips.filter((clip) => clip.id !== props.clip.id)].flatMap((clip) => {
  const content = desk.contentOf(clip).map((each) => ({ step: 'content', owner: '', each }))
  const steps = clip.steps.flatMap((step) => (desk.kindOf(step.kind)?.parameters ?? []).map((each) => ({ step: step.id, owner: desk.kindOf(step.kind)!.label, each })))
  return [...content, ...steps]
    .filter(({ step, each }) => each.sort === props.parameter.sort && !(clip.id === props.clip.id && step === props.step && each.name === props.parameter.name))
    .map(({ step, owner, each }) => ({
      title: `${clip.id === props.clip.id ? '' : `${clip.name}: `}${owner ? `${owner}, ` : ''}${inText(each.label)}`,
      value: JSON.stringify([clip.id === props.clip.id ? null : clip.id, step, each.name]),
    }))
}))
/** The other clips of the film, for a tether. */
const beside = computed(() => project.clips.filter((clip) => clip.id !== props.clip.id).map((clip) => ({ value: clip.id, title: clip.name })))
/** Followed points: of the other shots as they are seen, of its own as they lie at rest. */
const points = computed(() => project.clips.flatMap((clip) => (clip.content.kind === 'footage' ? clip.content.points : []).map((point) => ({
  value: JSON.stringify([clip.id === props.clip.id ? null : clip.id, point.id]), title: clip.id === props.clip.id ? point.name : `${point.name} of ${clip.name}`,
}))))
/** Another point: alone, since a second one was chosen with the first. */
function goWith(place: string) {
  const [clip, point] = JSON.parse(place)
  set({ clip, point, second: null, gives: axis.value ?? 'x', part: 'whole', smooth: 0 })
}
const GIVES = [['x', 'across'], ['y', 'down']] as const
const followed = computed(() => (props.motor.kind === 'follow' ? JSON.stringify([props.motor.clip ?? null, props.motor.step, props.motor.name]) : null))

const { sounds } = useSounding()
const heard = computed(() => sounds(props.clip))
/** The bands that can be gone with, in Hz. */
const BANDS = [['20 20000', 'full band'], ['40 160', 'bass'], ['300 3000', 'voice'], ['5000 16000', 'high']] as const
const band = computed(() => {
  const { motor } = props
  const sound = motor.kind === 'sound_level' ? project.project!.clips[motor.clip]?.content : null
  const level = sound?.kind === 'sound' && motor.kind === 'sound_level' ? sound.levels[motor.band] : null
  return level ? BANDS.find(([each]) => each === `${level.low} ${level.high}`)?.[0] : undefined
})
/** It is measured by the service, and goes with what was measured. */
async function goWithSound(sound: string, range: string) {
  const [low, high] = range.split(' ').map(Number)
  const { motor, parameter } = props
  const gain = motor.kind === 'sound_level' ? motor.gain : parameter.gentle * 4
  const offset = motor.kind === 'sound_level' ? motor.offset : middle.value
  try {
    project.take(await answered(api.POST('/api/projects/{project_id}/clips/{clip_id}/level', { params: { path: { project_id: project.id, clip_id: props.clip.id } }, body: { step: props.step, name: parameter.name, sound, low, high, gain, offset } })))
  } catch (error) { project.problem = said(error) }
}

function change(kind: Motor['kind']) {
  if (kind === 'sound_level') { void goWithSound(heard.value[0].value!, BANDS[0][0]); return }
  const fades = { fade_in: props.motor.fade_in, fade_out: props.motor.fade_out }
  const gentle = props.parameter.gentle
  const [clip, step, name] = others.value[0] ? JSON.parse(others.value[0].value) : []
  const motors: Record<Motor['kind'], SentMotor | null> = {
    steady: { kind: 'steady', start: middle.value, rate: gentle },
    wobble: { kind: 'wobble', centre: middle.value, amplitude: gentle, rate: 0.6, seed: 1 },
    oscillation: { kind: 'oscillation', centre: middle.value, amplitude: gentle, rate: 0.5 },
    follow: step ? { kind: 'follow', clip, step, name } : null,
    on_point: points.value[0] ? { kind: 'on_point', clip: JSON.parse(points.value[0].value)[0], point: JSON.parse(points.value[0].value)[1], gives: axis.value ?? 'x', offset: middle.value } : null,
    sound_level: null,
    tether: beside.value[0] ? { kind: 'tether', clip: beside.value[0].value, side: axis.value === 'y' ? 'top' : 'left', own: axis.value ? 'middle' : null } : null,
  }
  const made = motors[kind]
  if (made) edits.motor(props.clip.id, props.step, props.parameter.name, { ...made, ...fades })
}
</script>

<template>
  <div class="motor">
    <ChoiceLine label="Motor" :choices="KINDS" :now="motor.kind" @choose="change" />
    <template v-if="motor.kind === 'steady'">
      <Gauge label="Start" :value="motor.start * times" :low="parameter.low * times" :high="parameter.high * times" :least="-1e6" :most="1e6" :unit="parameter.unit" :digits="1" @change="(v, g) => set({ start: v / times }, g)" />
      <Gauge label="Rate" :value="motor.rate * times" :low="-reach * times" :high="reach * times" :least="-1e6" :most="1e6" unit="/s" :digits="1" @change="(v, g) => set({ rate: v / times }, g)" />
    </template>
    <template v-if="motor.kind === 'wobble' || motor.kind === 'oscillation'">
      <ChoiceLine v-if="motor.kind === 'oscillation'" label="Wave" :choices="SHAPES" :now="motor.shape" @choose="set({ shape: $event })" />
      <template v-if="motor.kind === 'oscillation' && motor.shape === 'eased'">
        <p class="muted">goes up by</p>
        <EaseEditor :ease="motor.rise" @change="(rise, g) => set({ rise }, g)" />
        <p class="muted">and down by</p>
        <EaseEditor :ease="motor.fall" @change="(fall, g) => set({ fall }, g)" />
        <Gauge label="Goes up for" :value="motor.up * 100" :low="0" :high="100" :least="0" :most="100" :neutral="50" unit="%" @change="(v, g) => set({ up: v / 100 }, g)" />
      </template>
      <Gauge label="Centre" :value="motor.centre * times" :low="parameter.low * times" :high="parameter.high * times" :least="-1e6" :most="1e6" :unit="parameter.unit" :digits="1" @change="(v, g) => set({ centre: v / times }, g)" />
      <Gauge label="Amplitude" :value="motor.amplitude * times" :low="0" :high="parameter.gentle * 20 * times" :least="-1e6" :most="1e6" :unit="parameter.unit" :digits="2" @change="(v, g) => set({ amplitude: v / times }, g)" />
      <Gauge label="Rate" :value="motor.rate" :low="0" :high="6" :least="0" :most="60" unit="Hz" :digits="2" @change="(v, g) => set({ rate: v }, g)" />
      <Gauge label="Phase" :value="motor.phase" :low="0" :high="1" :least="-1000" :most="1000" unit="turns" :digits="2" @change="(v, g) => set({ phase: v }, g)" />
      <div v-if="motor.kind === 'wobble'" class="line"><span class="muted">Seed</span><span class="numbers">{{ motor.seed }}</span><button class="act" @click="set({ seed: 1 + Math.floor(Math.random() * 1e6) })">new seed</button></div>
    </template>
    <template v-if="motor.kind === 'follow'">
      <div class="line">
        <span class="muted">Follows</span>
        <VSelect :model-value="followed" :items="others" aria-label="Which value it follows" @update:model-value="(place: string) => { const [clip, step, name] = JSON.parse(place); set({ clip, step, name }) }" />
      </div>
      <Gauge label="Gain" :value="motor.gain" :low="-2" :high="2" :least="-1e6" :most="1e6" unit="×" :digits="2" :neutral="0" @change="(v, g) => set({ gain: v }, g)" />
      <Gauge label="Offset" :value="motor.offset * times" :low="-reach * times" :high="reach * times" :least="-1e6" :most="1e6" :unit="parameter.unit" :digits="1" @change="(v, g) => set({ offset: v / times }, g)" />
      <Gauge label="Delay" :value="motor.delay" :low="-25" :high="25" :least="-1e6" :most="1e6" unit="f" :rate="project.rate" @change="(v, g) => set({ delay: v }, g)" />
    </template>
    <template v-if="motor.kind === 'tether'">
      <div class="line"><span class="muted">Goes with</span><VSelect :model-value="motor.clip" :items="beside" aria-label="Which clip it goes with" @update:model-value="(clip: string) => set({ clip })" /></div>
      <div class="line"><span class="muted">Its side</span><VSelect :model-value="motor.side" :items="sides" aria-label="Which side of it" @update:model-value="(side: string) => set({ side })" /></div>
      <ChoiceLine label="Keeps" :choices="HELD" :now="motor.held ?? null" @choose="set({ held: $event })" />
      <ChoiceLine v-if="edge" label="Meets" :choices="edge" :now="motor.own ?? null" @choose="set({ own: $event })" />
      <Gauge v-if="!motor.own" label="Gain" :value="motor.gain" :low="-2" :high="2" :least="-1e6" :most="1e6" unit="×" :digits="2" :neutral="0" @change="(v, g) => set({ gain: v }, g)" />
      <Gauge label="Offset" :value="motor.offset" :low="-640" :high="640" :least="-1e6" :most="1e6" :unit="parameter.unit" :digits="1" @change="(v, g) => set({ offset: v }, g)" />
    </template>
    <template v-if="motor.kind === 'on_point'">
      <div class="line"><span class="muted">Goes with</span><VSelect :model-value="JSON.stringify([motor.clip ?? null, motor.point])" :items="points" aria-label="Which point it goes with" @update:model-value="goWith" /></div>
      <ChoiceLine v-if="motor.gives === 'x' || motor.gives === 'y'" label="Its way" :choices="GIVES" :now="motor.gives" @choose="set({ gives: $event })" />
      <Gauge v-if="motor.part !== 'whole'" label="Calmed over" :value="motor.smooth" :low="0" :high="3" :least="0" :most="60" unit="s" :digits="2" @change="(v, g) => set({ smooth: v }, g)" />
      <Gauge label="Gain" :value="motor.gain" :low="-2" :high="2" :least="-1e6" :most="1e6" unit="×" :digits="2" :neutral="0" @change="(v, g) => set({ gain: v }, g)" />
      <Gauge label="Offset" :value="motor.offset * times" :low="-640" :high="640" :least="-1e6" :most="1e6" :unit="parameter.unit" :digits="1" @change="(v, g) => set({ offset: v / times }, g)" />
    </template>
    <template v-if="motor.kind === 'sound_level'">
      <div class="line"><span class="muted">Goes with</span><VSelect :model-value="motor.clip" :items="heard" aria-label="Which sound it goes with" @update:model-value="(sound: string) => goWithSound(sound, band ?? BANDS[0][0])" /></div>
      <ChoiceLine label="Hears" :choices="BANDS" :now="band" @choose="(range) => goWithSound(motor.kind === 'sound_level' ? motor.clip : '', range)" />
      <Gauge label="Swing" :value="motor.gain * times" :low="-reach * times" :high="reach * times" :least="-1e6" :most="1e6" :unit="parameter.unit" :digits="2" @change="(v, g) => set({ gain: v / times }, g)" />
      <Gauge label="At silence" :value="motor.offset * times" :low="parameter.low * times" :high="parameter.high * times" :least="-1e6" :most="1e6" :unit="parameter.unit" :digits="1" @change="(v, g) => set({ offset: v / times }, g)" />
      <Gauge label="Attack" :value="motor.attack" :low="0" :high="0.5" :least="0" :most="10" unit="s" :digits="2" @change="(v, g) => set({ attack: v }, g)" />
      <Gauge label="Release" :value="motor.release" :low="0" :high="2" :least="0" :most="30" unit="s" :digits="2" @change="(v, g) => set({ release: v }, g)" />
    </template>
    <Gauge label="Fade in" :value="motor.fade_in" :low="0" :high="75" :least="0" :most="1e7" unit="f" :rate="project.rate" @change="(v, g) => set({ fade_in: v }, g)" />
    <Gauge label="Fade out" :value="motor.fade_out" :low="0" :high="75" :least="0" :most="1e7" unit="f" :rate="project.rate" @change="(v, g) => set({ fade_out: v }, g)" />
    <div class="line"><span /><button class="act" title="A key on every frame in place of the motor" @click="edits.bake(clip.id, step, parameter.name, 1)">bake to keys</button></div>
  </div>
</template>

<style scoped>
.motor { border-left: 1px solid var(--line); padding-left: 10px; margin: 2px 0 6px; }
.seed button:hover { color: var(--bone); }
.seed button { text-align: left; }
</style>
