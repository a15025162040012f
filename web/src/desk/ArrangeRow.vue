<script setup lang="ts">
/** Several pictures in one frame: each of the clips in hand in a cell. Resting on one plays it, a click keeps it. */
import { computed, ref } from 'vue'
import type { Clip, Ease, Edit } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import Gauge from '../parts/Gauge.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { newId, useEdits } from '../use/edits'
import { useNewTitle } from '../use/newTitle'
import { useTryout } from '../use/tryout'
import EaseEditor from './EaseEditor.vue'

const props = defineProps<{ clips: Clip[] }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const tryout = useTryout()
const { typeInto } = useNewTitle()

type Arrange = Extract<Edit, { kind: 'arrange_clips' }>
type Kind = Arrange['arrangement']
/** What each looks like, on a frame of 32 × 18. */
const ONE: [Kind, string, Partial<Arrange>, string][] = [
  ['inset', 'in a corner', {}, 'M20 11H30V16.500H20Z'],
  ['half', 'left half', { corner: 'upper left' }, 'M1 1H16V17H1Z'],
  ['half', 'right half', { corner: 'upper right' }, 'M16 1H31V17H16Z'],
  ['quadrant', 'a quadrant', {}, 'M16 9H31V17H16Z'],
  ['strip below', 'gives way upward', {}, 'M1 1H31V12.500H1Z'],
  ['strip beside', 'gives way aside', { corner: 'upper left' }, 'M10 1H31V17H10Z'],
]
const MANY: [Kind, string, Partial<Arrange>, string][] = [
  ['row', 'in a row', {}, 'M1 1H11V17H1ZM11 1H21V17H11ZM21 1H31V17H21Z'],
  ['column', 'in a column', {}, 'M1 1H31V6.300H1ZM1 6.300H31V11.600H1ZM1 11.600H31V17H1Z'],
  ['grid', 'in a grid', {}, 'M1 1H16V9H1ZM16 1H31V9H16ZM1 9H16V17H1ZM16 9H31V17H16Z'],
  ['first large', 'first one large', {}, 'M1 1H21V17H1ZM21 1H31V9H21ZM21 9H31V17H21Z'],
]
const listed = computed(() => (props.clips.length > 1 ? MANY : ONE))
const clip = computed(() => props.clips.at(-1)!)
const cell = computed(() => clip.value.steps.find((step) => step.kind === 'cell') ?? null)

const chosen = ref<[Kind, Partial<Arrange>] | null>(null)
type Settings = Required<Pick<Arrange, 'margin' | 'gutter' | 'share' | 'shadow' | 'arrives' | 'departs' | 'length' | 'apart' | 'order'>> & { ease: Ease }
const settings = ref<Settings>({ margin: 0, gutter: 0, share: 0.3, shadow: false, arrives: true, departs: true, length: 18, apart: 4, order: 'first to last', ease: { kind: 'strengths', start: 0.4, end: 0.7 } })
const ORDERS = [['first to last', 'first'], ['last to first', 'last'], ['from the middle', 'middle']] as const
const edit = (arrangement: Kind, more: Partial<Arrange>): Arrange => ({
  kind: 'arrange_clips', clips: props.clips.map((each) => each.id), arrangement, corner: 'lower right', comes: null, ...settings.value,
  ...more,
})
function use(arrangement: Kind, more: Partial<Arrange>) {
  tryout.leave()
  // In a corner it stands a little off the edges.
  if (arrangement === 'inset' && !chosen.value) settings.value.margin = 24
  chosen.value = [arrangement, more]
  edits.put(edit(arrangement, more))
  // Its cell is taken hold of on the picture next.
  if (props.clips.length === 1) desk.openRow = cell.value?.id ?? 'cell'
}
/** What was clicked last, in another way; without one the next click counts. */
function change(by: Partial<Settings>, gesture?: string) {
  settings.value = { ...settings.value, ...by }
  if (chosen.value) edits.put(edit(...chosen.value), gesture)
}
/** A strip for words, called by its clip: made anew in another way it keeps its words. */
type Side = 'below' | 'left' | 'right'
const seed = computed(() => `${clip.value.id.slice(0, 40)}-strip`)
const stripped = computed(() => `${seed.value}-words` in project.project!.clips)
const side = ref<Side>('below')
const ground = ref<'plain' | 'gradient' | 'moving'>('gradient')
const align = ref<'left' | 'centre' | 'right'>('centre')
const strip = (side: Side, seed: string): Edit => ({
  kind: 'make_strip', clip: clip.value.id, seed, side, share: side === 'below' ? 0.22 : 0.34, text: 'An address\nand a line below it', ground: ground.value, align: align.value, shadow: true, length: settings.value.length,
})
function makeStrip(at: Side) {
  tryout.leave()
  side.value = at
  const first = !stripped.value
  edits.put(strip(at, seed.value))
  if (first) typeInto(`${seed.value}-words`)
}
function restrip() {
  if (stripped.value) edits.put(strip(side.value, seed.value))
}
function pickDetail() {
  const { id } = clip.value
  desk.picking = { says: 'Click what its cell is to show', done: (at) => edits.put({ kind: 'show_detail', clip: id, frame: desk.local, at, zoom: 2 }) }
}
/** For three seconds each, or as long as there is room for all, one after the other in the order they were taken in hand. */
function forward() {
  const room = Math.min(...props.clips.map((each) => Math.round(project.endOf(each)))) - desk.frame
  const length = props.clips.length > 1 ? Math.max(2, Math.min(75, Math.floor(room / props.clips.length))) : 75
  const all = props.clips.map((each, n) => ({
    kind: 'to_front_and_back' as const, clip: each.id, frame: desk.frame + n * length, seed: newId(), length, way: Math.min(16, Math.ceil(length / 3)), fits: true, ease: { kind: 'strengths' as const, start: 0.5, end: 0.5 },
  }))
  edits.put(all.length === 1 ? all[0] : { kind: 'several', label: `${all.length} come forward in turn`, edits: all })
}

</script>

<template>
  <div class="offers" data-test="arrange">
    <p class="muted">{{ clips.length > 1 ? `all ${clips.length} in one frame` : 'in a cell of the frame' }}</p>
    <div class="list">
      <button
        v-for="[kind, word, more, path] in listed" :key="word" class="act" :class="{ on: chosen?.[0] === kind && chosen[1].corner === more.corner && cell }" :data-arrangement="word" :title="word" :aria-label="word"
        v-rests="[() => tryout.whole(edit(kind, more), clip), tryout.leave]" @click="use(kind, more)"
      ><svg width="32" height="18" aria-hidden="true"><path class="whole" d="M0.500 0.500H31.500V17.500H0.500Z" /><path :d="path" /></svg></button>
    </div>
    <template v-if="cell && chosen">
      <Gauge v-if="clips.length === 1 && chosen[0] !== 'half' && chosen[0] !== 'quadrant'" :label="chosen[0] === 'inset' ? 'Size' : 'Left free'" :value="settings.share * 100" :low="10" :high="60" :least="5" :most="95" :neutral="30" unit="%" @change="(v, g) => change({ share: v / 100 }, g)" />
      <Gauge label="Margin" :value="settings.margin" :low="0" :high="80" :least="0" :most="1000" unit="px" @change="(v, g) => change({ margin: v }, g)" />
      <Gauge v-if="clips.length > 1" label="Gutter" :value="settings.gutter" :low="0" :high="60" :least="0" :most="1000" unit="px" @change="(v, g) => change({ gutter: v }, g)" />
      <Gauge label="Within" :value="settings.length" :low="1" :high="50" :least="1" :most="1000" unit="f" @change="(v, g) => change({ length: Math.round(v) }, g)" />
      <Gauge v-if="clips.length > 1" label="Apart" :value="settings.apart" :low="0" :high="25" :least="0" :most="250" unit="f" @change="(v, g) => change({ apart: Math.round(v) }, g)" />
      <ChoiceLine v-if="clips.length > 1" label="Goes first" :choices="ORDERS" :now="settings.order" @choose="change({ order: $event })" />
      <EaseEditor :ease="settings.ease" @change="(ease, g) => change({ ease }, g)" />
      <div class="list">
        <button class="flip" :aria-pressed="settings.arrives" title="Without, it is in its cell from the first frame on" @click="change({ arrives: !settings.arrives })">arrives</button>
        <button class="flip" :aria-pressed="settings.departs" @click="change({ departs: !settings.departs })">departs</button>
        <button class="flip" :aria-pressed="settings.shadow" @click="change({ shadow: !settings.shadow })">shadow</button>
      </div>
    </template>
    <div v-if="clips.length === 1" class="list">
      <span class="muted">with words beside it</span>
      <button v-for="[at, word] in ([['below', 'in a strip below'], ['left', 'at the left'], ['right', 'at the right']] as const)" :key="at" class="act" :data-test="`strip-${at}`" title="The picture gives way; a ground and words stand in the strip" v-rests="[() => tryout.whole(strip(at, 'tried'), clip), tryout.leave]" @click="makeStrip(at)">{{ word }}</button>
    </div>
    <template v-if="stripped && clips.length === 1">
      <ChoiceLine label="Ground" :choices="[['plain', 'plain'], ['gradient', 'gradient'], ['moving', 'moving']] as const" :now="ground" @choose="ground = $event; restrip()" />
      <ChoiceLine label="Lines" :choices="[['left', 'left'], ['centre', 'centre'], ['right', 'right']] as const" :now="align" @choose="align = $event; restrip()" />
    </template>
    <div v-if="cell" class="list">
      <button v-if="clips.length === 1" class="act" data-test="pick-detail" title="What is clicked on the picture comes into the middle of its cell" @click="pickDetail">show a detail</button>
      <button class="act" data-test="comes-forward" :title="clips.length > 1 ? 'Each fills the frame for three seconds, one after the other from the playhead on' : 'Fills the frame for three seconds from the playhead on, over all others'" @click="forward">{{ clips.length > 1 ? 'come forward in turn' : 'comes forward here' }}</button>
    </div>
  </div>
</template>

<style scoped>
.offers p { margin: 0 0 4px; }
.list { display: flex; flex-wrap: wrap; gap: 4px; margin-top: 4px; }
svg { display: block; }
.list .act { padding: 3px 5px; }
path { fill: var(--mark); stroke: var(--panel); stroke-width: 1; }
.whole { fill: none; stroke: var(--muted); }
.on path { fill: var(--soot); }
.on .whole { fill: none; stroke: var(--soot); }
</style>
