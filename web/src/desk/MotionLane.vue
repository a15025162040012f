<script setup lang="ts">
/**
 * One property over the clip's own time, as value or as speed: the curve thickens at its keys, a tick stands on the
 * floor at each. Keys in hand show the handles of their ease.
 */
import { computed, ref } from 'vue'
import type { Clip, Curve, Ease } from '../api/client'
import { sameKey, useDesk, type ChosenKey } from '../stores/desk'
import { useProject } from '../stores/project'
import { keyOf, useParameters } from '../use/properties'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'

const props = defineProps<{ clip: Clip; curve: Curve; begin: number; scale: number; width: number; height: number }>()
const desk = useDesk()
const project = useProject()
const parameterOf = useParameters()
const edits = useEdits()

const refOf = (key: number): ChosenKey => ({ clip: props.clip.id, step: props.curve.step, name: props.curve.name, key })
const speeds = computed(() => desk.speeds && props.curve.sort !== 'colour')
const points = computed<[number, number][]>(() => (speeds.value ? props.curve.speeds : props.curve.points))
/** Kept while a key is dragged, so that the scale does not run away under the pointer. */
const still = ref<{ low: number; high: number } | null>(null)
/** Values the handles of keys in hand reach to: the lane makes room for them. */
const reaches = computed(() => {
  const { keys } = props.curve
  return keys.flatMap(([, value, id], i) => {
    const next = keys[i + 1]
    const ease = next && desk.keys.some((each) => sameKey(each, refOf(id))) ? keyOf(props.clip, refOf(id))?.ease : null
    return ease?.kind === 'free' ? [ease.y1, ease.y2].map((share) => value + (next[1] - value) * Math.min(3, Math.max(-2, share))) : []
  })
})
const range = computed(() => {
  if (still.value) return still.value
  const values = points.value.map((point) => point[1])
  if (speeds.value) values.push(0)
  else values.push(...reaches.value)
  return { low: Math.min(...values), high: Math.max(...values) }
})
const x = (frame: number) => props.begin + (frame + 0.5) * props.scale
const depth = computed(() => props.height - 14)
const y = (value: number) => props.height - 8 - ((value - range.value.low) / (range.value.high - range.value.low || 1)) * depth.value
const trace = (some: [number, number][]) => some.map(([frame, value], i) => `${i ? 'L' : 'M'}${x(frame).toFixed(2)} ${y(value).toFixed(2)}`).join('')
const path = computed(() => trace(points.value))
const colours = computed(() => props.curve.colours)

/** The value between two samples, for marks a few px long on either side of a key. */
function at(frame: number): number {
  const all = points.value
  let after = all.findIndex((point) => point[0] >= frame)
  if (after < 0) after = all.length - 1
  if (after <= 0) return all[0]?.[1] ?? 0
  const [f0, v0] = all[after - 1]
  const [f1, v1] = all[after]
  return v0 + ((v1 - v0) * (frame - f0)) / (f1 - f0 || 1)
}
/** Keys where the hand has them: what it has set and the curve does not show yet counts. */
const placed = computed(() => props.curve.keys.map(([frame, value, id]) => {
  const set = project.locally('key', [props.clip.id, props.curve.step, props.curve.name, id], project.drawn(props.clip.id))
  return { id, frame: set.frame ?? frame, value: typeof set.value === 'number' ? set.value : value }
}).sort((a, b) => a.frame - b.frame))
const marks = computed(() => placed.value.map(({ frame, value, id }) => {
  const reach = 7 / props.scale
  const last = props.clip.length - 1
  const from = Math.max(0, frame - reach)
  const to = Math.min(last, frame + reach)
  const drawn: [number, number][] = [0, 0.25, 0.5, 0.75, 1].map((share) => [from + (to - from) * share, at(from + (to - from) * share)])
  const chosen = desk.keys.some((each) => sameKey(each, refOf(id)))
  return { frame, value, id, chosen, path: points.value.length ? trace(drawn) : '' }
}))

/** The two handles of a Bézier ease from a key in hand to the next. */
const handles = computed(() => {
  if (speeds.value || props.curve.sort !== 'number') return []
  return marks.value.flatMap((mark, i) => {
    const next = marks.value[i + 1]
    const ease = mark.chosen ? keyOf(props.clip, refOf(mark.id))?.ease : null
    if (!next || !ease || (ease.kind !== 'strengths' && ease.kind !== 'free')) return []
    const [x1, y1, x2, y2] = ease.kind === 'free' ? [ease.x1, ease.y1, ease.x2, ease.y2] : [ease.start, 0, 1 - ease.end, 1]
    const to = (u: number, v: number): [number, number] => [x(mark.frame + (next.frame - mark.frame) * u), y(mark.value + (next.value - mark.value) * v)]
    return [
      { id: mark.id, ease, end: 0 as const, from: to(0, 0), at: to(x1, y1), width: (next.frame - mark.frame) * props.scale, rise: y(next.value) - y(mark.value) },
      { id: mark.id, ease, end: 1 as const, from: to(1, 1), at: to(x2, y2), width: (next.frame - mark.frame) * props.scale, rise: y(next.value) - y(mark.value) },
    ]
  })
})

/** Along the lane a handle sets the strength; with Shift, or on a free curve, it bends freely. */
function bend(press: PointerEvent, handle: (typeof handles.value)[number]) {
  const { ease, end, width, rise, id } = handle
  const [x1, y1, x2, y2] = ease.kind === 'free' ? [ease.x1, ease.y1, ease.x2, ease.y2] : [(ease as { start: number }).start, 0, 1 - (ease as { end: number }).end, 1]
  const clamp = (value: number) => Math.min(1, Math.max(0, value))
  const round = (value: number) => Math.round(value * 1000) / 1000
  still.value = range.value
  followDrag(press, ({ dx, dy, event, gesture }) => {
    const du = dx / width
    const dv = Math.abs(rise) > 2 ? dy / rise : 0
    const free = ease.kind === 'free' || event.shiftKey
    let next: Ease
    if (free) {
      next = end === 0 ? { kind: 'free', x1: round(clamp(x1 + du)), y1: round(y1 + dv), x2: round(x2), y2 } : { kind: 'free', x1: round(x1), y1, x2: round(clamp(x2 + du)), y2: round(y2 + dv) }
    } else next = { kind: 'strengths', start: round(end === 0 ? clamp(x1 + du) : x1), end: round(end === 1 ? clamp(1 - x2 - du) : 1 - x2) }
    edits.easeKeys([refOf(id)], next, gesture)
  }, () => { still.value = null })
}

/** The frame of its clip at which a key stands, as the hand has it. */
function frameOf(ref: ChosenKey): number | null {
  const curve = project.courses[ref.clip]?.curves.find((each) => each.step === ref.step && each.name === ref.name)
  const known = curve?.keys.find((each) => each[2] === ref.key)
  if (!known) return null
  return project.locally('key', [ref.clip, ref.step, ref.name, ref.key], project.drawn(ref.clip)).frame ?? Math.round(known[0])
}

/** A key follows the pointer in time and value; Shift keeps its value. Of several in hand all move in time. */
function drag(press: PointerEvent, mark: { frame: number; value: number; id: number; chosen: boolean }) {
  const { clip, scale } = props
  if (press.shiftKey) return desk.chooseKey(refOf(mark.id), true)
  if (!mark.chosen) desk.chooseKey(refOf(mark.id))
  const unit = (range.value.high - range.value.low || Math.abs(range.value.high) || 1) / depth.value
  const many = desk.keys.length > 1
  // Where each key in hand stood at the press: a drag is counted from there, whatever of it was refused meanwhile.
  const held = many ? desk.keys.flatMap((ref) => {
    const frame = frameOf(ref)
    return frame === null ? [] : [{ ...ref, frame }]
  }) : []
  still.value = range.value
  let moved = 0
  followDrag(press, ({ dx, dy, event, gesture }) => {
    if (many) {
      const by = Math.round(dx / scale)
      if (by !== moved) edits.placeKeys(held.map((ref) => ({ ...ref, frame: Math.max(0, ref.frame + by) })), gesture)
      moved = by
      return
    }
    const frame = Math.min(Math.max(Math.round(mark.frame + dx / scale), 0), clip.length - 1)
    const fixed = event.shiftKey || Math.abs(dy) < 4 || speeds.value || props.curve.sort !== 'number'
    edits.moveKey(refOf(mark.id), frame, fixed ? null : mark.value - dy * unit, gesture, Math.abs(dx) < 4 ? undefined : scale)
  }, (went) => {
    still.value = null
    if (!went) {
      if (many) desk.chooseKey(refOf(mark.id))
      desk.goIn(clip, Math.round(mark.frame))
    }
  })
}

/** Arrow keys move a key that has the focus: in time, and (up and down) in value. */
function nudge(event: KeyboardEvent, mark: { frame: number; value: number; id: number }) {
  const frames = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
  const up = { ArrowUp: 1, ArrowDown: -1 }[event.key]
  if (event.ctrlKey || (!frames && (!up || props.curve.sort !== 'number'))) return
  event.preventDefault()
  event.stopPropagation()
  const unit = ((range.value.high - range.value.low) || 1) / 50
  edits.moveKey(refOf(mark.id), Math.min(Math.max(Math.round(mark.frame) + (frames ?? 0) * (event.shiftKey ? 10 : 1), 0), props.clip.length - 1), up ? mark.value + up * unit : null)
}

function add(event: MouseEvent) {
  const box = (event.currentTarget as Element).getBoundingClientRect()
  const frame = Math.floor((event.clientX - box.left - props.begin) / props.scale)
  if (frame >= 0 && frame < props.clip.length) edits.addKey(props.clip.id, props.curve.step, props.curve.name, frame)
}

/** A drag over free ground takes the keys it goes over in hand. */
const swept = ref<[number, number] | null>(null)
function sweep(press: PointerEvent) {
  const box = (press.currentTarget as Element).getBoundingClientRect()
  const from = press.clientX - box.left
  const before = press.shiftKey ? desk.keys : []
  followDrag(press, ({ dx }) => {
    swept.value = [Math.min(from, from + dx), Math.max(from, from + dx)]
    const inside = marks.value.filter((mark) => x(mark.frame) >= swept.value![0] && x(mark.frame) <= swept.value![1])
    desk.keys = [...before.filter((each) => !inside.some((mark) => sameKey(each, refOf(mark.id)))), ...inside.map((mark) => refOf(mark.id))]
  }, (moved) => {
    swept.value = null
    if (!moved && !press.shiftKey) desk.keys = []
  })
}

const label = (value: number) => String(Number(value.toFixed(Math.abs(value) < 10 ? 2 : 0)))
const times = computed(() => parameterOf(props.clip, props.curve)?.shown_times ?? 1)
</script>

<template>
  <svg :width="width" :height="height" class="motion-lane" @dblclick="add" @pointerdown="sweep">
    <title>Double-click to add a key; drag a key in time and value; drag over keys to take several in hand</title>
    <rect :x="x(-0.5)" :width="clip.length * scale" :height="height" y="0" fill="var(--lane)" />
    <path :d="`M${x(-0.5)} ${height - 4.500}H${x(clip.length - 0.5)}`" stroke="var(--line)" />
    <template v-if="colours.length">
      <rect v-for="([frame, colour], i) in colours" :key="i" :x="x(frame - 0.5)" :width="Math.max(1, ((colours[i + 1]?.[0] ?? clip.length) - frame) * scale)" y="4" :height="height - 12" :fill="colour" />
    </template>
    <path v-if="speeds" :d="`M${x(-0.5)} ${y(0)}H${x(clip.length - 0.5)}`" stroke="var(--line)" stroke-dasharray="2 4" />
    <template v-if="!speeds"><path v-for="(each, i) in curve.fan" :key="`fan ${i}`" :d="trace(each)" fill="none" stroke="var(--mark)" stroke-width="0.8" /></template>
    <path :d="path" fill="none" stroke="var(--bone)" stroke-width="1.1" :stroke-dasharray="curve.state === 'driven' ? '5 2' : 'none'" />
    <g v-if="height > 100" class="scale numbers">
      <text :x="x(-0.5) + 4" y="12">{{ label(range.high * times) }}</text>
      <text :x="x(-0.5) + 4" :y="height - 10">{{ label(range.low * times) }}</text>
      <text v-if="speeds" :x="x(-0.5) + 4" y="26">fastest {{ label(curve.fastest * times) }} a second</text>
    </g>
    <!-- Keyed by the key itself: its frame changes while it is dragged. -->
    <g v-for="mark in marks" :key="mark.id" fill="none" stroke="var(--bone)">
      <path v-if="mark.path" :d="mark.path" :stroke-width="mark.chosen ? 5 : 3.2" />
      <path :d="`M${x(mark.frame)} ${height - 8}V${height - 1}`" :stroke="mark.chosen ? 'var(--bone)' : 'var(--muted)'" :stroke-width="mark.chosen ? 2 : 1" />
      <rect
        class="grip" :x="x(mark.frame) - 7" y="0" width="14" :height="height" tabindex="0" role="button" :aria-label="`Key at frame ${Math.round(mark.frame)}`"
        :aria-pressed="mark.chosen" data-test="key" @pointerdown.stop="drag($event, mark)" @dblclick.stop @keydown="nudge($event, mark)"
        @focus="mark.chosen || desk.chooseKey(refOf(mark.id))"
      />
    </g>
    <g v-for="handle in handles" :key="`${handle.id}-${handle.end}`" class="handle" :data-test="`handle-${handle.end}`" @pointerdown.stop="bend($event, handle)">
      <path :d="`M${handle.from.join(' ')}L${handle.at.join(' ')}`" />
      <path class="tip" :d="`M${handle.at[0]} ${handle.at[1] - 4}V${handle.at[1] + 4}`" />
      <rect :x="handle.at[0] - 6" :y="handle.at[1] - 7" width="12" height="14" />
    </g>
    <rect v-if="swept" :x="swept[0]" :width="swept[1] - swept[0]" y="0.5" :height="height - 1" fill="none" stroke="var(--bone)" stroke-dasharray="3 3" />
  </svg>
</template>

<style scoped>
.motion-lane { display: block; touch-action: none; }
.grip { fill: transparent; stroke: none; cursor: move; touch-action: none; }
.grip:focus-visible { outline: 1px solid var(--bone); }
.handle { cursor: ew-resize; touch-action: none; }
.handle path { stroke: var(--muted); fill: none; }
.handle .tip { stroke: var(--bone); stroke-width: 2; }
.handle rect { fill: transparent; }
.scale text { fill: var(--muted); font-size: 12.5px; }
</style>
