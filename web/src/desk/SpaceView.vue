<script setup lang="ts">
/**
 * The working view: the space of the film from elsewhere than its camera, without perspective, so that distances can be
 * compared. What is in hand is moved along the three axes; nothing else touches the film.
 */
import { useElementSize } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Surroundings } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'
import { px, useSurroundings } from '../use/surroundings'

type Vector = [number, number, number]
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const view = ref<SVGSVGElement | null>(null)
const { width, height } = useElementSize(view)
/** The space of what is in hand; of the film where nothing is. */
const now = useSurroundings(() => true, () => (desk.clip && desk.isOver(desk.clip) ? desk.clip.id : null))

const yaw = ref(-38)
const pitch = ref(24)
const scale = ref(0)
const middle = ref<Vector>([0, 0, 0])

const axes = computed(() => {
  const [y, p] = [(yaw.value * Math.PI) / 180, (pitch.value * Math.PI) / 180]
  return {
    right: [Math.cos(y), 0, Math.sin(y)] as Vector,
    down: [Math.sin(p) * Math.sin(y), Math.cos(p), -Math.sin(p) * Math.cos(y)] as Vector,
    ahead: [-Math.sin(y) * Math.cos(p), Math.sin(p), Math.cos(y) * Math.cos(p)] as Vector,
  }
})
const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
const less = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]]
const between = (a: Vector, b: Vector, share: number): Vector => [a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share, a[2] + (b[2] - a[2]) * share]
const seen = (point: Vector): [number, number] => {
  const from = less(point, middle.value)
  return [width.value / 2 + dot(from, axes.value.right) * scale.value, height.value / 2 + dot(from, axes.value.down) * scale.value]
}
const outline = (points: Vector[]) => points.map((each) => seen(each).map((n) => n.toFixed(1)).join(',')).join(' ')

/** All that is there, so that it can be seen at once. */
function everything(of: Surroundings): Vector[] {
  return [of.at, ...of.sees, ...of.planes.flatMap((each) => each.corners), ...of.lights.map((each) => each.at)]
}
function fit() {
  if (!now.value || !width.value) return
  const points = everything(now.value)
  const [xs, ys] = [axes.value.right, axes.value.down].map((axis) => points.map((each) => dot(each, axis)))
  const [low, high] = [[Math.min(...xs), Math.min(...ys)], [Math.max(...xs), Math.max(...ys)]]
  const depth = points.reduce((sum, each) => sum + dot(each, axes.value.ahead), 0) / points.length
  const at = [0, 1, 2].map((n) => axes.value.right[n] * ((low[0] + high[0]) / 2) + axes.value.down[n] * ((low[1] + high[1]) / 2) + axes.value.ahead[n] * depth)
  middle.value = at as Vector
  scale.value = Math.min((width.value - 120) / Math.max(1, high[0] - low[0]), (height.value - 120) / Math.max(1, high[1] - low[1]))
}
watch([now, width], () => { if (!scale.value) fit() })
function stand(toYaw: number, toPitch: number) {
  yaw.value = toYaw
  pitch.value = toPitch
  fit()
}

function turn(event: PointerEvent) {
  const [y, p, from] = [yaw.value, pitch.value, middle.value]
  const pans = event.shiftKey
  followDrag(event, ({ dx, dy }) => {
    if (pans) middle.value = [0, 1, 2].map((n) => from[n] - (axes.value.right[n] * dx + axes.value.down[n] * dy) / scale.value) as Vector
    else {
      yaw.value = y - dx * 0.4
      pitch.value = Math.max(-89, Math.min(89, p + dy * 0.4))
    }
  }, (moved) => { if (!moved) desk.select(null) })
}
function zoom(event: WheelEvent) {
  const by = Math.exp(-event.deltaY * 0.0015)
  const box = view.value!.getBoundingClientRect()
  const [x, y] = [event.clientX - box.left - width.value / 2, event.clientY - box.top - height.value / 2]
  // What is under the pointer stays there.
  middle.value = [0, 1, 2].map((n) => middle.value[n] + ((axes.value.right[n] * x + axes.value.down[n] * y) * (1 - 1 / by)) / scale.value) as Vector
  scale.value = Math.max(1e-4, Math.min(50, scale.value * by))
}

const named = (plane: Surroundings['planes'][number]) => `${plane.name.slice(0, 24)}, ${px(plane.ahead)}`
/** Words beside a point, to its left where there is no room to its right. */
function label([x, y]: [number, number], aside: number, below: number, words: string) {
  const left = x + words.length * 6.6 > width.value
  return { x: left ? x - aside : x + aside, y: y + below, 'text-anchor': left ? 'end' : 'start' }
}
interface Label { id: string; words: string; x: number; y: number; 'text-anchor': string; held: boolean }
/** Names of all that is there; where two would lie over each other that of what is in hand stays, then what is nearer. */
const labels = computed<Label[]>(() => {
  const of = now.value
  if (!of || !scale.value) return []
  const made = (id: string, at: Vector, aside: number, below: number, words: string): Label => ({ id, words, ...label(seen(at), aside, below, words), held: inHand(id) })
  const all = [
    made(of.camera ?? 'as seen', of.at as Vector, 9, 16, of.camera ? `camera, ${of.angle.toFixed(0)}°` : 'as the frame is seen'),
    ...[...planes.value].reverse().map((plane) => made(plane.clip, plane.corners[0] as Vector, 0, -7, named(plane))),
    ...of.lights.map((light) => made(light.clip, light.at as Vector, 16, 4, light.name.slice(0, 24))),
  ]
  const kept: (Label & { left: number; right: number })[] = []
  for (const each of [...all].sort((a, b) => Number(b.held) - Number(a.held))) {
    const long = each.words.length * 6.6
    const left = each['text-anchor'] === 'end' ? each.x - long : each.x
    if (kept.every((other) => left > other.right + 4 || left + long < other.left - 4 || Math.abs(other.y - each.y) > 15)) kept.push({ ...each, left, right: left + long })
  }
  return kept
})
/** What is further away is drawn first. */
const planes = computed(() => [...(now.value?.planes ?? [])].sort((a, b) => dot(b.middle, axes.value.ahead) - dot(a.middle, axes.value.ahead)))
const inHand = (id: string) => desk.picked.includes(id)
const camera = computed(() => now.value?.camera ?? null)

/** A cross-section of what the camera sees, so far ahead. */
function section(far: number): Vector[] {
  const of = now.value!
  const whole = dot(less(of.aim, of.at), of.ahead)
  return of.sees.map((corner) => between(of.at, corner, far / whole))
}
const band = computed(() => {
  const sharp = now.value?.sharp
  if (!sharp) return null
  const furthest = Math.max(sharp.at * 1.5, ...now.value!.planes.map((each) => each.ahead * 1.2))
  return { near: section(sharp.near), at: section(sharp.at), far: section(Math.min(sharp.far ?? furthest, furthest)) }
})
const sides = (near: Vector[], far: Vector[]) => [0, 1, 2, 3].map((n) => [near[n], near[(n + 1) % 4], far[(n + 1) % 4], far[n]])

/** Where a spot's cone ends, in the distance of what it points at; and as far as a light to all sides is drawn. */
function rim(light: Surroundings['lights'][number]): Vector[] {
  const [at, aim] = [light.at as Vector, light.aim as Vector]
  if (light.cone === null) return []
  const way = less(aim, at)
  const far = Math.hypot(...way) || 1
  const ahead = way.map((each) => each / far) as Vector
  const side = Math.abs(ahead[1]) > 0.99 ? ([1, 0, 0] as Vector) : ([ahead[2] / Math.hypot(ahead[0], ahead[2]), 0, -ahead[0] / Math.hypot(ahead[0], ahead[2])] as Vector)
  const other: Vector = [ahead[1] * side[2] - ahead[2] * side[1], ahead[2] * side[0] - ahead[0] * side[2], ahead[0] * side[1] - ahead[1] * side[0]]
  const wide = far * Math.tan((Math.min(light.cone, 170) * Math.PI) / 360)
  return Array.from({ length: 24 }, (_, n) => {
    const turn = (n / 12) * Math.PI
    return aim.map((each, i) => each + wide * (Math.cos(turn) * side[i] + Math.sin(turn) * other[i])) as Vector
  })
}
const RAYS = Array.from({ length: 8 }, (_, n) => [Math.cos((n * Math.PI) / 4), Math.sin((n * Math.PI) / 4)])

interface Grip { axis: string; from: [number, number]; to: [number, number]; unit: Vector; base: number; put: (value: number, gesture: string) => void }
const AXES: [string, Vector][] = [['x', [1, 0, 0]], ['y', [0, 1, 0]], ['z', [0, 0, 1]]]
const NAMES: Record<string, string> = { x: 'across', y: 'down', z: 'away' }
/** Three handles of what is in hand: along each axis, as long on the screen whatever the scale. */
const grips = computed<Grip[]>(() => {
  const of = now.value
  if (!of || !desk.selected || !scale.value) return []
  const plane = of.planes.find((each) => each.clip === desk.selected)
  const grip = (at: Vector, axis: string, unit: Vector, base: number, put: Grip['put']): Grip[] => {
    const [x, y] = [dot(unit, axes.value.right), dot(unit, axes.value.down)]
    const long = Math.hypot(x, y)
    if (long < 0.12) return []
    const from = seen(at)
    return [{ axis, from, to: [from[0] + (x / long) * 46, from[1] + (y / long) * 46], unit, base, put }]
  }
  if (plane) return AXES.flatMap(([axis, unit], n) => grip(plane.middle as Vector, axis, unit, plane.place[n], (value, gesture) => edits.value(plane.clip, plane.step, axis, value, gesture)))
  const light = of.lights.find((each) => each.clip === desk.selected)
  if (light) return [
    ...AXES.flatMap(([axis, unit], n) => grip(light.at as Vector, axis, unit, light.at[n], (value, gesture) => edits.value(light.clip, 'content', axis, value, gesture))),
    ...(light.cone === null ? [] : AXES.flatMap(([axis, unit], n) => grip(light.aim as Vector, axis, unit, light.aim[n], (value, gesture) => edits.value(light.clip, 'content', `aim_${axis}`, value, gesture)))),
  ]
  if (of.camera !== desk.selected) return []
  const away = (project.settings!.width * 35) / 36
  const base = [of.at[0], of.at[1], of.at[2] + away]
  return [
    ...AXES.flatMap(([axis, unit], n) => grip(of.at as Vector, axis, unit, base[n], (value, gesture) => edits.value(of.camera!, 'content', axis, value, gesture))),
    ...AXES.flatMap(([axis, unit], n) => grip(of.aim as Vector, axis, unit, of.aim[n], (value, gesture) => edits.value(of.camera!, 'content', `aim_${axis}`, value, gesture))),
  ]
})
function pull(event: PointerEvent, grip: Grip) {
  const [x, y] = [dot(grip.unit, axes.value.right) * scale.value, dot(grip.unit, axes.value.down) * scale.value]
  const { base, put } = grip
  followDrag(event, ({ dx, dy, gesture, event: at }) => put(Math.round(base + ((dx * x + dy * y) / (x * x + y * y)) * (at.ctrlKey ? 0.1 : 1)), gesture))
}
</script>

<template>
  <section class="space" aria-label="Working view">
    <div class="stands">
      <button class="act" @click="stand(-38, 24)">perspective</button>
      <button class="act" data-test="from-above" @click="stand(0, 89)">top</button>
      <button class="act" @click="stand(90, 0)">side</button>
      <button class="act" @click="stand(0, 0)">front</button>
      <button class="act" @click="fit">fit all</button>
      <span class="muted">drag turns, Shift moves, the wheel zooms</span>
    </div>
    <svg ref="view" data-test="space" @pointerdown="turn" @wheel.prevent="zoom">
      <template v-if="now && scale">
        <template v-if="band">
          <polygon v-for="(side, n) in sides(band.near, band.far)" :key="n" class="sharp" :points="outline(side)" />
          <polygon class="sharp edge" :points="outline(band.near)" />
          <polygon class="sharp edge" :points="outline(band.far)" />
          <polygon class="focus" data-test="sharp-plane" :points="outline(band.at)" />
        </template>
        <g class="camera" :class="{ held: camera !== null && inHand(camera) }" @pointerdown.stop="camera && desk.select(camera)">
          <line v-for="(corner, n) in now.sees" :key="n" :x1="seen(now.at)[0]" :y1="seen(now.at)[1]" :x2="seen(corner)[0]" :y2="seen(corner)[1]" />
          <polygon :points="outline(now.sees)" />
          <circle :cx="seen(now.at)[0]" :cy="seen(now.at)[1]" r="5" data-test="space-camera" />
        </g>
        <g v-for="plane in planes" :key="plane.clip" class="plane" :class="{ held: inHand(plane.clip) }" :data-plane="plane.clip" @pointerdown.stop="desk.select(plane.clip)">
          <polygon :points="outline(plane.corners)" />
          <line class="top" :x1="seen(plane.corners[0])[0]" :y1="seen(plane.corners[0])[1]" :x2="seen(plane.corners[1])[0]" :y2="seen(plane.corners[1])[1]" />
        </g>
        <g v-for="light in now.lights" :key="light.clip" class="light" :class="{ held: inHand(light.clip) }" :data-light="light.clip" @pointerdown.stop="desk.select(light.clip)">
          <polygon v-if="light.cone !== null" :points="outline(rim(light))" />
          <line v-for="(corner, n) in rim(light).filter((_, i) => i % 6 === 0)" :key="n" :x1="seen(light.at as Vector)[0]" :y1="seen(light.at as Vector)[1]" :x2="seen(corner)[0]" :y2="seen(corner)[1]" />
          <line v-for="(ray, n) in RAYS" :key="`r${n}`" class="ray" :x1="seen(light.at as Vector)[0] + ray[0] * 8" :y1="seen(light.at as Vector)[1] + ray[1] * 8" :x2="seen(light.at as Vector)[0] + ray[0] * 13" :y2="seen(light.at as Vector)[1] + ray[1] * 13" />
          <circle :cx="seen(light.at as Vector)[0]" :cy="seen(light.at as Vector)[1]" r="5" :style="{ fill: light.colour }" />
        </g>
        <text v-for="each in labels" :key="each.id" class="name" :class="{ held: each.held }" :x="each.x" :y="each.y" :text-anchor="each['text-anchor']">{{ each.words }}</text>
        <g v-for="(grip, n) in grips" :key="n" class="grip" :data-grip="`${grip.axis}${n > 2 ? ' aim' : ''}`" @pointerdown.stop="pull($event, grip)">
          <line class="wide" :x1="grip.from[0]" :y1="grip.from[1]" :x2="grip.to[0]" :y2="grip.to[1]" />
          <line :x1="grip.from[0]" :y1="grip.from[1]" :x2="grip.to[0]" :y2="grip.to[1]" />
          <rect :x="grip.to[0] - 4" :y="grip.to[1] - 4" width="8" height="8" />
          <text :x="grip.to[0] + (grip.to[0] < grip.from[0] ? -8 : 8)" :y="grip.to[1] + 4" :text-anchor="grip.to[0] < grip.from[0] ? 'end' : 'start'">{{ NAMES[grip.axis] }}</text>
        </g>
      </template>
    </svg>
  </section>
</template>

<style scoped>
.space { flex: 1 1 50%; min-width: 0; display: flex; flex-direction: column; background: #131110; border-right: 1px solid var(--line); }
svg { flex: 1; min-height: 0; width: 100%; cursor: grab; touch-action: none; user-select: none; }
svg:active { cursor: grabbing; }
/* Lines end before words, so that nothing runs through them. */
text { fill: var(--muted); font-size: 12.5px; paint-order: stroke; stroke: #131110; stroke-width: 5px; stroke-linejoin: round; }
.plane { cursor: pointer; }
.plane polygon { fill: #ece4d8; fill-opacity: 0.07; stroke: var(--muted); stroke-width: 1; }
.plane .top { stroke: var(--bone); stroke-width: 1.5; }
.plane.held polygon { stroke: var(--bone); stroke-width: 2; fill-opacity: 0.12; }
.name { pointer-events: none; }
.name.held { fill: var(--bone); }
.camera { cursor: pointer; }
.camera line, .camera polygon { stroke: var(--muted); stroke-width: 1; fill: none; }
.camera circle { fill: #131110; stroke: var(--bone); stroke-width: 2; }
.camera.held circle { fill: var(--bone); }
.camera.held line, .camera.held polygon { stroke: var(--bone); }
.light { cursor: pointer; }
.light polygon, .light line { fill: none; stroke: var(--line); stroke-width: 1; }
.light .ray { stroke: var(--muted); stroke-width: 1.5; }
.light circle { stroke: var(--muted); stroke-width: 1.5; }
.light.held circle, .light.held .ray { stroke: var(--bone); }
.light.held polygon, .light.held line { stroke: var(--muted); }
.sharp { fill: #ece4d8; fill-opacity: 0.045; stroke: none; }
.sharp.edge { stroke: var(--line); stroke-width: 1; fill: none; }
.focus { fill: none; stroke: var(--bone); stroke-width: 1; stroke-dasharray: 4 4; }
.grip { cursor: grab; }
.grip line { stroke: var(--bone); stroke-width: 2; }
.grip .wide { stroke: transparent; stroke-width: 14; }
.grip rect { fill: var(--bone); }
.grip text { fill: var(--bone); }
.stands { padding: 8px 10px 0; display: flex; flex-wrap: wrap; gap: 4px; align-items: center; font-size: 12.5px; }
</style>
