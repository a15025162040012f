<script setup lang="ts">
/** The timeline: ruler, tracks, clips drawn as what they do, lanes of what moves under the selected clip. */
import { useElementSize, useScroll } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Clip, Curve } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { newId, useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'
import { shortTimecode } from '../use/timecode'
import { useUpload } from '../use/upload'
import MotionLane from './MotionLane.vue'
import TimelineClip from './TimelineClip.vue'

const HEADER = 104
const project = useProject()
const desk = useDesk()
const edits = useEdits()
const upload = useUpload()
const scroller = ref<HTMLElement | null>(null)
const { width } = useElementSize(scroller)
const { x: scrolled } = useScroll(scroller)

/** Px per frame; null fits the whole film. */
const zoom = ref<number | null>(null)
const fitting = computed(() => Math.max(0.02, (width.value - HEADER - 36) / Math.max(1, project.length)))
const scale = computed(() => zoom.value ?? fitting.value)
const inner = computed(() => Math.max(width.value - HEADER, project.length * scale.value + 36))
const x = (frame: number) => frame * scale.value

/** First and last frame in sight, with half a screen to either side. */
const sight = computed(() => [(scrolled.value - width.value / 2) / scale.value, (scrolled.value + width.value * 1.5) / scale.value])
const byTrack = computed(() => {
  const found = new Map<string, Clip[]>()
  for (const clip of project.clips) {
    const own = found.get(clip.track)
    if (own) own.push(clip)
    else found.set(clip.track, [clip])
  }
  return found
})

const rows = computed(() => project.project!.tracks.map((track) => {
  const own = byTrack.value.get(track.id) ?? []
  const clips = own.filter((clip) => clip.head < sight.value[1] && clip.head + clip.length > sight.value[0])
  const lanes: Curve[] = own.some((clip) => clip.id === desk.selected) ? desk.drawing?.curves ?? [] : []
  const height = own.some((clip) => clip.content.kind === 'footage') ? 56 : 46
  return { track, clips, lanes, height }
}))

watch(() => rows.value.flatMap((row) => row.clips), (clips) => { void project.need(clips.map((clip) => clip.id)) }, { immediate: true })

const ticks = computed(() => {
  const { num, den } = project.settings!.rate
  const base = Math.ceil(num / den)
  const steps = [1, 5, base, base * 5, base * 10, base * 30, base * 60, base * 300]
  const large = steps.find((step) => step * scale.value >= 64) ?? base * 600
  const small = [...steps].reverse().find((step) => step < large && large % step === 0 && step * scale.value >= 6) ?? large
  const out: { frame: number; label: string | null }[] = []
  const last = Math.min(inner.value / scale.value, sight.value[1])
  for (let frame = Math.max(0, Math.floor(sight.value[0] / large) * large); frame <= last; frame += small) out.push({ frame, label: frame % large === 0 ? shortTimecode(frame, project.settings!.rate) : null })
  return out
})

function scrub(press: PointerEvent) {
  const box = (press.currentTarget as Element).getBoundingClientRect()
  const at = (event: PointerEvent) => (event.clientX - box.left) / scale.value
  desk.goTo(Math.floor(at(press)))
  followDrag(press, ({ event }) => desk.goTo(Math.floor(at(event))))
}

/** Ctrl and the wheel zoom with the pointer's frame kept in place. */
function wheel(event: WheelEvent) {
  const box = scroller.value!
  if (!event.ctrlKey) return
  event.preventDefault()
  const from = event.clientX - box.getBoundingClientRect().left - HEADER
  const frame = (from + box.scrollLeft) / scale.value
  const next = Math.min(24, Math.max(fitting.value, scale.value * Math.exp(-event.deltaY / 240)))
  zoom.value = next <= fitting.value ? null : next
  requestAnimationFrame(() => { box.scrollLeft = frame * next - from })
}

watch(() => desk.frame, (frame) => {
  const box = scroller.value
  if (!box || !desk.playing || zoom.value === null) return
  const left = x(frame) - box.scrollLeft
  if (left < 0 || left > box.clientWidth - HEADER - 40) box.scrollLeft = x(frame) - 60
})

function addTitle() {
  const id = newId()
  edits.addTitle(id)
  const stop = watch(() => project.project?.clips[id], (clip) => {
    if (!clip) return
    stop()
    desk.select(id)
    desk.typing = true
  })
}

/** Media dragged from the tray lies where it is dropped; files from outside are added first. */
function drop(event: DragEvent, track: string) {
  const box = (event.currentTarget as Element).getBoundingClientRect()
  const frame = Math.max(0, Math.floor((event.clientX - box.left) / scale.value))
  const media = event.dataTransfer?.getData('application/x-idle-comet-media')
  if (media) edits.addPicture(newId(), frame, media, track)
  else if (event.dataTransfer?.files.length) void upload.add([...event.dataTransfer.files])
}

function laneName(curve: Curve): string {
  const steps = desk.clip?.steps ?? []
  const kind = desk.kindOf(steps.find((step) => step.id === curve.step)?.kind ?? '')
  const parameter = (kind?.parameters ?? desk.catalogue!.content.text).find((each) => each.name === curve.name)
  return parameter ? `${parameter.label}, ${parameter.unit}` : curve.name
}
</script>

<template>
  <section ref="scroller" class="timeline" aria-label="Timeline" @wheel="wheel">
    <div class="inner" :style="{ width: `${inner + HEADER}px` }">
      <div class="ruler">
        <div class="corner">
          <button class="muted" title="A new title over the playhead" data-test="add-title" @click="addTitle">add title</button>
          <button v-if="zoom !== null" class="muted" @click="zoom = null">fit all</button>
        </div>
        <svg :width="inner" height="26" data-test="ruler" @pointerdown="scrub">
          <g v-for="tick in ticks" :key="tick.frame">
            <path :d="`M${x(tick.frame) + 0.5} ${tick.label ? 13 : 20}V26`" stroke="var(--faint)" />
            <text v-if="tick.label" :x="x(tick.frame) + 5" y="17" class="numbers">{{ tick.label }}</text>
          </g>
        </svg>
      </div>
      <div class="playhead" :style="{ left: `${HEADER + x(desk.frame)}px` }">
        <span class="numbers flag">{{ shortTimecode(desk.frame, project.settings!.rate) }}</span>
      </div>
      <template v-for="row in rows" :key="row.track.id">
        <div class="track" :style="{ height: `${row.height}px` }">
          <div class="header muted">{{ row.track.name }}</div>
          <div class="lane" :style="{ width: `${inner}px` }" @pointerdown.self="desk.select(null)" @dragover.prevent @drop.prevent="drop($event, row.track.id)">
            <TimelineClip v-for="clip in row.clips" :key="clip.id" :clip="clip" :scale="scale" :height="row.height" />
          </div>
        </div>
        <div v-for="curve in row.lanes" :key="curve.step + curve.name" class="track motion">
          <div class="header muted">{{ laneName(curve) }}</div>
          <MotionLane v-if="desk.clip" :clip="desk.clip" :curve="curve" :width="inner" :scale="scale" />
        </div>
      </template>
    </div>
  </section>
</template>

<style scoped>
.timeline { height: 100%; overflow: auto; background: var(--soot); position: relative; }
.inner { position: relative; min-height: 100%; }
.ruler { display: flex; height: 26px; position: sticky; top: 0; z-index: 4; background: var(--soot); border-bottom: 1px solid var(--line); }
.corner { width: 104px; flex: none; position: sticky; left: 0; z-index: 2; background: var(--soot); padding: 4px 14px; font-size: 12px; display: flex; gap: 12px; }
.corner button:hover { color: var(--bone); }
.ruler svg { cursor: pointer; touch-action: none; display: block; }
.ruler text { fill: var(--muted); font-size: 12px; }
.track { display: flex; border-bottom: 1px solid var(--row); position: relative; }
.header { width: 104px; flex: none; position: sticky; left: 0; z-index: 3; background: var(--soot); padding: 0 8px 0 14px; font-size: 12px; display: flex; align-items: center; }
.lane { position: relative; height: 100%; }
.motion { height: 38px; border-bottom: 0; }
.playhead { position: absolute; top: 0; bottom: 0; width: 1px; background: var(--now); z-index: 5; pointer-events: none; }
.flag { position: sticky; top: 4px; display: inline-block; transform: translateX(-50%); background: var(--now); color: var(--on-now); padding: 1px 7px; font-size: 12px; line-height: 16px; font-weight: 500; }
</style>
