<script setup lang="ts">
/**
 * A clip as what it does: words by their presence, with knees to drag; footage as a film strip.
 * The outer 8 px of each end trim (with Ctrl the rest moves along), the middle moves; Ctrl-drag slips footage.
 */
import { computed } from 'vue'
import type { Clip } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { isRail, isSeen } from '../use/kinds'
import { byArrows } from '../use/arrows'
import { useEdits } from '../use/edits'
import { saidSpeed, speedOf } from '../use/speed'
import { followDrag } from '../use/gesture'
import { brackets } from '../use/brackets'
import { canOpen } from '../use/opened'
import { holdClips } from '../use/meets'
import FadeGrips from './FadeGrips.vue'
import JoinMark from './JoinMark.vue'
import MoveMark from './MoveMark.vue'
import Waveform from './Waveform.vue'

const props = defineProps<{ clip: Clip; before?: Clip; begin: number; scale: number; height: number; squeezed: boolean }>()
const project = useProject()
const desk = useDesk()
const edits = useEdits()

const course = computed(() => project.courses[props.clip.id])
const chosen = computed(() => desk.picked.includes(props.clip.id))
const width = computed(() => props.clip.length * props.scale)
const inner = computed(() => props.height - (props.squeezed ? 4 : 8))
/** Of several in hand, the one whose steps are shown. */
const lead = computed(() => desk.picked.length > 1 && desk.selected === props.clip.id)
/** Whether it has a sound to be drawn. */
const sounding = computed(() => {
  const { content } = props.clip
  return (content.kind === 'sound' || content.kind === 'footage') && Boolean(project.project!.media[content.media]?.sound) && (content.speed.state === 'moving' || speedOf(content) > 0)
})
const isText = computed(() => props.clip.content.kind === 'text')

const x = (frame: number) => (frame + 0.5) * props.scale
/** Names have a band of their own above the curve, where a clip is tall enough for both. */
const band = computed(() => (props.squeezed || inner.value < 30 ? 0 : 15))
const y = (share: number) => inner.value - 1.5 - share * (inner.value - 4 - band.value)
const top = computed(() => {
  const all = course.value?.presence ?? []
  if (!all.length) return ''
  // A point every two px is as many as can be seen.
  const stride = Math.max(1, Math.floor(all.length / Math.max(10, width.value / 2)))
  const points = stride === 1 ? all : all.filter((_, i) => i % stride === 0 || i === all.length - 1)
  const body = points.map(([frame, share]) => `L${x(frame).toFixed(1)} ${y(share).toFixed(1)}`).join('')
  const [first, last] = [points[0][1], points.at(-1)![1]]
  return `M0 ${y(first)}${body}L${width.value} ${y(last)}`
})
const body = computed(() => `${top.value}V${inner.value}H0Z`)

/** Knees stand where the arrival ends and the departure begins; too near an end they get grips above the clip. An end that was cut has none. */
const knees = computed(() => {
  const { arrival, departure } = course.value!
  const last = props.clip.length - 1
  const both = [
    { which: 'arrival' as const, at: x(arrival.frames), near: arrival.frames * props.scale < 12, cut: props.clip.skipped > 0 },
    { which: 'departure' as const, at: x(last - departure.frames), near: departure.frames * props.scale < 12, cut: props.clip.cut_off > 0 },
  ]
  return both.filter((each) => !each.cut)
})

const wordsAt = computed(() => Math.min(x(course.value?.words_at ?? 0), Math.max(12, width.value - 120)))
/** Where units arrive one after the other, each one's words stand at its onset, as far as they have room. */
const onsets = computed(() => {
  const all = course.value?.onsets ?? []
  if (all.length < 2 || all.some(([, word]) => word.length < 2 && all.length > 12)) return []
  const places = all.map(([frame, word]) => ({ at: x(frame), word }))
  const roomy = places.every((each, i) => i === places.length - 1 || places[i + 1].at - each.at > each.word.length * 6.6 + 6 || places[i + 1].at === each.at)
  return roomy ? places : []
})
const ticks = computed(() => (course.value?.onsets ?? []).map(([frame]) => x(frame)))
const speed = computed(() => {
  const content = props.clip.content
  const says = content.kind === 'footage' ? saidSpeed(content) : ''
  return says && `, ${says}`
})
/** Px at a shot's ends over which it and its neighbour overlap: its name keeps off them. */
const overlaps = computed(() => {
  const mine = props.clip
  const left = props.before && Math.abs(project.endOf(props.before) - mine.head) < 1e-6 ? props.before : undefined
  const before = left ? project.courses[left.id]?.joins.find((join) => join.between) : undefined
  const own = course.value?.joins ?? []
  const ends = own.find((join) => join.end === 'closing')
  const begins = own.find((join) => join.end === 'opening')
  return {
    left: Math.max(before ? before.first + before.length - left!.length : 0, begins ? begins.first + begins.length : 0) * props.scale,
    right: ends ? (mine.length - ends.first) * props.scale : 0,
  }
})
const says = computed(() => `${props.clip.name}${speed.value}${props.clip.seen === 'hidden' ? ', hidden' : props.clip.seen === 'alone' ? ', solo' : ''}`)

/** One and two, drawn: they are marks, not words. */
const NUMBERS = ['M-2 -2.500L0.500 -4.500V4.500', 'M-2.500 -2.500C-2 -5.500 3 -5.200 2.500 -2C2 0.500 -1 2 -2.700 4.300H2.800']
/** A move's first and last framing: the picture small, and on it what the frame shows, numbered as in the Preview. */
const framings = computed(() => {
  const content = props.clip.content
  const high = Math.min(18, inner.value - 22)
  const media = content.kind === 'footage' || content.kind === 'still' || content.kind === 'model' ? project.project!.media[content.media] : null
  if (!media || high < 10 || width.value < 120) return []
  const wide = (high * media.width) / media.height
  return (course.value?.framings ?? []).map((corners, i) => ({
    left: i ? width.value - wide - 11 - overlaps.value.right : 11 + overlaps.value.left, top: inner.value - high - 3, wide, high,
    path: brackets(corners.map(([across, down]) => [across * wide, down * high]), 5),
  }))
})

/** A move's framings over the clip, where there is more than one. */
const moved = computed(() => (course.value?.curves ?? []).find((curve) => curve.sort === 'framing' && curve.keys.length > 1) ?? null)

/** The film strip: one picture of so many moments side by side, made anew only when the clip's own picture changes. */
const strip = computed(() => {
  if (isText.value || (props.clip.content.kind === 'treatment' || !isSeen(props.clip)) || width.value < 16) return null
  const { width: w, height: h } = project.settings!
  const tile = Math.max(24, (inner.value * w) / h)
  const tiles = Math.min(60, Math.max(1, Math.round(width.value / tile)))
  const made = [Math.min(4096, Math.round(width.value)), Math.round(inner.value)]
  return { tiles, src: `/api/projects/${project.id}/clips/${props.clip.id}/strip?tiles=${tiles}&width=${made[0]}&height=${Math.max(16, made[1])}&of=${stamp.value}` }
})
const stamp = computed(() => {
  const { content, steps, length } = props.clip
  let sum = 0
  for (const letter of JSON.stringify([content, steps, length])) sum = (sum * 31 + letter.charCodeAt(0)) | 0
  return sum >>> 0
})

/** A press takes the clip in hand; Shift adds it or lets it go. */
function take(press: PointerEvent): boolean {
  if (press.shiftKey) {
    desk.toggle(props.clip.id)
    return false
  }
  if (!chosen.value) desk.select(props.clip.id)
  else if (desk.selected !== props.clip.id) desk.pick([...desk.picked.filter((id) => id !== props.clip.id), props.clip.id])
  return true
}

function move(press: PointerEvent) {
  if (press.ctrlKey) return slip(press)
  if (!take(press)) return
  const hand = desk.clips.map((clip) => ({ id: clip.id, head: clip.head, track: clip.track }))
  const least = Math.min(...hand.map((each) => each.head))
  const rows = [...document.querySelectorAll<HTMLElement>('[data-track]')].map((row) => ({ id: row.dataset.track!, box: row.getBoundingClientRect() }))
  const from = rows.findIndex((row) => row.id === props.clip.track)
  followDrag(press, ({ dx, event, gesture }) => {
    const by = Math.max(-least, Math.round(dx / props.scale) * project.pace(props.clip))
    const over = rows.findIndex((row) => event.clientY >= row.box.top && event.clientY < row.box.bottom)
    const down = over < 0 ? 0 : over - from
    const tracks: Record<string, string> = {}
    for (const each of hand) {
      const place = rows.findIndex((row) => row.id === each.track) + down
      tracks[each.id] = (rows[place] ?? rows[rows.findIndex((row) => row.id === each.track)]).id
    }
    edits.move(Object.fromEntries(hand.map((each) => [each.id, each.head + by])), tracks, props.scale, gesture)
    holdClips(hand.map((each) => each.id))
  }, (moved) => {
    holdClips([])
    project.hint = ''
    if (!moved && desk.picked.length > 1) desk.select(props.clip.id)
  })
}

/** A click with Ctrl adds to what is in hand or lets it go; a drag slips what a shot or a sound shows. */
function slip(press: PointerEvent) {
  const content = props.clip.content
  followDrag(press, ({ dx, gesture }) => {
    if (content.kind !== 'footage' && content.kind !== 'sound') return
    if (!chosen.value) desk.select(props.clip.id)
    edits.slip(props.clip.id, Math.max(0, Math.round(content.start - (dx / props.scale) * (speedOf(content) || 1))), gesture)
  }, (moved) => {
    project.hint = ''
    if (!moved) desk.toggle(props.clip.id)
  })
}

function trim(press: PointerEvent, end: 'head' | 'tail') {
  if (!take(press)) return
  // All clips in hand are trimmed by as much.
  const hand = desk.clips.map((clip) => ({ id: clip.id, head: clip.head, length: clip.length, pace: project.pace(clip) }))
  const ripple = press.ctrlKey
  followDrag(press, ({ dx, gesture }) => {
    const by = Math.round(dx / props.scale)
    edits.trim(hand.map(({ id, head, length, pace }) => {
      if (end === 'tail') return { id, head, length: Math.max(1, length + by) }
      const shift = Math.min(Math.max(by, -head / pace), length - 1)
      return { id, head: head + shift * pace, length: length - shift }
    }), props.scale, ripple, gesture)
    holdClips(hand.map((each) => each.id))
  }, () => {
    holdClips([])
    project.hint = ''
  })
}

/** An end or a knee by the arrow keys: a frame a press, ten with Shift, as one act. */
const stood = { head: 0, length: 0, frames: 0 }
function trimBy(event: KeyboardEvent, end: 'head' | 'tail') {
  byArrows(event, (x, _y, gesture, begins) => {
    const { id, head, length } = props.clip
    if (begins) Object.assign(stood, { head, length })
    const pace = project.pace(props.clip)
    const shift = Math.min(Math.max(x, -stood.head / pace), stood.length - 1)
    const clip = end === 'tail' ? { id, head: stood.head, length: Math.max(1, stood.length + x) } : { id, head: stood.head + shift * pace, length: stood.length - shift }
    // By keys an end goes where it is sent: nothing draws it.
    edits.trim([clip], Infinity, false, gesture)
  })
}
/** Frames of a span as the hand has it. */
const spanOf = (which: 'arrival' | 'departure') => project.locally('spans', [props.clip.id], project.drawn(props.clip.id))[which] ?? course.value![which].frames
function kneeBy(event: KeyboardEvent, which: 'arrival' | 'departure') {
  byArrows(event, (x, _y, gesture, begins) => {
    if (begins) stood.frames = spanOf(which)
    const room = props.clip.length - spanOf(which === 'arrival' ? 'departure' : 'arrival')
    edits.spans(props.clip.id, { [which]: Math.min(Math.max(stood.frames + (which === 'arrival' ? x : -x), 0), room) }, gesture)
  })
}

function knee(press: PointerEvent, which: 'arrival' | 'departure') {
  desk.select(props.clip.id)
  const from = spanOf(which)
  followDrag(press, ({ dx, gesture }) => {
    const by = Math.round(dx / props.scale) * (which === 'arrival' ? 1 : -1)
    const room = props.clip.length - spanOf(which === 'arrival' ? 'departure' : 'arrival')
    edits.spans(props.clip.id, { [which]: Math.min(Math.max(from + by, 0), room) }, gesture)
  })
}
</script>

<template>
  <div
    class="clip" :class="{ chosen, lead, words: isText, unseen: clip.seen === 'hidden', squeezed }" :style="{ left: `${begin}px`, width: `${width}px`, height: `${inner}px` }"
    role="group" :aria-label="clip.name" :data-clip="clip.id" @pointerdown="move" @dblclick.stop="canOpen(clip) && project.openGroup(clip.id)"
  >
    <div class="face" role="button" tabindex="0" :aria-label="`${clip.name}, ${clip.length} frames`" :aria-pressed="chosen" @focus="chosen || desk.select(clip.id)" />
    <template v-if="isText && course">
      <svg :width="width" :height="inner">
        <path :d="body" class="body" />
        <path :d="top" class="top" />
        <path v-if="!clip.skipped" :d="`M0.500 0.500H${Math.min(4, width)}M0.500 0V${inner}M0.500 ${inner - 0.5}H${Math.min(4, width)}`" class="bracket" />
        <path v-else :d="`M0.500 0V${inner}`" class="bracket cut" />
        <path v-if="!clip.cut_off" :d="`M${width - 0.5} 0.500H${width - Math.min(4, width)}M${width - 0.5} 0V${inner}M${width - 0.5} ${inner - 0.5}H${width - Math.min(4, width)}`" class="bracket" />
        <path v-else :d="`M${width - 0.5} 0V${inner}`" class="bracket cut" />
        <template v-if="!squeezed"><path v-for="each in knees" :key="each.which" class="knee" :d="`M${each.at - 5} ${y(1)}h10`" /></template>
      </svg>
      <svg v-if="!squeezed && ticks.length" :width="width" :height="inner" aria-hidden="true"><path v-for="(at, i) in ticks" :key="i" class="onset" :d="`M${at} ${inner}v-5`" /></svg>
      <template v-if="!squeezed && onsets.length">
        <span v-for="(each, i) in onsets" :key="i" class="says" :style="{ left: `${each.at}px` }">{{ each.word }}</span>
      </template>
      <span v-else-if="!squeezed" class="says" :style="{ left: `${wordsAt}px`, maxWidth: `${Math.max(0, width - wordsAt - 10)}px` }">{{ says }}</span>
    </template>
    <template v-else-if="isRail(clip)">
      <svg :width="width" :height="inner" class="rail"><path :d="`M0.500 0V${inner}M${width - 0.5} 0V${inner}`" class="bracket" /><path :d="`M0.500 ${inner - 4}H${width - 0.5}`" class="bar" /></svg>
      <span v-if="!squeezed" class="says">{{ says }}</span>
    </template>
    <template v-else>
      <i v-if="clip.content.kind === 'group'" class="stacked" aria-hidden="true" />
      <div class="strip">
        <img v-if="strip" :src="strip.src" alt="" draggable="false" />
        <i v-for="tile in (strip?.tiles ?? 1) - 1" :key="tile" :style="{ left: `${(tile * width) / strip!.tiles}px` }" />
      </div>
      <span v-if="!squeezed" class="says shot" :style="{ marginLeft: `${3 + overlaps.left}px`, maxWidth: `${Math.max(0, width - overlaps.left - overlaps.right - 8)}px` }">{{ says }}</span>
      <svg
        v-for="(each, i) in squeezed ? [] : framings" :key="i" class="framing" data-test="framing" aria-hidden="true" :width="each.wide" :height="each.high"
        :style="{ left: `${each.left}px`, top: `${each.top}px` }"
      ><rect width="100%" height="100%" /><path :d="each.path" /><path :d="NUMBERS[i]" :transform="`translate(${each.wide / 2} ${each.high / 2})`" /></svg>
      <svg :width="width" :height="inner" class="frame"><rect x="0.5" y="0.5" :width="Math.max(0, width - 1)" :height="inner - 1" /></svg>
    </template>
    <svg v-if="clip.rides && !squeezed" class="rides" width="10" :height="8" aria-hidden="true"><title>Attached to {{ project.project!.clips[clip.rides]?.name ?? 'a shot that is gone' }}</title><path d="M1 1V5H9M9 5L6.500 2.500M9 5L6.500 7.500" /></svg>
    <!-- Of the clip in hand alone: a film may have thousands. -->
    <div
      v-for="end in (['head', 'tail'] as const)" :key="end" class="trim" :class="end" :data-test="`trim-${end}`" role="slider" :tabindex="chosen ? 0 : -1" :aria-label="end === 'head' ? 'Head of the clip' : 'End of the clip'"
      :aria-valuenow="Math.round(end === 'head' ? clip.head : project.endOf(clip))" @pointerdown.stop="trim($event, end)" @keydown="trimBy($event, end)"
    />
    <template v-if="isText && course && !squeezed">
      <div
        v-for="each in knees" :key="each.which" class="grip" :class="{ near: each.near }" :style="{ left: `${each.at - 7}px` }"
        :title="`${each.which}: drag its length`" :data-test="`knee-${each.which}`" role="slider" :tabindex="chosen ? 0 : -1" :aria-label="`Length of the ${each.which}`"
        :aria-valuenow="course[each.which].frames" @pointerdown.stop="knee($event, each.which)" @keydown="kneeBy($event, each.which)"
      />
    </template>
    <Waveform v-if="sounding && !squeezed && width > 12" :clip="clip" :begin="begin" :width="width" :top="clip.content.kind === 'sound' ? band : inner - Math.min(16, inner / 3)" :height="clip.content.kind === 'sound' ? inner - band : Math.min(16, inner / 3)" />
    <FadeGrips v-if="chosen && clip.content.kind === 'sound' && !squeezed && width > 30" :clip="clip" :width="width" :scale="scale" :top="band" />
    <MoveMark v-if="chosen && moved && !squeezed" :clip="clip" :curve="moved" :scale="scale" :chosen="chosen" />
    <JoinMark v-for="join in squeezed ? [] : course?.joins ?? []" :key="join.end" :clip="clip" :join="join" :scale="scale" :height="inner" />
  </div>
</template>

<style scoped>
.clip { position: absolute; top: 4px; cursor: grab; touch-action: none; user-select: none; }
.clip.squeezed { top: 2px; }
.face { position: absolute; inset: 0; z-index: 1; }
.face:focus { outline-offset: 0; }
.clip svg { position: absolute; inset: 0; overflow: visible; }
.unseen { opacity: 0.4; }
.rail { background: color-mix(in srgb, var(--bone) 7%, transparent); }
.rail .bar { fill: none; stroke: var(--mark); stroke-width: 3; }
.chosen .rail .bar { stroke: var(--bone); stroke-width: 4; }
/* More than one clip lies here: two further edges behind the first. */
.stacked { position: absolute; inset: -3px -5px 3px 5px; border: 1px solid var(--mark); border-left: 0; border-bottom: 0; pointer-events: none; }
.stacked::after { content: ''; position: absolute; inset: 2px 2px -2px -2px; border: inherit; border-left: 0; border-bottom: 0; }
.chosen .stacked { border-color: var(--bone); }
.body { fill: var(--panel); }
.top { fill: none; stroke: var(--mark); stroke-width: 1; }
.bracket { fill: none; stroke: var(--mark); }
.bracket.cut { stroke-dasharray: 3 3; }
.onset { stroke: var(--muted); }
.knee { stroke: var(--muted); stroke-width: 3; }
.chosen .body { fill: var(--chosen); }
.chosen .top { stroke: var(--bone); stroke-width: 2; }
.chosen .bracket { stroke: var(--bone); stroke-width: 1.5; }
.chosen .knee { stroke: var(--bone); stroke-width: 4; }
.says { position: absolute; z-index: 2; top: 2px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; pointer-events: none; font-weight: 500; font-size: 12.5px; line-height: 14px; padding: 0 3px; background: var(--soot); }
/* A shot's name stays in sight while any of the shot is: beside the track's own. */
.says.shot { position: sticky; display: block; width: max-content; left: 135px; margin-top: 2px; color: #ece4d8; background: #171513cc; }
.lead .says { background: var(--bone); color: var(--soot); }
.strip { position: absolute; inset: 0; overflow: hidden; background: var(--panel); }
.strip img { position: absolute; inset: 0; width: 100%; height: 100%; pointer-events: none; }
.strip i { position: absolute; top: 0; bottom: 0; width: 1px; background: #0009; }
.clip .framing { inset: auto; position: absolute; pointer-events: none; }
.framing rect { fill: #171513aa; }
.framing path { fill: none; stroke: #ece4d8; stroke-width: 1.5; }
.frame rect { fill: none; stroke: var(--faint); }
.chosen .frame rect { stroke: var(--bone); stroke-width: 1.5; }
.clip .rides { inset: auto auto 3px 12px; fill: none; stroke: var(--bone); opacity: 0.8; }
.trim { position: absolute; z-index: 2; top: 0; bottom: 0; width: 8px; cursor: ew-resize; touch-action: none; }
.trim:focus-visible, .grip:focus-visible { outline: 2px solid var(--bone); outline-offset: -1px; }
.trim.head { left: 0; }
.trim.tail { right: 0; }
.grip { position: absolute; z-index: 2; top: -2px; width: 14px; height: 14px; cursor: col-resize; touch-action: none; }
.grip.near { top: -7px; height: 10px; }
.grip.near::after { content: ''; position: absolute; left: 5px; top: 1px; width: 3px; height: 8px; background: var(--muted); }
.grip:hover::before { content: ''; position: absolute; left: 0; right: 0; top: 4px; height: 3px; background: var(--bone); }
</style>
