<script setup lang="ts">
/** The timeline: ruler, tracks, clips drawn as what they do, lanes of what moves under the clip in hand. */
import { useDebounceFn, useElementSize, useEventListener } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import type { Clip, Curve } from '../api/client'
import { useDesk } from '../stores/desk'
import { usePoints } from '../stores/points'
import { useProject } from '../stores/project'
import { useSharp } from '../use/sharp'
import { isRail } from '../use/kinds'
import { newId, useEdits } from '../use/edits'
import { useParameters } from '../use/properties'
import { followDrag } from '../use/gesture'
import { useMeets } from '../use/meets'
import { useNewTitle } from '../use/newTitle'
import { shortTimecode } from '../use/timecode'
import { useUpload } from '../use/upload'
import { HEADER, useView } from '../use/view'
import MeasureLane, { type Measure } from './MeasureLane.vue'
import MotionLane from './MotionLane.vue'
import TimelineClip from './TimelineClip.vue'
import TimelineRuler from './TimelineRuler.vue'
import TrackHeader from './TrackHeader.vue'
import { useKept } from '../use/kept'
import { inText } from '../use/wording'

const SQUEEZED = 14
/** Px of a lane that idles: its name and the shape of its curve. */
const FOLDED = 18
/** Px of a lane of something measured. */
const MEASURED = 28
/** Lanes are open for no more clips in hand than this: beyond, the tracks are what is looked at. */
const LANED = 3
const project = useProject()
const desk = useDesk()
const parameterOf = useParameters()
const edits = useEdits()
const upload = useUpload()
const followed = usePoints()
const view = useView()
const { addTitle } = useNewTitle()
const { meets } = useMeets()
const scroller = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(scroller)
/** Read once a scroll, without asking for styles: the timeline must keep up with two thousand clips. */
const scrolled = ref(0)
useEventListener(scroller, 'scroll', () => { scrolled.value = scroller.value!.scrollLeft }, { passive: true })
watch(width, (now) => { view.width.value = now }, { immediate: true })
watch(scrolled, (now) => { view.scrolled.value = now })
view.attach((left) => { if (scroller.value) scroller.value.scrollLeft = left })

const scale = computed(() => view.scale.value)
const inner = computed(() => view.inner.value)
const x = (frame: number) => frame * scale.value

/** First and last frame in sight, with a little to either side; in steps, so that scrolling draws little anew. */
const STEP = 240
const from = computed(() => Math.floor(scrolled.value / STEP) * STEP)
const sight = computed<[number, number]>(() => [(from.value - STEP / 2) / scale.value, (from.value + width.value + 1.5 * STEP) / scale.value])
const byTrack = computed(() => {
  const found = new Map<string, Clip[]>()
  for (const clip of project.clips) {
    const own = found.get(clip.track)
    if (own) own.push(clip)
    else found.set(clip.track, [clip])
  }
  return found
})
/** A clip in hand is drawn even out of sight: it may be being dragged. */
const inSight = (clip: Clip) => (clip.head < sight.value[1] && project.endOf(clip) > sight.value[0]) || desk.picked.includes(clip.id)

/** Clips of a track in sight, each with the one before it. Of hundreds, those too narrow to be told apart are drawn as
 * crowds: how many they are, and the frames from the first to the last. */
const CROWD = 200
const NARROW = 3
function parted(own: Clip[]) {
  const near = own.flatMap((clip, i) => (inSight(clip) ? [{ clip, before: own[i - 1] }] : []))
  if (near.length < CROWD) return { clips: near, crowds: [] }
  const picked = new Set(desk.picked)
  const crowds: { first: number; last: number; count: number }[] = []
  const clips = near.filter(({ clip }) => {
    const last = project.endOf(clip)
    if ((last - clip.head) * scale.value >= NARROW || picked.has(clip.id)) return true
    const crowd = crowds.at(-1)
    if (crowd && (clip.head - crowd.last) * scale.value < NARROW) {
      crowd.last = last
      crowd.count += 1
    } else crowds.push({ first: clip.head, last, count: 1 })
    return false
  })
  return { clips, crowds }
}
/** Closer, until the clips under the pointer can be told apart. */
function closer(event: MouseEvent, crowd: { first: number; last: number; count: number }) {
  const each = ((crowd.last - crowd.first) / crowd.count) * scale.value
  view.zoomBy(24 / each, event.clientX - scroller.value!.getBoundingClientRect().left - HEADER)
}

const rows = computed(() => project.rows.map(({ track, depth }) => {
  const own = byTrack.value.get(track.id) ?? []
  const holds = own.some((clip) => desk.picked.includes(clip.id))
  const held = desk.picked.length <= LANED ? own.filter((clip) => desk.picked.includes(clip.id)) : []
  const all = held.flatMap((clip) => (project.courses[clip.id]?.curves ?? []).map((curve) => ({ clip, curve })))
  // With a step open in the Steps its own values are looked at; the others idle, folded to a line each.
  const some = desk.openSpan === null && all.some(({ curve }) => curve.step === desk.openRow)
  const lanes = all.map((lane) => ({ ...lane, folded: some && lane.curve.step !== desk.openRow && !desk.keys.some((key) => key.step === lane.curve.step && key.name === lane.curve.name) }))
  const measures = desk.openSpan === null ? held.flatMap((clip) => measured(clip).map((measure) => ({ clip, measure }))) : []
  const squeezed = desk.openSpan !== null && !holds
  const natural = track.height ?? (own.length && own.every(isRail) ? 28 : own.some((clip) => clip.content.kind === 'footage') ? 56 : 46)
  return { track, depth, ...parted(own), lanes, measures, squeezed, height: squeezed ? (own.some((clip) => clip.content.kind === 'footage') ? 26 : SQUEEZED) : natural }
}))
const sharp = useSharp(() => desk.clips.filter((clip) => clip.content.kind === 'camera' && clip.content.choices.sharp === 'by the lens'))
/** What is measured over a clip in hand: how a camera fills the frame and pans, how sure its followed points are. */
function measured(clip: Clip): Measure[] {
  if (clip.content.kind === 'camera') return sharp.value[clip.id] ? [sharp.value[clip.id]] : []
  const camera = project.courses[clip.id]?.camera
  const made: Measure[] = []
  if (camera) {
    const values = camera.spare.flatMap((each) => each.slice(1))
    const lines = [1, 2, 3, 4].map((side) => camera.spare.map((each): [number, number] => [each[0], each[side]]))
    made.push({ name: 'Spare, px', says: `Spare picture left, above, right and below; least ${Math.round(Math.min(...values))} px`, lines, limit: 0, wrong: 'below', low: Math.min(0, ...values), high: Math.max(8, ...values) })
    const fastest = Math.max(...camera.pans.map((each) => each[1]))
    if (fastest > 0.2) made.push({ name: 'Pan, %/s', says: `Pans at up to ${fastest.toFixed(1)} % of the frame a second; strobing limit ${camera.limit.toFixed(0)} %`, lines: [camera.pans], limit: camera.limit, wrong: 'above', low: 0, high: 1.15 * Math.max(fastest, camera.limit) })
  }
  if (followed.shot?.id === clip.id) {
    for (const point of followed.points) made.push({ name: `Sure of ${point.name}`, says: `How sure ${point.name} is; lost ${point.lost.length} times`, lines: [point.sure], limit: point.least, wrong: 'below', low: 0, high: 1 })
  }
  return made
}
/** A treatment's veil lies over all tracks below it, for as long as it lasts. */
const veils = computed(() => rows.value.flatMap((row, i) => {
  const treated = row.clips.map(({ clip }) => clip).filter((clip) => clip.content.kind === 'treatment' && clip.seen !== 'hidden')
  if (!treated.length || row.track.hidden) return []
  const heights = rows.value.map((each) => each.height + each.measures.length * MEASURED + each.lanes.reduce((sum, lane) => sum + laneTall(lane), 0))
  const top = heights.slice(0, i + 1).reduce((sum, height) => sum + height, 0)
  const height = heights.slice(i + 1).reduce((sum, each) => sum + each, 0)
  return treated.map((clip) => ({ id: clip.id, left: HEADER + x(clip.head), width: x(project.endOf(clip) - clip.head), top, height, chosen: desk.picked.includes(clip.id) }))
}))
const laneTall = ({ curve, folded }: { curve: Curve; folded: boolean }) => (folded ? FOLDED : curve.sort === 'colour' ? 26 : laneHeight.value)
/** In an opened span the lanes share what room there is. */
const wanted = useKept('lane-height', 38)
const laneHeight = computed(() => {
  if (!desk.openSpan) return wanted.value
  const lanes = rows.value.reduce((count, row) => count + row.lanes.length, 0)
  const taken = rows.value.reduce((sum, row) => sum + row.height, 48)
  return Math.min(160, Math.max(56, Math.floor((height.value - taken) / Math.max(1, lanes))))
})

const asks = useDebounceFn((clips: Clip[]) => project.need(clips.map((clip) => clip.id)), 60)
watch(() => rows.value.flatMap((row) => row.clips.map(({ clip }) => clip)), (clips) => { void asks(clips) }, { immediate: true })

/** Ctrl and the wheel zoom with the pointer's frame kept in place; Shift and the wheel scroll sideways. */
function wheel(event: WheelEvent) {
  const box = scroller.value!
  if (event.shiftKey && !event.ctrlKey) {
    event.preventDefault()
    box.scrollLeft += event.deltaY || event.deltaX
  }
  if (!event.ctrlKey) return
  event.preventDefault()
  view.zoomBy(Math.exp(-event.deltaY / 240), event.clientX - box.getBoundingClientRect().left - HEADER)
}

/** While playing the timeline keeps the playhead in sight. */
watch(() => desk.frame, (frame) => {
  const box = scroller.value
  if (!box || view.zoom.value === null) return
  const left = x(frame) - box.scrollLeft
  const room = box.clientWidth - HEADER
  if (left < 0 || left > room - 40) box.scrollLeft = desk.playing ? x(frame) - 60 : x(frame) - room / 2
})

/** What is taken in hand comes into sight: its track, and its head where none of it is seen. */
watch(() => desk.clip && [desk.clip.id, desk.clip.track], async (now, before) => {
  if (!now || String(now) === String(before)) return
  await nextTick()
  const box = scroller.value
  const row = box?.querySelector<HTMLElement>(`[data-track="${CSS.escape(now[1])}"]`)
  if (!box || !row || !desk.clip) return
  const [top, foot] = [topOf(row), topOf(row) + row.offsetHeight]
  // The ruler stays above the first track, however far down one looks.
  const ruler = topOf(box.querySelector<HTMLElement>('[data-track]')!)
  if (top < box.scrollTop + ruler) box.scrollTop = top - ruler
  else if (foot > box.scrollTop + box.clientHeight) box.scrollTop = foot - box.clientHeight
  const [left, right] = [x(desk.clip.head), x(project.endOf(desk.clip))]
  if (right < box.scrollLeft || left > box.scrollLeft + box.clientWidth - HEADER) box.scrollLeft = left - 60
})

/** Where the pointer is, for what is done under it by a key. */
function point(event: PointerEvent) {
  const box = scroller.value!
  const left = event.clientX - box.getBoundingClientRect().left - HEADER
  view.pointer.frame = left < 0 ? null : Math.round((left + box.scrollLeft) / scale.value)
  view.pointer.clip = (event.target as Element).closest<HTMLElement>('[data-clip]')?.dataset.clip ?? null
}

const topOf = (row: HTMLElement) => row.offsetTop + (row.offsetParent as HTMLElement).offsetTop
/** A press on free ground: a drag takes all clips it goes round in hand, a click lets go. */
const marquee = ref<{ left: number; top: number; width: number; height: number } | null>(null)
function ground(press: PointerEvent) {
  const box = scroller.value!.getBoundingClientRect()
  const start = { x: press.clientX - box.left + scroller.value!.scrollLeft, y: press.clientY - box.top + scroller.value!.scrollTop }
  const before = press.shiftKey ? desk.picked : []
  const lanes = [...scroller.value!.querySelectorAll<HTMLElement>('[data-track]')].map((row) => ({ id: row.dataset.track!, top: topOf(row), foot: topOf(row) + row.offsetHeight }))
  followDrag(press, ({ dx, dy }) => {
    const [left, right] = [Math.min(start.x, start.x + dx), Math.max(start.x, start.x + dx)]
    const [top, foot] = [Math.min(start.y, start.y + dy), Math.max(start.y, start.y + dy)]
    marquee.value = { left, top, width: right - left, height: foot - top }
    const [first, last] = [(left - HEADER) / scale.value, (right - HEADER) / scale.value]
    const tracks = new Set(lanes.filter((lane) => lane.top < foot && lane.foot > top).map((lane) => lane.id))
    const round = project.clips.filter((clip) => tracks.has(clip.track) && clip.head < last && project.endOf(clip) > first)
    desk.pick([...before, ...round.map((clip) => clip.id)])
  }, (moved) => {
    marquee.value = null
    if (!moved && !press.shiftKey) desk.select(null)
  })
}

/** What is dropped lies where it is dropped: media from the tray, and files from outside as soon as they are added. */
function drop(event: DragEvent, track: string) {
  const box = (event.currentTarget as Element).getBoundingClientRect()
  const frame = Math.max(0, Math.floor((event.clientX - box.left) / scale.value))
  const media = event.dataTransfer?.getData('application/x-idle-comet-media')
  if (media) {
    const [id, first, last] = media.split(' ')
    edits.addPicture(newId(), frame, id, track, last ? { first: Number(first), last: Number(last) } : {})
  } else if (event.dataTransfer?.files.length) void upload.putAt([...event.dataTransfer.files], frame, track)
}

function growLanes(press: PointerEvent) {
  const from = laneHeight.value
  followDrag(press, ({ dy }) => { wanted.value = Math.min(240, Math.max(30, Math.round(from + dy))) })
}

function laneName(clip: Clip, curve: Curve): string {
  const kind = desk.kindOf(clip.steps.find((step) => step.id === curve.step.split('/')[0])?.kind ?? '')
  const parameter = parameterOf(clip, curve)
  if (!parameter) return curve.name
  if (curve.step.includes('/')) return `Mask: ${inText(parameter.label)}`
  // Two steps may move a value of the same name: then the step says which.
  const twice = (project.courses[clip.id]?.curves ?? []).some((other) => other.name === curve.name && other.step !== curve.step)
  const label = twice && kind ? kind.label : parameter.label
  const unit = curve.sort === 'framing' ? '%' : parameter.unit
  return curve.sort === 'colour' || !unit ? label : `${label}, ${unit}${desk.speeds ? '/s' : ''}`
}
</script>

<template>
  <section ref="scroller" class="timeline" aria-label="Timeline" @wheel="wheel" @pointermove="point" @pointerleave="view.pointer.frame = null">
    <div class="inner" :style="{ width: `${inner + HEADER}px` }">
      <div class="ruler">
        <div class="corner" :style="{ width: `${HEADER}px` }">
          <button class="act" title="A new title over the playhead (T)" data-test="add-title" @click="addTitle">+ title</button>
          <button class="act" title="A new track on top" data-test="add-track" @click="edits.addTrack(0)">+ track</button>
        </div>
        <TimelineRuler :sight="sight" />
      </div>
      <div class="playhead line" :style="{ left: `${HEADER + x(desk.frame)}px` }" />
      <div class="playhead" :class="{ low: project.marks.markers.length }" :style="{ left: `${HEADER + x(desk.frame)}px` }">
        <span class="numbers flag" :style="{ transform: `translateX(max(-50%, ${-x(desk.frame)}px))` }">{{ shortTimecode(desk.frame, project.numbering) }}</span>
      </div>
      <div v-for="meeting in meets" :key="meeting.frame" class="meeting" :style="{ left: `${HEADER + x(meeting.frame)}px` }" data-test="meeting"><span>{{ meeting.what }}</span></div>
      <div v-if="marquee" class="marquee" :style="{ left: `${marquee.left}px`, top: `${marquee.top}px`, width: `${marquee.width}px`, height: `${marquee.height}px` }" />
      <div class="rows">
      <div v-for="veil in veils" :key="veil.id" class="veil" :class="{ chosen: veil.chosen }" :style="{ left: `${veil.left}px`, width: `${veil.width}px`, top: `${veil.top}px`, height: `${veil.height}px` }" />
      <template v-for="row in rows" :key="row.track.id">
        <div class="track" :data-track="row.track.id" :class="{ hidden: row.track.hidden, locked: row.track.locked, inside: row.depth > 0 }" :style="{ height: `${row.height}px` }">
          <TrackHeader :track="row.track" :depth="row.depth" :height="row.height" :squeezed="row.squeezed" />
          <div class="lane" :style="{ width: `${inner}px` }" @pointerdown.self="ground" @dragover.prevent @drop.prevent="drop($event, row.track.id)">
            <button v-for="crowd in row.crowds" :key="crowd.first" class="crowd" :style="{ left: `${x(crowd.first)}px`, width: `${Math.max(1, x(crowd.last) - x(crowd.first))}px`, height: `${row.height - 8}px` }" :title="`${crowd.count} clips; click to look closer`" :aria-label="`${crowd.count} clips`" @click="closer($event, crowd)" @pointerdown.stop />
            <TimelineClip v-for="{ clip, before } in row.clips" :key="clip.id" :clip="clip" :before="before" :begin="x(clip.head)" :scale="scale * project.pace(clip)" :height="row.height" :squeezed="row.squeezed" />
          </div>
        </div>
        <div v-for="{ clip, curve, folded } in row.lanes" :key="clip.id + curve.step + curve.name" class="track motion" :class="{ folded }" data-test="lane" :style="{ height: `${laneTall({ curve, folded })}px` }">
          <div class="header muted" :style="{ width: `${HEADER}px` }">
            <button v-if="folded" class="unfold" :title="`Open ${laneName(clip, curve)}`" @click="desk.openRow = curve.step">{{ laneName(clip, curve) }}</button>
            <span v-else :title="`${laneName(clip, curve)} of “${clip.name}”`">{{ laneName(clip, curve) }}</span>
            <i v-if="!desk.openSpan && !folded" class="foot" title="Drag the lanes taller" @pointerdown="growLanes" />
            <button v-if="curve.sort !== 'colour' && !folded" class="act" :title="desk.speeds ? 'Show the value (V)' : 'Show the speed (V)'" @click="desk.speeds = !desk.speeds">{{ desk.speeds ? 'speed' : 'value' }}</button>
          </div>
          <MotionLane :clip="clip" :curve="curve" :width="inner" :begin="x(clip.head)" :scale="scale * project.pace(clip)" :height="laneTall({ curve, folded })" />
        </div>
        <div v-for="{ clip, measure } in row.measures" :key="clip.id + measure.name" class="track motion" data-test="measure" :style="{ height: `${MEASURED}px` }">
          <div class="header muted" :style="{ width: `${HEADER}px` }"><span :title="measure.says">{{ measure.name }}</span></div>
          <MeasureLane :clip="clip" :measure="measure" :width="inner" :begin="x(clip.head)" :scale="scale * project.pace(clip)" :height="MEASURED" />
        </div>
      </template>
      </div>
      <p v-if="!project.clips.length" class="hint muted" :style="{ marginLeft: `${HEADER + 14}px` }">Drop shots, stills or numbered pictures here. The first shot gives the film its size and rate.</p>
      <p v-if="project.hint || project.misfits.length" class="hint muted" role="status">
        <template v-if="project.hint">{{ project.hint }}</template>
        <button v-else data-test="misfits" @click="desk.pick(project.misfits)">
          {{ project.misfits.length === 1 ? '1 clip no longer fits the shot it is attached to' : `${project.misfits.length} clips no longer fit the shots they ride with` }}: {{ project.misfits.slice(0, 3).map((id) => project.project!.clips[id]?.name).join(', ') }}
        </button>
      </p>
    </div>
  </section>
</template>

<style scoped>
.timeline { height: 100%; overflow: auto; background: var(--soot); position: relative; }
.inner { position: relative; min-height: 100%; }
.ruler { display: flex; align-items: flex-end; min-height: 26px; position: sticky; top: 0; z-index: 4; background: var(--soot); border-bottom: 1px solid var(--line); }
.corner { flex: none; position: sticky; left: 0; z-index: 5; background: var(--soot); padding: 4px 6px 4px 14px; font-size: 12.5px; display: flex; gap: 4px; white-space: nowrap; }
.track { display: flex; border-bottom: 1px solid var(--row); position: relative; }
.track.inside .lane { background: var(--panel); box-shadow: inset 0 1px 0 var(--line); }
.track.hidden .lane { opacity: 0.35; }
.track.locked .lane { background: repeating-linear-gradient(135deg, transparent 0 6px, var(--row) 6px 7px); }
.header { flex: none; position: sticky; left: 0; z-index: 3; background: var(--soot); padding: 0 6px 0 14px; font-size: 12.5px; display: flex; align-items: center; justify-content: space-between; gap: 4px; }
.header span { overflow: hidden; display: -webkit-box; -webkit-box-orient: vertical; -webkit-line-clamp: 2; line-height: 14px; }
.header .act { opacity: 0; position: absolute; right: 6px; bottom: 3px; }
.unfold { flex: 1; text-align: left; font-size: 12.5px; line-height: 16px; color: var(--muted); white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.unfold:hover { color: var(--bone); }
.motion:hover .header .act, .header .act:focus-visible { opacity: 1; }
.lane { position: relative; height: 100%; touch-action: none; }
.motion { border-bottom: 0; }
.foot { position: absolute; left: 0; right: 0; bottom: -2px; height: 5px; cursor: row-resize; touch-action: none; }
.playhead { position: absolute; top: 0; bottom: 0; width: 1px; z-index: 5; pointer-events: none; }
/* Names stand over the line, its flag over the ruler. */
.playhead.line { background: var(--now); z-index: 1; }
.low .flag { top: 18px; margin-top: 14px; }
.flag { position: sticky; top: 4px; display: inline-block; background: var(--now); color: var(--on-now); padding: 1px 7px; font-size: 12.5px; line-height: 16px; font-weight: 500; }
.meeting { position: absolute; top: 26px; bottom: 0; border-left: 1px dashed var(--bone); z-index: 4; pointer-events: none; }
.meeting span { position: absolute; left: 4px; top: 2px; background: var(--soot); font-size: 12.5px; padding: 0 4px; white-space: nowrap; }
.rows { position: relative; }
.veil { position: absolute; z-index: 1; pointer-events: none; background: color-mix(in srgb, var(--bone) 5%, transparent); border: solid var(--line); border-width: 0 1px; }
.veil.chosen { background: color-mix(in srgb, var(--bone) 9%, transparent); border-color: var(--mark); }
.marquee { position: absolute; border: 1px dashed var(--bone); z-index: 6; pointer-events: none; }
.hint { position: sticky; left: 14px; margin: 8px 14px; font-size: 12.5px; width: max-content; max-width: 1000px; }
.crowd { position: absolute; top: 4px; padding: 0; border: 0; background: var(--raised); border-block: 1px solid var(--line); cursor: zoom-in; }
</style>
