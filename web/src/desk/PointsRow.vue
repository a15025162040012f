<script setup lang="ts">
/** Points of a shot: picked on the picture, followed, mended by hand, and what goes with them. */
import { computed, ref } from 'vue'
import type { Clip, Edit, PointNow } from '../api/client'
import { usePoints } from '../stores/points'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { newId, useEdits } from '../use/edits'
import { useNewTitle } from '../use/newTitle'

const props = defineProps<{ clip: Clip }>()
const desk = useDesk()
const project = useProject()
const store = usePoints()
const edits = useEdits()
const { typeInto } = useNewTitle()

/** What was over before the shot was taken in hand is not told again. */
const seen = ref<string[]>(store.jobs.filter((job) => job.state !== 'waiting' && job.state !== 'running').map((job) => job.id))
const jobs = computed(() => store.jobs.filter((job) => job.clip === props.clip.id && !seen.value.includes(job.id)))
const running = computed(() => jobs.value.filter((job) => job.state === 'waiting' || job.state === 'running'))
const told = computed(() => jobs.value.filter((job) => job.state === 'done' || job.state === 'failed').slice(-1))

/** A point is picked where the shot is seen. */
function here() {
  if (!desk.isOver(props.clip)) desk.goIn(props.clip, Math.floor(props.clip.length / 2))
}
function pick() {
  here()
  desk.playing = false
  desk.picking = { says: 'click what shall be followed: a corner, a spot, a pattern', done: (at) => void store.follow(props.clip.id, { at }) }
}
const on = (point: PointNow, direction: 'forward' | 'back') => store.follow(props.clip.id, { at: point.at, point: point.id, direction })

const WIDE = 300
const HIGH = 26
const x = (frame: number) => (frame / Math.max(1, props.clip.length - 1)) * WIDE
const y = (sure: number) => HIGH - 2 - (HIGH - 4) * sure
const lane = (point: PointNow) => `M0 ${HIGH}${point.sure.map(([frame, sure]) => `L${x(frame).toFixed(1)} ${y(sure).toFixed(1)}`).join('')}L${WIDE} ${HIGH}Z`
const sureNow = (point: PointNow) => [...point.sure].reverse().find(([frame]) => frame <= desk.local)?.[1] ?? 0
function go(event: MouseEvent) {
  const box = (event.currentTarget as Element).getBoundingClientRect()
  desk.goIn(props.clip, Math.round(((event.clientX - box.left) / box.width) * (props.clip.length - 1)))
}
const state = (point: PointNow) => (point.by_hand ? 'put by hand here' : point.known ? `${Math.round(100 * sureNow(point))} % sure here` : 'lost here, led straight across')
const holding = (point: PointNow) => point.holds.map((id) => (id === props.clip.id ? 'the shot' : `“${project.project!.clips[id]?.name}”`)).join(', ')

/** The point that tells of turn and size, beside the first. */
const second = ref<Record<string, string | null>>({})
const others = (point: PointNow) => [{ title: 'nothing else', value: null }, ...store.points.filter((each) => each.id !== point.id).map((each) => ({ title: each.name, value: each.id as string | null }))]
const with_ = (point: PointNow) => (store.points.some((each) => each.id === second.value[point.id]) ? second.value[point.id] : null)

/** A new title a little above the point, going with it. */
function write(point: PointNow) {
  here()
  const id = newId()
  const { width, height } = project.settings!
  const lift = (point.at[1] > height / 4 ? -1 : 1) * height * 0.12
  const made: Edit[] = [
    { kind: 'add_title', clip: id, frame: desk.frame },
    { kind: 'place_clip', clip: id, frame: 0, x: Math.round(point.at[0] - width / 2), y: Math.round(point.at[1] + lift - height / 2), snap: 0 },
    { kind: 'hold_to_point', clips: [id], shot: props.clip.id, point: point.id, second: with_(point), at: project.filmFrame(props.clip, desk.local) },
  ]
  edits.put({ kind: 'several', label: `title that goes with ${point.name}`, edits: made })
  typeInto(id)
}
const still = (point: PointNow, smooth: number) => edits.put({ kind: 'hold_still', clip: props.clip.id, point: point.id, second: with_(point), frame: desk.local, smooth })
const rename = (point: PointNow, event: Event) => {
  const name = (event.target as HTMLInputElement).value.trim()
  if (name && name !== point.name) edits.put({ kind: 'name_point', clip: props.clip.id, point: point.id, name })
}
</script>

<template>
  <div class="offers" data-test="points">
    <p class="muted">points of the picture that are followed; a title can go with one, or the shot be held still by it</p>
    <button class="act" data-test="follow-point" @click="pick">follow a point</button>
    <div v-for="job in running" :key="job.id" class="job" data-test="following">
      <span>{{ job.name }}: {{ job.state === 'waiting' ? 'waiting for its turn' : `${job.frames_done} of ${job.frames} frames` }}</span>
      <progress :value="job.frames_done" :max="job.frames" :aria-label="`How far ${job.name} is followed`" />
      <button class="act" @click="store.giveUp(job.id)">give it up</button>
    </div>
    <p v-for="job in told" :key="job.id" :class="{ alarm: job.state === 'failed' }" role="status" data-test="followed">{{ job.message }} <button class="act" @click="seen.push(job.id)">close</button></p>
    <section v-for="point in store.points" :key="point.id" data-test="point">
      <div class="top">
        <input class="name" :value="point.name" aria-label="Name of the point" maxlength="60" @change="rename(point, $event)" />
        <span :class="{ alarm: !point.known && !point.by_hand }">{{ state(point) }}</span>
      </div>
      <svg :viewBox="`0 0 ${WIDE} ${HIGH}`" preserveAspectRatio="none" role="img" :aria-label="`How sure ${point.name} is over the clip; lost ${point.lost.length} times`" @click="go">
        <path class="sure" :d="lane(point)" />
        <rect v-for="[first, last] in point.lost" :key="first" class="lost" :x="x(first)" y="0" :width="Math.max(1.5, x(last) - x(first))" :height="HIGH" />
        <line v-for="frame in point.hand" :key="frame" class="hand" :x1="x(frame)" :x2="x(frame)" :y1="HIGH - 8" :y2="HIGH" />
        <line class="at" :x1="x(desk.local)" :x2="x(desk.local)" y1="0" :y2="HIGH" />
      </svg>
      <p v-if="point.elsewhere" class="alarm">It was followed in another picture; see whether it still lies right, or follow it again.</p>
      <p v-if="point.holds.length" class="muted">goes with it: {{ holding(point) }}</p>
      <div class="list">
        <button v-if="point.by_hand" class="act" @click="edits.put({ kind: 'leave_point', clip: clip.id, point: point.id, frame: desk.local })">as it was followed</button>
        <button class="act" title="From where it stands at the playhead" @click="on(point, 'forward')">follow on from here</button>
        <button class="act" title="From where it stands at the playhead" @click="on(point, 'back')">and back</button>
        <button class="act" @click="edits.put({ kind: 'remove_point', clip: clip.id, point: point.id })">remove</button>
      </div>
      <div v-if="store.points.length > 1" class="line"><span class="muted">Turn and size by</span><VSelect :model-value="with_(point)" :items="others(point)" aria-label="A second point for turn and size" @update:model-value="(id: string | null) => { second[point.id] = id }" /></div>
      <div class="list">
        <button class="act" data-test="write-held" @click="write(point)">write a title that goes with it</button>
        <button class="act" data-test="hold-still" title="The point stays where it is at the playhead" @click="still(point, 0)">hold the shot still</button>
        <button class="act" data-test="smooth" title="What is quicker than half a second is taken out" @click="still(point, 0.5)">calm the shot</button>
      </div>
    </section>
  </div>
</template>

<style scoped>
.offers p { margin: 0 0 4px; }
.job { display: flex; flex-wrap: wrap; align-items: center; gap: 8px; margin: 6px 0; }
progress { accent-color: var(--bone); width: 90px; height: 8px; }
section { margin-top: 10px; padding-top: 6px; border-top: 1px solid var(--line); }
.top { display: flex; justify-content: space-between; align-items: baseline; gap: 8px; }
.name { flex: 1; min-width: 0; font-weight: 600; background: none; border: 1px solid transparent; padding: 1px 4px; margin-left: -5px; }
.name:hover, .name:focus { border-color: var(--line); }
svg { display: block; width: 100%; max-width: 340px; height: 26px; margin: 3px 0; background: var(--lane); cursor: pointer; }
.sure { fill: var(--bone); opacity: 0.55; }
.lost { fill: var(--alarm); opacity: 0.45; }
.hand { stroke: var(--bone); stroke-width: 2; }
.at { stroke: var(--now); }
.list { display: flex; flex-wrap: wrap; gap: 4px; margin: 3px 0; }
.alarm { color: var(--alarm); }
</style>
