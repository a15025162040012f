<script setup lang="ts">
/** What is done to clips as a whole: length, speed, whether they are seen, what they ride with, their ends, motion blur. */
import { computed, ref, watch } from 'vue'
import { answered, api, said, type Clip, type Shutter, type Transition } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import Gauge from '../parts/Gauge.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { isSeen } from '../use/kinds'
import { saidSpeed, speedOf } from '../use/speed'
import { besideEases } from '../use/beside'
import { newId, useEdits } from '../use/edits'
import { canOpen } from '../use/opened'
import { useNewTitle } from '../use/newTitle'
import { useTryout } from '../use/tryout'
import EaseEditor from './EaseEditor.vue'
import ValueRow from './ValueRow.vue'

const props = defineProps<{ clip: Clip }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const { addSecondLine } = useNewTitle()
const open = computed(() => (desk.openRow === 'clip' || many.value))
const by = ref('1s')
/** What becomes of a group's own steps is asked before it is taken apart. */
const asking = ref(false)

const clips = computed(() => desk.clips)
const ids = computed(() => desk.picked)
const many = computed(() => clips.value.length > 1)
watch(() => props.clip.id, () => { asking.value = false })
/** What is heard is not seen: it has no picture to be blended or blurred. */
const pictured = computed(() => clips.value.some(isSeen))
const titles = computed(() => clips.value.some((clip) => clip.content.kind === 'text'))
const footage = computed(() => (props.clip.content.kind === 'footage' ? props.clip.content : null))
/** What runs at a speed. */
const runs = computed(() => (props.clip.content.kind === 'footage' || props.clip.content.kind === 'group' || props.clip.content.kind === 'sound' ? props.clip.content : null))
const joins = computed(() => desk.course?.joins ?? [])

const summary = computed(() => {
  const parts = [`${props.clip.length} frames`]
  if (runs.value && saidSpeed(runs.value)) parts.push(saidSpeed(runs.value))
  for (const join of joins.value) parts.push(`${join.kind} ${join.end === 'opening' ? 'in' : 'out'}`)
  if (props.clip.rides) parts.push(`attached to ${project.project!.clips[props.clip.rides]?.name ?? 'nothing'}`)
  if (props.clip.seen !== 'shown') parts.push(props.clip.seen === 'hidden' ? 'hidden' : 'solo')
  return parts.join(', ')
})

async function stretch(direction: 1 | -1) {
  try {
    const { frames } = await answered(api.GET('/api/projects/{project_id}/frames', { params: { path: { project_id: project.id }, query: { typed: by.value } } }))
    if (frames) edits.stretch(ids.value, direction * Math.abs(frames))
  } catch (error) {
    project.problem = said(error)
  }
}

/** The part a shot shows when its speed is taken in hand: all of the drag keeps it, however the length is rounded on the way. */
let part = { gesture: '', frames: 0 }
function run(speed: number, gesture: string) {
  const { id, length } = props.clip
  if (gesture !== part.gesture) part = { gesture, frames: length * Math.abs(speedOf(runs.value!) || 1) }
  edits.speed(id, speed, 'part', desk.local, part.frames, gesture)
}
const speedParameter = computed(() => desk.contentOf(props.clip).find((each) => each.integrated))
const BETWEEN = [['nearest', 'nearest frame'], ['mixed', 'mixed frames']] as const

const BLUR = [[false, 'the film’s'], [true, 'its own']] as const
const SIDES = ['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const
const align = (side: (typeof SIDES)[number], event: MouseEvent) => edits.alignClips([...ids.value].reverse(), side, event.shiftKey ? 'safe' : many.value ? 'last' : 'frame')

const modes = computed(() => desk.catalogue!.modes.map((mode) => ({ title: mode.replace('-', ' '), value: mode })))
function gather() {
  const group = newId()
  edits.gather(ids.value, group, `${clips.value[0].name.slice(0, 40)} and ${clips.value.length - 1} more`)
  desk.select(group)
}
const SEEN = [['shown', 'shown'], ['hidden', 'hidden'], ['alone', 'alone']] as const
const KINDS = [
  { title: 'none', value: null }, { title: 'cross dissolve', value: 'dissolve' }, { title: 'dip to a colour', value: 'dip' }, { title: 'wipe', value: 'wipe' },
  { title: 'iris, an ellipse', value: 'ellipse' }, { title: 'iris, a rectangle', value: 'rectangle' }, { title: 'slide', value: 'slide' },
]
const TOWARDS = [['right', 'right'], ['left', 'left'], ['down', 'down'], ['up', 'up']] as const
const SITS = [['before', 'before'], ['on', 'on'], ['after', 'after the frame']] as const
const ends = computed(() => (['opening', 'closing'] as const).map((end) => ({ end, label: end === 'opening' ? 'Transition in' : 'Transition out', now: props.clip[end] ?? null })))

function transit(end: 'opening' | 'closing', change: Omit<Partial<Transition>, 'kind'> & { kind?: Transition['kind'] | null }, gesture?: string) {
  const old = props.clip[end]
  const { kind = old?.kind, ...rest } = change
  edits.transition(props.clip.id, end, kind ? { length: 12, ...(old ?? {}), ...rest, kind } : null, gesture, !old)
}

/** A transition rested on plays, with some frames on both sides. */
const tryout = useTryout()
function rest(end: 'opening' | 'closing', transition: Transition) {
  const { id, head, length } = props.clip
  const middle = end === 'opening' ? head : head + length
  tryout.rest({ kind: 'set_transition', clip: id, end, transition }, props.clip, [middle - transition.length - 8, middle + transition.length + 8])
}

/** The motion blur that holds: the clip's own, or the film's. */
const shutter = computed<Shutter>(() => props.clip.shutter ?? project.settings!.shutter)
const own = computed(() => props.clip.shutter !== null && props.clip.shutter !== undefined)
function blur(change: Partial<Shutter>, gesture?: string) {
  edits.shutter(own.value ? ids.value : [], { ...shutter.value, ...change }, gesture)
}
/** Points of shots that are there with the clip: each, and two together. */
const pointed = computed(() => project.clips.flatMap((shot) => {
  if (shot.content.kind !== 'footage' || ids.value.includes(shot.id) || shot.head >= project.endOf(props.clip) || project.endOf(shot) <= props.clip.head) return []
  const points = shot.content.points
  const pairs = points.flatMap((one, i) => points.slice(i + 1).map((other) => [one, other]))
  return [...points.map((each) => [each]), ...pairs].map((some) => ({ title: `${some.map((each) => each.name).join(' and ')} of ${shot.name}`, value: JSON.stringify([shot.id, ...some.map((each) => each.id)]) as string | null }))
}))
/** What it goes with now. */
const held = computed(() => {
  for (const step of props.clip.steps) {
    for (const property of Object.values(step.values)) {
      if (property.state === 'driven' && property.motor.kind === 'on_point' && property.motor.clip) return JSON.stringify([property.motor.clip, property.motor.point, ...(property.motor.second ? [property.motor.second] : [])])
    }
  }
  return null
})
function hold(choice: string | null) {
  const [shot, point, second] = choice === null ? [null, null, null] : JSON.parse(choice)
  edits.put({ kind: 'hold_to_point', clips: ids.value, shot, point, second: second ?? null, at: project.filmFrame(props.clip, desk.local) })
}
const shots = computed(() => project.clips.filter((each) => each.content.kind === 'footage' && !ids.value.includes(each.id)).map((each) => ({ title: each.name, value: each.id as string | null })))
</script>

<template>
  <section class="row" :class="{ open }" data-test="clip-row">
    <div class="head">
      <button class="names" :aria-expanded="open" @click="desk.openRow = open ? null : 'clip'">
        <span class="name">{{ many ? `${clips.length} clips` : 'Clip' }}</span>
        <span class="muted says">{{ many ? clips.map((each) => each.name).join(', ') : summary }}</span>
      </button>
    </div>
    <div v-if="titles" class="acts">
      <button class="act" title="Soft in, soft out (1)" @click="edits.soften(ids)">soften</button>
      <button class="act" title="The departure becomes the arrival backwards (2)" @click="edits.mirror(ids)">mirror the arrival</button>
      <button class="act" title="Arrival and departure half as long again (3)" @click="edits.slower(ids)">slow down</button>
      <button class="act" title="Stronger eases (4)" @click="edits.stronger(ids)">strengthen</button>
      <button class="act" v-if="!many" title="A second line below, a little later, the other way (Shift+T)" @click="addSecondLine(clip.id)">add a second line</button>
      <button class="act" v-if="!many" title="Eases side by side (5)" data-test="beside" @click="desk.beside = besideEases(desk, project)">compare eases</button>
    </div>
    <div v-if="many" class="acts" data-test="many">
      <span class="muted">from “{{ clips[0].name.slice(0, 16) }}”:</span>
      <button class="act" title="Type, surface and motion of the first in hand onto the others" @click="edits.carryOver(ids[0], ids, 'both')">look and motion</button>
      <button class="act" @click="edits.carryOver(ids[0], ids, 'look')">look</button>
      <button class="act" @click="edits.carryOver(ids[0], ids, 'motion')">motion</button>
    </div>
    <div v-if="many || clip.content.kind === 'group'" class="acts">
      <button v-if="many" class="act" title="One clip of them all, moved, timed and treated as one" @click="gather">group</button>
      <button
        v-if="!many && clip.content.kind === 'group'" class="flip" :aria-pressed="project.openGroups.includes(clip.id)" :disabled="!canOpen(clip)" data-test="open-group"
        :title="canOpen(clip) ? 'Its clips on the timeline below it (double-click the group)' : 'Standing still or backwards it has no place for each of its frames'" @click="project.openGroup(clip.id)"
      >open in place</button>
      <button v-if="!many && clip.content.kind === 'group'" class="act" title="Its clips come back onto the timeline" :aria-expanded="asking" @click="clip.steps.some((step) => step.on) ? asking = !asking : edits.takeApart(clip.id)">ungroup</button>
      <span v-if="asking && clip.content.kind === 'group'" class="apart" role="group" aria-label="The group’s own steps" data-test="apart-steps">
        <span class="muted">its steps:</span>
        <button class="act" @click="edits.takeApart(clip.id, 'each')">on each clip</button>
        <button class="act" title="Over all that lies below, as long as the group lasted" @click="edits.takeApart(clip.id, 'treatment')">on a treatment</button>
        <button class="act" @click="edits.takeApart(clip.id, 'drop')">drop</button>
      </span>
    </div>
    <div v-if="open && pictured" class="acts aligns">
      <span class="muted">align {{ many ? 'to the first' : 'in the frame' }}:</span>
      <button class="act" v-for="side in SIDES" :key="side" :title="`${many ? `All to the ${side} of the first in hand` : `To the ${side} of the frame`}; with Shift, to the ${side} of the safe area`" @click="align(side, $event)">{{ side }}</button>
      <template v-if="clips.length > 2"><button class="act" @click="edits.distributeClips(ids, 'across')">distribute horizontally</button><button class="act" @click="edits.distributeClips(ids, 'down')">distribute vertically</button></template>
    </div>
    <div v-if="open" class="inside">
      <div class="line">
        <span class="muted">Length</span>
        <span><button class="act" @click="stretch(-1)">shorten</button> <button class="act" @click="stretch(1)">lengthen</button> by</span>
        <input v-model="by" class="numbers" aria-label="By how much: 1s, 12f" data-test="stretch-by" @keydown.enter="stretch(-1)" />
      </div>
      <ChoiceLine label="Seen" :choices="SEEN" :now="clip.seen" @choose="edits.seen(ids, $event)" />
      <div v-if="pictured" class="line">
        <span class="muted">Blend mode</span>
        <VSelect :model-value="clip.blend" :items="modes" aria-label="How it is blended with what lies below" data-test="blend" @update:model-value="(mode: Clip['blend']) => edits.blend(ids, mode)" />
      </div>
      <div class="line">
        <span class="muted">Attached to</span>
        <VSelect :model-value="clip.rides ?? null" :items="[{ title: 'nothing', value: null }, ...shots]" aria-label="The shot it is attached to" @update:model-value="(shot: string | null) => edits.ride(ids, shot)" />
      </div>
      <div v-if="held !== null || pointed.length" class="line">
        <span class="muted">Goes with</span>
        <VSelect :model-value="held" :items="[{ title: 'no point', value: null }, ...pointed]" aria-label="The followed point it goes with" data-test="held-to" @update:model-value="hold" />
      </div>
      <template v-if="runs && !many">
        <ValueRow v-if="speedParameter" :clip="clip" step="content" :parameter="speedParameter" :fixes="run" />
        <Gauge v-else label="Speed" :value="speedOf(runs) * 100" :low="-100" :high="300" :neutral="100" :least="-10000" :most="10000" unit="%" @change="(percent, gesture) => run(percent / 100, gesture)" />
        <ChoiceLine v-if="footage" label="Between frames" :choices="BETWEEN" :now="footage.between" @choose="edits.put({ kind: 'set_between', clips: ids, between: $event })" />
        <Gauge v-if="footage" label="From frame" :value="footage.start" :low="0" :high="Math.max(100, footage.start + clip.length)" :least="0" :most="1e6" unit="f" :rate="project.rate" @change="(v, g) => edits.slip(clip.id, v, g)" />
        <div class="line"><span class="muted" /><span><button v-if="pictured" class="act" @click="edits.speed(clip.id, -speedOf(runs) || -1, 'part', desk.local)">play backwards</button> <button v-if="pictured" class="act" @click="edits.speed(clip.id, 0, 'length', desk.local)">freeze this frame</button> <button class="act" @click="edits.speed(clip.id, 1, 'part', 0)">{{ footage ? 'play as shot' : 'play as it is' }}</button></span></div>
      </template>
      <div v-if="clip.skipped || clip.cut_off" class="line"><span class="muted">Cut</span><span>a part of a longer motion</span><button class="act" @click="edits.makeWhole(ids)">give it its own arrival and departure</button></div>
      <template v-for="each in pictured ? ends : []" :key="each.end">
        <div class="line">
          <span class="muted">{{ each.label }}</span>
          <VSelect :model-value="each.now?.kind ?? null" :items="KINDS" :aria-label="each.label" :data-test="`${each.end}-kind`" @update:model-value="(kind: Transition['kind'] | null) => transit(each.end, { kind })" />
        </div>
        <template v-if="each.now && !many">
          <Gauge label="Length" :value="each.now.length" :low="1" :high="50" :least="1" :most="1e6" unit="f" :rate="project.rate" :data-test="`${each.end}-join-length`" @change="(v, g) => transit(each.end, { length: v }, g)" />
          <Gauge v-if="each.now.kind !== 'dissolve' && each.now.kind !== 'dip'" label="Softness" :value="each.now.softness * 100" :low="0" :high="100" :least="0" :most="100" unit="%" @change="(v, g) => transit(each.end, { softness: v / 100 }, g)" />
          <ChoiceLine v-if="each.now.kind === 'wipe' || each.now.kind === 'slide'" label="Towards" :choices="TOWARDS" :now="each.now.towards" @choose="transit(each.end, { towards: $event })" />
          <div v-if="each.now.kind === 'dip'" class="line"><span class="muted">Colour</span><input type="color" :value="each.now.colour" aria-label="Colour dipped to" @change="transit(each.end, { colour: ($event.target as HTMLInputElement).value })" /></div>
          <EaseEditor
            :ease="each.now.ease" @change="(ease, g) => transit(each.end, { ease }, g)"
            @rest="(ease) => rest(each.end, { ...each.now!, ease })" @leave="tryout.leave"
          />
        </template>
      </template>
      <ChoiceLine v-if="pictured" label="Motion blur" :choices="BLUR" :now="own" @choose="edits.shutter(ids, $event ? { ...shutter, angle: shutter.angle || 180 } : null)" />
      <Gauge v-if="pictured" label="Shutter" :value="shutter.angle" :low="0" :high="360" :least="0" :most="360" unit="°" data-test="shutter" @change="(v, g) => blur({ angle: v }, g)" />
      <template v-if="pictured && shutter.angle > 0">
        <Gauge label="Smear" :value="shutter.smear" :low="0" :high="4" :least="0" :most="16" :digits="2" :neutral="1" unit="×" @change="(v, g) => blur({ smear: v }, g)" />
        <ChoiceLine label="It sits" :choices="SITS" :now="shutter.sits" @choose="blur({ sits: $event })" />
      </template>
    </div>
  </section>
</template>

<style scoped>
.row { padding-left: 36px; border-bottom: 1px solid var(--line); }
.row.open { background: var(--raised); }
.head { display: flex; align-items: center; min-height: 40px; padding-right: 16px; }
.names { flex: 1; min-width: 0; text-align: left; padding: 4px 0; }
.name { display: block; font-weight: 600; }
.says { display: block; font-size: 12.5px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.acts { display: flex; flex-wrap: wrap; align-items: center; gap: 4px; padding: 0 16px 8px 0; font-size: 12.5px; white-space: nowrap; }
.inside { padding: 0 16px 12px 0; }
.line span button { margin: 2px 4px 2px 0; }
.line input { width: 52px; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 2px 6px; text-align: right; }
.line input[type=color] { padding: 0; height: 20px; }
@container (max-width: 340px) {
  .row { padding-left: 12px; }
  .head, .acts, .inside { padding-right: 8px; }
}
</style>
