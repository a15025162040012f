<script setup lang="ts">
/** Over the picture: the selected clip's outline, safe areas, and the caret while typing. */
import { computed, nextTick, ref, watch } from 'vue'
import { answered, api, type Handles } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useAnswer } from '../use/answer'
import { keepCaret } from '../use/caret'
import { useDraft } from '../use/draft'
import { byArrows } from '../use/arrows'
import { bracket } from '../use/brackets'
import { followDrag } from '../use/gesture'
import { useEdits } from '../use/edits'
import { choiceAt } from '../use/properties'
import AxesOverlay from './AxesOverlay.vue'
import GripsOverlay from './GripsOverlay.vue'
import PointMarks from './PointMarks.vue'
import TrailOverlay from './TrailOverlay.vue'

const props = defineProps<{ share: number }>()
const project = useProject()
const desk = useDesk()
const edits = useEdits()
const input = ref<HTMLTextAreaElement | null>(null)
const frame = ref<SVGSVGElement | null>(null)
const dragging = ref(false)
const picked = ref<[number, number]>([0, 0])
let gesture = ''

const handles = useAnswer<Handles | null>(() => [desk.selected, desk.frame, project.revision, desk.playing], () => {
  const [clip, at] = [desk.selected, desk.frame]
  if (!clip || desk.playing) return null
  return () => answered(api.GET('/api/projects/{project_id}/clips/{clip_id}/handles', { params: { path: { project_id: project.id, clip_id: clip }, query: { at } } }))
})
const handlesAt = handles.at
watch(handles, (found) => {
  desk.now = found ? { clip: found.clip, frame: desk.frame, values: found.values } : null
})

const px = computed(() => 1 / props.share)
const settings = computed(() => project.settings!)
/** With a mask in hand its own edges are what is looked at. */
const masked = computed(() => handles.value?.grips.some((grip) => grip.owner.includes('/') && grip.owner.split('/')[0] === desk.openRow) ?? false)
const outline = computed(() => handles.value?.corners.map((point) => point.join(',')).join(' ') ?? '')
const isText = computed(() => desk.clip?.content.kind === 'text')
const text = computed(() => (desk.clip?.content.kind === 'text' ? choiceAt(desk.clip, 'text', desk.course, desk.local) : ''))
const draft = useDraft(() => (isText.value ? desk.selected : null), () => text.value, keepCaret(input))

const caret = computed(() => handles.value?.carets.find((each) => each.index === picked.value[1]) ?? null)
/** The picked characters as one stripe a line. */
const stripes = computed(() => {
  const [from, to] = picked.value
  const carets = handles.value?.carets ?? []
  const out: string[] = []
  for (let i = 0; i + 1 < carets.length; i += 1) {
    const [a, b] = [carets[i], carets[i + 1]]
    if (a.index >= from && b.index <= to && b.index === a.index + 1 && text.value[a.index] !== '\n') {
      out.push([a.top, b.top, b.foot, a.foot].map((point) => point.join(',')).join(' '))
    }
  }
  return out
})

watch(() => desk.typing, async (typing) => {
  if (!typing || !isText.value) return
  const clip = desk.clip!
  draft.words.value = text.value
  // Words are typed where they can be seen: within the stay.
  desk.goToStay(clip)
  desk.playing = false
  gesture = crypto.randomUUID()
  await nextTick()
  const field = input.value
  if (!field) return
  field.focus()
  field.select()
  readPicked()
  const coming = desk.coming?.clip === clip.id ? desk.coming.words : ''
  desk.coming = null
  if (!coming) return
  field.value = coming
  field.setSelectionRange(coming.length, coming.length)
  typed()
})

function readPicked() {
  const field = input.value
  if (field) picked.value = [field.selectionStart, field.selectionEnd]
}

function typed() {
  draft.words.value = input.value!.value
  edits.text(desk.selected!, { text: draft.words.value, typed_on: draft.base.value }, gesture, true, draft.saw.value)
  readPicked()
}

/** A way seen on the picture, in px of the timeline the clip lies on: a group may be placed otherwise than the film. */
function own(dx: number, dy: number): [number, number] {
  const { across: [ax, ay], down: [bx, by] } = handles.value!
  const det = ax * by - ay * bx || 1e-9
  return [(dx * by - dy * bx) / det, (dy * ax - dx * ay) / det]
}

/** The clip in hand and its placement as the hand has it: what was set and is not answered yet counts. */
function held(): Pick<Handles, 'clip' | 'place'> {
  const { clip, place } = handles.value!
  return { clip, place: { ...place, ...project.locally('place', [clip], handles.at.value) as Record<string, number> } }
}

/** Drag the clip on the picture; the core draws it to the middle and the safe areas. A press without a move types. */
function dragClip(press: PointerEvent) {
  if (desk.typing) return placeCaret(press)
  const { clip, place } = held()
  const from = { x: place.x ?? 0, y: place.y ?? 0 }
  followDrag(press, ({ dx, dy, event, gesture }) => {
    dragging.value = true
    const snap = event.ctrlKey ? 0 : 7 * px.value
    const straight = event.shiftKey ? (Math.abs(dx) > Math.abs(dy) ? [1, 0] : [0, 1]) : [1, 1]
    const [x, y] = own(dx * px.value * straight[0], dy * px.value * straight[1])
    edits.place(clip, { x: from.x + x, y: from.y + y }, snap, gesture)
  }, (moved) => {
    dragging.value = false
    if (!moved && isText.value) desk.typing = true
  })
}

/** The pivot is moved by its cross while its placement is open: else a drag there moves the clip. */
const pivotAsked = computed(() => desk.clip?.steps.find((step) => step.id === desk.openRow)?.kind === 'placement')

/** Where a press is from the pivot, in px of the frame. */
function fromPivot(event: PointerEvent): [number, number] {
  const box = frame.value!.getBoundingClientRect()
  const [cx, cy] = handles.value!.pivot
  return [(event.clientX - box.left) / props.share - cx, (event.clientY - box.top) / props.share - cy]
}

function dragScale(press: PointerEvent) {
  const { clip, place } = held()
  const start = Math.hypot(...fromPivot(press)) || 1
  const from = place.scale ?? 1
  followDrag(press, ({ event, gesture }) => {
    const scale = Math.round(((from * Math.hypot(...fromPivot(event))) / start) * 1000) / 1000
    edits.place(clip, { scale }, 0, gesture)
  })
}

function dragTurn(press: PointerEvent) {
  const { clip, place } = held()
  const angle = (event: PointerEvent) => (Math.atan2(...(fromPivot(event).reverse() as [number, number])) * 180) / Math.PI
  const start = angle(press)
  const from = place.rotation ?? 0
  followDrag(press, ({ event, gesture }) => {
    let by = angle(event) - start
    by -= 360 * Math.round(by / 360)
    const turned = event.shiftKey ? Math.round((from + by) / 15) * 15 : Math.round((from + by) * 10) / 10
    edits.place(clip, { rotation: turned }, 0, gesture)
  })
}

function dragPivot(press: PointerEvent) {
  const { clip, place } = held()
  const from = { pivot_x: place.pivot_x ?? 0, pivot_y: place.pivot_y ?? 0 }
  const unit = px.value / (Math.abs(place.scale ?? 1) || 1)
  followDrag(press, ({ dx, dy, gesture }) =>
    edits.place(clip, { pivot_x: Math.round(from.pivot_x + dx * unit), pivot_y: Math.round(from.pivot_y + dy * unit) }, 0, gesture))
}

let began: Pick<Handles, 'clip' | 'place'> | null = null
/** The same by arrow keys, for a handle that has the focus: a px, a hundredth or a degree a press, ten with Shift. */
function moveBy(event: KeyboardEvent, handle: 'place' | 'scale' | 'turn' | 'pivot') {
  byArrows(event, (x, y, gesture, begins) => {
    if (begins || !began) began = held()
    const { clip, place } = began
    if (handle === 'place') edits.place(clip, { x: (place.x ?? 0) + x, y: (place.y ?? 0) + y }, 0, gesture)
    else if (handle === 'scale') edits.place(clip, { scale: Math.round(((place.scale ?? 1) + (x - y) / 100) * 1000) / 1000 }, 0, gesture)
    else if (handle === 'turn') edits.place(clip, { rotation: (place.rotation ?? 0) + x - y }, 0, gesture)
    else edits.place(clip, { pivot_x: (place.pivot_x ?? 0) + x, pivot_y: (place.pivot_y ?? 0) + y }, 0, gesture)
  })
}
const rounded = (value: number | undefined, times = 1) => Math.round((value ?? 0) * times * 10) / 10

const corners = computed(() => handles.value?.corners ?? [])
/** The turning grip stands off the middle of the upper edge. */
const turnGrip = computed(() => {
  const [a, b, , d] = corners.value
  if (!a) return null
  const [mx, my] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]
  const [ux, uy] = [a[0] - d[0], a[1] - d[1]]
  const length = Math.hypot(ux, uy) || 1
  return { up: [ux / length, uy / length], at: [mx + (ux / length) * 14 * px.value, my + (uy / length) * 14 * px.value] }
})
/** Drawn as a short arc over the edge. */
const arc = computed(() => {
  if (!turnGrip.value) return ''
  const { at, up } = turnGrip.value
  const side = [-up[1] * 9 * px.value, up[0] * 9 * px.value]
  const peak = [at[0] + up[0] * 7 * px.value, at[1] + up[1] * 7 * px.value]
  return `M${at[0] - side[0]} ${at[1] - side[1]}Q${peak.join(' ')} ${at[0] + side[0]} ${at[1] + side[1]}`
})

/** Put the caret at the character nearest to a press. */
function placeCaret(event: PointerEvent) {
  event.preventDefault()
  const svg = event.currentTarget as SVGElement
  const box = svg.ownerSVGElement!.getBoundingClientRect()
  const x = (event.clientX - box.left) / props.share
  const y = (event.clientY - box.top) / props.share
  let best: { index: number; far: number } | null = null
  for (const each of handles.value?.carets ?? []) {
    const mx = (each.top[0] + each.foot[0]) / 2
    const my = (each.top[1] + each.foot[1]) / 2
    const far = Math.abs(mx - x) + 3 * Math.abs(my - y)
    if (!best || far < best.far) best = { index: each.index, far }
  }
  if (best) {
    input.value?.focus()
    input.value?.setSelectionRange(best.index, best.index)
    readPicked()
  }
}
/** What stands in space has its axes on the picture while that is worked on: its step is open, or the space is looked at. */
const inSpace = computed(() => desk.clips.length === 1 && desk.isOver(desk.clip!) && desk.clip!.steps.some((step) => step.kind === 'stand' && step.on && (desk.around || desk.openRow === step.id)))
</script>

<template>
  <svg ref="frame" class="over" :class="{ typing: desk.typing }" :viewBox="`0 0 ${settings.width} ${settings.height}`" role="group" aria-label="Handles on the picture">
    <g v-if="desk.guides" fill="none" stroke="var(--bone)" :stroke-width="px" opacity="0.75">
      <path
        v-for="share in [0.035, 0.05]" :key="share" :opacity="share === 0.05 ? 1 : 0.5"
        :d="[[0, 0], [1, 0], [1, 1], [0, 1]].map(([cx, cy]) => {
          const x = cx ? settings.width * (1 - share) : settings.width * share
          const y = cy ? settings.height * (1 - share) : settings.height * share
          const s = 22 * px
          return `M${x + (cx ? -s : s)} ${y}H${x}V${y + (cy ? -s : s)}`
        }).join('')"
      />
      <path :d="`M${settings.width / 2} ${settings.height / 2 - 8 * px}v${16 * px}M${settings.width / 2 - 8 * px} ${settings.height / 2}h${16 * px}`" opacity="0.6" />
    </g>
    <template v-if="handles && !desk.playing">
      <polygon v-for="(stripe, i) in desk.typing ? stripes : []" :key="i" :points="stripe" fill="var(--bone)" opacity="0.28" />
      <polygon
        class="outline" :points="outline" :stroke-width="(desk.typing ? 1.5 : 1) * px" :stroke-dasharray="desk.typing ? 'none' : `${4 * px} ${4 * px}`"
        data-test="outline" role="slider" :tabindex="desk.typing ? -1 : 0" aria-label="Outline: moves the clip" :aria-valuetext="`${rounded(handles.place.x)} across, ${rounded(handles.place.y)} down`" :aria-valuenow="rounded(handles.place.x)"
        @pointerdown="dragClip" @keydown="desk.typing || moveBy($event, 'place')"
      />
      <path
        v-for="([axis, at], i) in dragging ? handles.meets : []" :key="i" class="met" :stroke-width="px"
        :d="axis === 'x' ? `M${at} 0V${settings.height}` : `M0 ${at}H${settings.width}`"
      />
      <g v-if="!desk.typing && !masked" class="grips" :stroke-width="px">
        <g v-for="(corner, i) in corners" :key="i" class="corner" :data-test="`scale-${i}`" role="slider" :tabindex="i ? -1 : 0" aria-label="Corner: larger or smaller" :aria-valuetext="`${rounded(handles.place.scale ?? 1, 100)} %`" :aria-valuenow="rounded(handles.place.scale ?? 1, 100)"
          @pointerdown="dragScale" @keydown="moveBy($event, 'scale')"
        >
          <circle :cx="corner[0]" :cy="corner[1]" :r="9 * px" stroke="none" />
          <path :stroke-width="2.5 * px" :d="bracket(corners, i, 10 * px)" />
        </g>
        <g v-if="turnGrip" class="turn" data-test="turn" role="slider" tabindex="0" aria-label="Arc: turns the clip" :aria-valuetext="`${rounded(handles.place.rotation)} degrees`" :aria-valuenow="rounded(handles.place.rotation)"
          @pointerdown="dragTurn" @keydown="moveBy($event, 'turn')"
        >
          <circle :cx="turnGrip.at[0]" :cy="turnGrip.at[1]" :r="9 * px" stroke="none" />
          <path :stroke-width="2 * px" :d="arc" />
        </g>
        <g
          data-test="pivot" class="pivot" :class="{ asked: pivotAsked }" role="slider" :tabindex="pivotAsked ? 0 : -1" aria-label="Cross: what it turns about" :aria-valuetext="`${rounded(handles.place.pivot_x)} across, ${rounded(handles.place.pivot_y)} down`" :aria-valuenow="rounded(handles.place.pivot_x)"
          @pointerdown="dragPivot" @keydown="moveBy($event, 'pivot')"
        >
          <circle :cx="handles.pivot[0]" :cy="handles.pivot[1]" :r="7 * px" stroke="none" />
          <path :d="`M${handles.pivot[0] - 8 * px} ${handles.pivot[1]}h${5 * px}m${6 * px} 0h${5 * px}M${handles.pivot[0]} ${handles.pivot[1] - 8 * px}v${5 * px}m0 ${6 * px}v${5 * px}`" />
        </g>
      </g>
      <path
        v-if="desk.typing && caret" class="caret" :stroke-width="2 * px"
        :d="`M${caret.top.join(' ')}L${caret.foot.join(' ')}`"
      />
    </template>
    <PointMarks v-if="desk.clip?.content.kind === 'footage' && !desk.playing" :share="share" />
    <AxesOverlay v-if="inSpace && !desk.typing && !masked" :key="desk.clip!.id" :clip="desk.clip!.id" :share="share" />
    <GripsOverlay v-if="handles && !desk.playing && !desk.typing" :handles="handles" :at="handlesAt" :share="share" />
    <TrailOverlay v-if="!desk.typing && !masked" :share="share" />
  </svg>
  <textarea
    v-if="desk.typing && isText" ref="input" class="typed" :value="draft.words.value" maxlength="10000" aria-label="Words of the title" data-test="type-here"
    @input="typed" @keyup="readPicked" @select="readPicked" @blur="desk.typing = false"
  />
  <div v-if="desk.typing" class="state">Typing. Esc leaves, Ctrl+Space plays.</div>
</template>

<style scoped>
.over { position: absolute; inset: 0; width: 100%; height: 100%; pointer-events: none; overflow: visible; }
.outline { fill: none; stroke: var(--bone); opacity: 0.55; transition: opacity 0.15s; }
/* With the pointer elsewhere the picture is looked at, not taken hold of. */
.grips, .trail { transition: opacity 0.15s; }
.picture:not(:hover, :focus-within) .over:not(.typing) :is(.grips, .trail) { opacity: 0; }
.picture:not(:hover, :focus-within) .over:not(.typing) .outline { opacity: 0.3; }
.outline { pointer-events: all; cursor: move; touch-action: none; }
.typing .outline { opacity: 1; cursor: text; }
.met { stroke: var(--bone); opacity: 0.7; }
.grips { fill: var(--soot); stroke: var(--bone); }
.grips circle { fill: transparent; }
.outline:focus-visible, .corner:focus-visible path, .turn:focus-visible path, .pivot:focus-visible path { outline: none; stroke: var(--now); stroke-dasharray: none; }
.corner:focus-visible, .turn:focus-visible, .pivot:focus-visible { outline: none; }
.corner, .turn { fill: none; pointer-events: all; cursor: nwse-resize; touch-action: none; }
.turn { cursor: grab; }
.pivot { opacity: 0.5; touch-action: none; }
.pivot.asked { pointer-events: all; cursor: crosshair; opacity: 1; }
.pivot circle { fill: transparent; }
.caret { stroke: var(--now); animation: blink 1.06s steps(1) infinite; }
@keyframes blink { 50% { opacity: 0; } }
.typed { position: absolute; left: 0; bottom: 0; width: 1px; height: 1px; opacity: 0; border: 0; padding: 0; resize: none; }
.state { position: absolute; left: 50%; bottom: 10px; transform: translateX(-50%); background: var(--soot); border: 1px solid var(--line); padding: 3px 10px; font-size: 12.5px; }
</style>
