<script setup lang="ts">
/** One step: its picture, its name, what of it moves, a switch; opened, its gauges. */
import { computed, ref } from 'vue'
import { answered, api, said, type Clip, type KindInfo, type Step } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import Gauge from '../parts/Gauge.vue'
import Sparkline from '../parts/Sparkline.vue'
import { isSeen } from '../use/kinds'
import { byPlace } from '../use/arrows'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import GiveStep from './GiveStep.vue'
import MovePanel from './MovePanel.vue'
import ContentChoices from './ContentChoices.vue'
import SparePanel from './SparePanel.vue'
import TextSettings from './TextSettings.vue'
import UnitsPanel from './UnitsPanel.vue'
import ValueRow from './ValueRow.vue'
import { HandheldPanel, MasksPanel, PatternSettings, PictureSettings, ToneCurves } from './later'
import { inText } from '../use/wording'

const props = defineProps<{ clip: Clip; step: Step | null; place: number }>()
const project = useProject()
const desk = useDesk()
const edits = useEdits()
const row = ref<HTMLElement | null>(null)

const id = computed(() => props.step?.id ?? 'content')
/** A sound has nothing else to be opened. */
const open = computed(() => desk.openRow === id.value || (!props.step && !isSeen(props.clip)))
const on = computed(() => props.step?.on ?? true)
const kind = computed<KindInfo | undefined>(() => (props.step ? desk.kindOf(props.step.kind) : undefined))
/** The speed stands where a clip's length does. */
const parameters = computed(() => (props.step ? kind.value?.parameters ?? [] : desk.contentOf(props.clip).filter((each) => !each.integrated)))
const pattern = computed(() => (props.step ? undefined : desk.patternOf(props.clip)))
const name = computed(() => {
  if (props.step) return kind.value?.label ?? props.step.kind
  return { text: 'Text', footage: 'Shot', still: 'Picture', plain: 'Colour', generated: pattern.value?.label ?? 'Generated', shape: 'Shape', camera: 'Camera', light: 'Light', model: 'Model', group: 'Group', treatment: 'Treatment', sound: 'Sound' }[props.clip.content.kind]
})
/** A value that does nothing with what is chosen is not shown. */
const counting = computed(() => {
  const choices = props.step ? props.step.choices : 'choices' in props.clip.content ? props.clip.content.choices : {}
  const offered = (props.step ? kind.value?.choices : desk.catalogue!.chosen[props.clip.content.kind] ?? pattern.value?.choices) ?? []
  return parameters.value.filter(({ when }) => !when || when[1].includes(choices[when[0]] ?? offered.find((each) => each.name === when[0])?.options[0] ?? ''))
})
/** An arrival's units come first; elsewhere they are looked for less often. */
const passes = computed(() => kind.value?.group === 'arrival' || props.step?.units != null)
/** Situations are chosen where they are described; what a picture does is chosen once there is one. */
const choices = computed(() => (kind.value?.choices ?? []).filter((each) => each.name !== 'situation' && (!each.given || props.step?.media)))
const curves = computed(() => (desk.course?.curves ?? []).filter((curve) => curve.step === id.value))

/** Sounds that are heard with the clip, for words that are typed by their hits. */
const sounds = computed(() => (props.step?.kind !== 'typing' ? [] : project.clips.filter((each) => each.content.kind === 'sound' && each.head < project.endOf(props.clip) && project.endOf(each) > props.clip.head)))
async function typeBy(sound: Clip) {
  if (sound.content.kind === 'sound' && !sound.content.hits.length) {
    try {
      project.take(await answered(api.POST('/api/projects/{project_id}/clips/{clip_id}/hits', { params: { path: { project_id: project.id, clip_id: sound.id } }, body: {} })))
    } catch (error) { project.problem = said(error); return }
  }
  edits.put({ kind: 'type_by_hits', clip: props.clip.id, sound: sound.id })
}
/** The other clips in hand, which can take the step over. */
const others = computed(() => desk.picked.filter((each) => each !== props.clip.id))

const says = computed(() => {
  const content = props.clip.content
  if (!props.step && content.kind === 'text') {
    const face = desk.catalogue!.families.find((family) => family.id === content.typeface)?.name ?? content.typeface
    const size = content.size.state === 'fixed' ? `, ${content.size.value} px` : ''
    const weight = content.weight.state === 'fixed' ? ` ${content.weight.value}` : ''
    return `${face}${weight}${size}`
  }
  if (content.kind === 'plain' && !props.step) return content.colour.state === 'fixed' ? String(content.colour.value) : 'moving colour'
  if (!props.step && content.kind === 'sound') return content.gain.state === 'fixed' ? `${content.gain.value} dB` : 'moving gain'
  if (!props.step && content.kind === 'group') return 'clips gathered into one'
  if (!props.step && content.kind === 'camera') return 'sees what stands in space'
  if (!props.step && content.kind === 'model') return project.project!.media[content.media]?.name ?? 'its file is missing'
  if (!props.step && content.kind === 'light') return 'shines on what stands in space, and on what is solid'
  if (!props.step && content.kind === 'generated') return 'a generated picture'
  if (!props.step && content.kind === 'shape') return content.choices.form ?? 'rectangle'
  if (!props.step && content.kind === 'treatment') return 'its steps are done to all that lies below'
  if (!props.step) return { fill: 'filling the frame', fit: 'whole in the frame', own: 'at its own size' }[(content as { fit: 'fill' }).fit]
  if (!on.value) return 'off'
  const moving = parameters.value.filter((each) => curves.value.some((curve) => curve.name === each.name))
  const passed = props.step.units && props.step.units.arrival.unit !== 'all' ? `${props.step.units.arrival.unit} by ${props.step.units.arrival.unit}` : ''
  if (moving.length) return `moving: ${moving.map((each) => inText(each.label)).join(', ')}${passed ? `; ${passed}` : ''}`
  return (kind.value?.says ?? '').replace(/{(\w+)}/g, (_, key) => {
    const parameter = parameters.value.find((each) => each.name === key)
    const property = props.step!.values[key]
    const value = property?.state === 'fixed' ? property.value : parameter?.default ?? 0
    if (typeof value !== 'number') return String(value)
    return String(Number((value * (parameter?.shown_times ?? 1)).toFixed(parameter?.digits ?? 0)))
  })
})

const picture = computed(() =>
  `/api/projects/${project.id}/clips/${props.clip.id}/stage?done=${props.place}&at=${desk.playing ? 0 : desk.frame}` +
  `&width=148&height=84&r=${project.revision}`)

/** Dragging a row up or down reorders; it takes hold after a few px, so that a click still opens. */
function press(event: PointerEvent) {
  if (!props.step || event.button !== 0) return
  const from = event.clientY
  const rows = [...row.value!.parentElement!.querySelectorAll<HTMLElement>('[data-step]')]
  const mine = props.clip.steps.findIndex((step) => step.id === props.step!.id)
  const drop = (up: PointerEvent) => {
    window.removeEventListener('pointerup', drop)
    if (Math.abs(up.clientY - from) < 8) return
    const middles = rows.map((each) => each.getBoundingClientRect()).map((box) => box.top + box.height / 2)
    const to = middles.filter((middle, i) => i !== mine && middle < up.clientY).length
    if (to !== mine) edits.moveStep(props.clip.id, props.step!.id, to)
  }
  window.addEventListener('pointerup', drop)
}

/** Alt with an arrow does the same from the keyboard; the row keeps the focus in its new place. */
function byKey(event: KeyboardEvent) {
  const by = byPlace(event)
  if (!by || !props.step) return
  const to = props.clip.steps.findIndex((step) => step.id === props.step!.id) + by
  if (to >= 0 && to < props.clip.steps.length) edits.moveStep(props.clip.id, props.step.id, to)
}

/** The same step once more, right after this one. */
function again() {
  const step = { ...props.step!, id: `s-${crypto.randomUUID().slice(0, 8)}` }
  edits.put({ kind: 'add_step', clip: props.clip.id, at: props.place, ready: null, step })
  desk.openRow = step.id
}
function part() {
  desk.parted = desk.parted?.step === id.value ? null : { clip: props.clip.id, step: id.value, done: props.place - 1 }
}

function hold(on: boolean) {
  desk.held = on ? { clip: props.clip.id, done: props.place } : null
}
</script>

<template>
  <section ref="row" class="row" :class="{ open, off: !on }" :data-step="step?.id">
    <svg class="thread" width="24" height="100%" preserveAspectRatio="none" aria-hidden="true">
      <template v-if="on"><line x1="18" x2="18" y1="0" y2="100%" /></template>
      <template v-else><line x1="10" x2="10" y1="0" y2="100%" /></template>
    </svg>
    <div class="head" @pointerdown="press">
      <button
        v-if="isSeen(clip)" class="picture" :aria-label="`Hold to see the picture after ${name}`" title="Hold to see this stage large"
        @pointerdown.stop="hold(true)" @pointerup="hold(false)" @pointerleave="hold(false)"
      >
        <img :src="picture" alt="" width="74" height="42" decoding="sync" draggable="false" />
      </button>
      <button class="names" :aria-expanded="open" :aria-keyshortcuts="step ? 'Alt+ArrowUp Alt+ArrowDown' : undefined" :title="step ? 'Drag, or Alt with an arrow, to reorder' : undefined" @click="desk.openRow = open ? null : id" @keydown="byKey">
        <span class="name">{{ name }}</span>
        <span class="muted says">{{ says }}</span>
      </button>
      <Sparkline v-if="curves.length && on" :points="curves[0].points" :at="desk.local" />
      <button
        v-if="step" class="switch" role="switch" :aria-checked="on" :aria-label="`${name} on`"
        @click="edits.switchStep(clip.id, step.id, !on)"
      >
        <svg width="26" height="14"><rect x="0.5" y="2.500" width="25" height="9" rx="1" /><path :d="on ? 'M20 0.500V13.500' : 'M6 0.500V13.500'" /></svg>
      </button>
    </div>
    <div v-if="open" class="inside">
      <TextSettings v-if="!step && clip.content.kind === 'text'" :clip="clip" :parameters="parameters" />
      <UnitsPanel v-if="step && clip.content.kind === 'text' && passes" :clip="clip" :step="step" />
      <PatternSettings v-if="pattern" :clip="clip" :pattern="pattern" />
      <ContentChoices v-if="!step && clip.content.kind in desk.catalogue!.chosen" :clip="clip" />
      <HandheldPanel v-if="step?.kind === 'handheld'" :clip="clip" :step="step" />
      <div v-if="sounds.length" class="hits">
        <span class="muted">typed by the hits of</span>
        <button v-for="each in sounds" :key="each.id" class="act" title="A letter a hit; its hits are found first where they are not yet" data-test="type-by-hits" @click="typeBy(each)">{{ each.name }}</button>
      </div>
      <MovePanel v-if="step?.kind === 'move'" :clip="clip" :step="step" :place="place" />
      <template v-if="step || clip.content.kind !== 'text'"><ValueRow v-for="each in counting" :key="each.name" :clip="clip" :step="id" :parameter="each" /></template>
      <PictureSettings v-if="!step && ['footage', 'still'].includes(clip.content.kind)" :clip="clip" />
      <template v-if="step">
        <SparePanel v-if="['move', 'handheld', 'still_point'].includes(step.kind) && desk.course?.camera" :camera="desk.course.camera" :length="clip.length" :clip="clip.id" :move="step.kind === 'move' ? step.id : null" />
        <ToneCurves v-if="kind?.group === 'colour' && clip.content.kind !== 'text'" :clip="clip.id" :place="place" />
        <GiveStep v-if="kind?.takes" :clip="clip" :step="step" :takes="kind.takes" />
        <template v-for="choice in choices" :key="choice.name">
          <ChoiceLine
            v-if="choice.options.join('').length < 34" :label="choice.label" :choices="choice.options.map((each) => [each, each] as const)"
            :now="step.choices[choice.name] ?? choice.options[0]" @choose="edits.choose(clip.id, step!.id, choice.name, $event)"
          />
          <div v-else class="line">
            <span class="muted">{{ choice.label }}</span>
            <VSelect :model-value="step.choices[choice.name] ?? choice.options[0]" :items="choice.options" :aria-label="choice.label" @update:model-value="(value: string) => edits.choose(clip.id, step!.id, choice.name, value)" />
          </div>
        </template>
        <UnitsPanel v-if="clip.content.kind === 'text' && !passes" :clip="clip" :step="step" />
        <ValueRow :clip="clip" :step="step.id" :parameter="desk.catalogue!.mix" />
        <Gauge label="Starts after" :value="step.since" :low="0" :high="75" :least="0" :most="clip.length - 1" unit="f" :rate="project.rate" @change="(v, g) => edits.stepTimes(clip.id, step!.id, { since: v }, g)" />
        <Gauge label="Ends before" :value="step.until" :low="0" :high="75" :least="0" :most="clip.length - 1" unit="f" :rate="project.rate" @change="(v, g) => edits.stepTimes(clip.id, step!.id, { until: v }, g)" />
        <MasksPanel v-if="kind?.masked" :clip="clip" :step="step" />
      </template>
      <div v-if="step" class="foot">
        <button v-if="step.kind === 'stand'" class="act" data-test="fill-frame" title="As large as it must be to fill the frame from here, and no larger" @click="edits.put({ kind: 'fill_frame', clip: clip.id, frame: desk.local })">fill the frame</button>
        <button v-if="step.kind === 'placement'" class="act" @click="edits.keyPlacement(clip.id, step.id)">key the whole placement here</button>
        <button class="act" @click="again">duplicate</button>
        <button v-if="others.length" class="act" data-test="carry-step" :title="`This step onto the other ${others.length === 1 ? 'clip' : `${others.length} clips`} in hand`" @click="edits.carryStep(clip.id, step.id, others)">copy to selection</button>
        <button class="flip" :aria-pressed="desk.parted?.step === step.id" data-test="before-after" @click="part">before and after</button>
        <button class="act" @click="edits.removeStep(clip.id, step.id)">remove this step</button>
      </div>
    </div>
  </section>
</template>

<style scoped>
.row { position: relative; padding-left: 36px; }
.row.open { background: var(--raised); }
.thread { position: absolute; left: 0; top: 0; height: 100%; }
.thread line { stroke: var(--muted); stroke-width: 1; }
.head { display: flex; align-items: center; gap: 12px; height: 50px; padding-right: 16px; touch-action: none; }
.hits { display: flex; flex-wrap: wrap; align-items: center; gap: 6px; padding: 2px 16px 6px 0; font-size: 12.5px; }
.picture { flex: none; border: 1px solid var(--line); line-height: 0; width: 76px; height: 44px; }
.picture img { object-fit: cover; }
.names { flex: 1; min-width: 0; text-align: left; padding: 4px 0; }
.name { display: block; font-weight: 600; }
.says { display: block; font-size: 12.5px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.off .name, .off .picture { opacity: 0.5; }
.switch svg { display: block; fill: none; stroke: var(--muted); }
.switch path { stroke: var(--bone); stroke-width: 2; }
.off .switch path { stroke: var(--muted); }
.inside { padding: 2px 16px 12px 0; }
.foot { display: flex; flex-wrap: wrap; gap: 6px 10px; padding-top: 8px; font-size: 12.5px; }
@container (max-width: 340px) {
  .row { padding-left: 12px; }
  .thread { display: none; }
  .head { gap: 8px; padding-right: 8px; }
  .picture { width: 58px; height: 34px; }
  .picture img { width: 56px; height: 32px; }
  .inside { padding-right: 8px; }
  .foot { flex-wrap: wrap; gap: 6px; }
}
</style>
