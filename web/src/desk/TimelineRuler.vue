<script setup lang="ts">
/** Time: ticks, the range in bone along its foot, markers as named ticks. Drag to scrub, drag a marker to move it. */
import { computed, nextTick, ref } from 'vue'
import type { Marker } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'
import { frameOfSecond, shortTimecode } from '../use/timecode'
import { useView } from '../use/view'

const props = defineProps<{ sight: [number, number] }>()
const project = useProject()
const desk = useDesk()
const edits = useEdits()
const view = useView()
const naming = ref<string | null>(null)
const field = ref<HTMLInputElement[]>([])

const x = (frame: number) => frame * view.scale.value
/** Half the width of the playhead's flag, and the room a number takes. */
const FLAG = 28
const NUMBER = 50
/** Numbers give way to the playhead's flag. */
function clear(frame: number) {
  const from = x(frame) + 5 - Math.max(x(desk.frame), FLAG)
  return from > FLAG || from + NUMBER < -FLAG
}
const ticks = computed(() => {
  const { numbering } = project
  const { base } = numbering
  const scale = view.scale.value
  const steps = [1, 5, base, base * 5, base * 10, base * 30, base * 60, base * 300, base * 600]
  const large = steps.find((step) => step * scale >= 64) ?? base * 3600
  const small = [...steps].reverse().find((step) => step < large && large % step === 0 && step * scale >= 6) ?? large
  const out: { frame: number; label: string | null }[] = []
  const last = Math.min(view.inner.value / scale, props.sight[1])
  const labelled = (second: number, number: number) => (large >= base ? !number && second % (large / base) === 0 : number % large === 0)
  const every = Math.max(1, small / base)
  for (let second = Math.max(0, Math.floor(props.sight[0] / base / every) * every); frameOfSecond(second, numbering) <= last; second += every) {
    const first = frameOfSecond(second, numbering)
    // A minute whose first numbers are left out begins with a later one.
    const missing = base - (frameOfSecond(second + 1, numbering) - first)
    for (let number = 0; number < base; number += small) {
      if (number && number <= missing) continue
      const frame = first + Math.max(0, number - missing)
      out.push({ frame, label: labelled(second, number) ? shortTimecode(frame, numbering) : null })
    }
  }
  return out
})
const markers = computed(() => project.marks.markers.filter((each) => each.frame >= props.sight[0] && each.frame <= props.sight[1]))
/** Markers have a strip of their own above the ticks, when there are any. */
const strip = computed(() => (project.marks.markers.length ? 14 : 0))
const range = computed(() => {
  const { first, last } = project.range
  if (first == null && last == null) return null
  return [x(first ?? 0), x((last ?? project.length - 1) + 1)]
})

/** What lies ready to be played. */
const cached = computed(() => (desk.cached.revision !== project.revision ? '' : desk.cached.spans.map(([first, last]) => `M${x(first)} 1H${x(last + 1)}`).join('')))

function scrub(press: PointerEvent) {
  const box = (press.currentTarget as Element).getBoundingClientRect()
  const at = (event: PointerEvent) => (event.clientX - box.left) / view.scale.value
  desk.goTo(Math.floor(at(press)))
  followDrag(press, ({ event }) => desk.goTo(Math.floor(at(event))))
}

function dragMarker(press: PointerEvent, marker: Marker) {
  followDrag(press, ({ dx, gesture }) => edits.marker(marker.id, Math.max(0, Math.round(marker.frame + dx / view.scale.value)), undefined, gesture, view.scale.value),
    (moved) => { if (!moved) desk.goTo(marker.frame) })
}

async function name(marker: Marker) {
  naming.value = marker.id
  await nextTick()
  field.value[0]?.select()
}

function named(marker: Marker, keep: boolean) {
  const typed = field.value[0]?.value ?? ''
  if (naming.value === marker.id && keep && typed !== marker.name) edits.marker(marker.id, marker.frame, typed)
  naming.value = null
}

function dragEnd(press: PointerEvent, end: 'first' | 'last') {
  const from = end === 'first' ? project.range.first ?? 0 : project.range.last ?? project.length - 1
  const { first, last } = project.range
  followDrag(press, ({ dx, gesture }) => {
    const frame = Math.max(0, Math.round(from + dx / view.scale.value))
    if (end === 'first') edits.range(Math.min(frame, last ?? frame), last ?? null, gesture)
    else edits.range(first ?? null, Math.max(frame, first ?? frame), gesture)
  })
}
</script>

<template>
  <div class="marks">
    <svg :width="view.inner.value" :height="26 + strip" :viewBox="`0 ${-strip} ${view.inner.value} ${26 + strip}`" data-test="ruler" @pointerdown="scrub">
      <g v-for="tick in ticks" :key="tick.frame">
        <path :d="`M${x(tick.frame) + 0.5} ${tick.label ? 13 : 20}V26`" stroke="var(--faint)" />
        <text v-if="tick.label && clear(tick.frame)" :x="x(tick.frame) + 5" y="17" class="numbers">{{ tick.label }}</text>
      </g>
      <path v-if="cached" class="cached" :d="cached" data-test="cached" :data-frames="desk.cached.spans.map(([first, last]) => `${first}–${last}`).join(' ')"><title>These frames lie ready to be played</title></path>
      <g v-if="range" class="range" data-test="range">
        <path :d="`M${range[0]} 24.500H${range[1]}`" stroke-width="3" />
        <path v-for="(edge, i) in range" :key="i" class="end" :d="`M${edge} 15V26`" stroke-width="2" @pointerdown.stop="dragEnd($event, i ? 'last' : 'first')" />
      </g>
      <g v-for="marker in markers" :key="marker.id" class="marker" :data-marker="marker.id" @pointerdown.stop="dragMarker($event, marker)" @dblclick.stop="name(marker)">
        <rect :x="x(marker.frame) - 5" :y="-strip" :width="Math.max(12, 8 + marker.name.length * 7)" :height="strip + 4" />
        <path :d="`M${x(marker.frame) + 0.5} ${-strip}V26`" />
        <text :x="x(marker.frame) + 4" :y="10 - strip">{{ marker.name }}</text>
        <title>{{ marker.name || 'Marker' }}: drag to move, double-click to name</title>
      </g>
    </svg>
    <template v-for="marker in markers" :key="marker.id">
      <input
        v-if="naming === marker.id" ref="field" class="name" :style="{ left: `${x(marker.frame) + 3}px` }" :value="marker.name" aria-label="Name of the marker"
        @blur="named(marker, true)" @keydown.enter="named(marker, true)" @keydown.esc.stop="named(marker, false)"
      />
    </template>
  </div>
</template>

<style scoped>
.marks { position: relative; }
svg { cursor: pointer; touch-action: none; display: block; }
text { fill: var(--muted); font-size: 12.5px; }
.cached { stroke: var(--faint); stroke-width: 2; }
.range path { stroke: var(--bone); opacity: 0.8; }
.range .end { cursor: ew-resize; }
.marker { cursor: grab; }
.marker rect { fill: transparent; }
.marker path { stroke: var(--bone); stroke-dasharray: 2 2; }
.marker text { fill: var(--bone); font-size: 12.5px; }
.name { position: absolute; top: 0; width: 120px; height: 16px; background: var(--raised); border: 1px solid var(--line); font-size: 12.5px; padding: 0 3px; z-index: 2; }
</style>
