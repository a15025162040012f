<script setup lang="ts">
/** A camera's ready moves, and what it is focused on: resting on one plays it, a click keeps it. */
import { computed, ref } from 'vue'
import type { Clip, Edit } from '../api/client'
import Gauge from '../parts/Gauge.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { px, useSurroundings } from '../use/surroundings'
import { useTryout } from '../use/tryout'

const props = defineProps<{ clip: Clip }>()
const project = useProject()
const desk = useDesk()
const edits = useEdits()
const tryout = useTryout()

type Move = Extract<Edit, { kind: 'move_camera' }>['move']
const MOVES: Move[] = ['push in', 'pull out', 'rise', 'slide', 'orbit', 'dolly with zoom', 'still']
const chosen = ref<Move | null>(null)
const amount = ref(100)
const edit = (move: Move): Extract<Edit, { kind: 'move_camera' }> => ({ kind: 'move_camera', clip: props.clip.id, move, amount: amount.value / 100 })
function use(move: Move) {
  tryout.leave()
  chosen.value = move
  edits.put(edit(move))
}
function further(value: number, gesture: string) {
  amount.value = value
  if (chosen.value) edits.put(edit(chosen.value), gesture)
}
/** Without anything in space there is nothing for it to see. */
const sees = computed(() => project.clips.some((each) => each.steps.some((step) => step.kind === 'stand' && step.on)))

const now = useSurroundings(() => true, () => props.clip.id)
const over = computed(() => desk.isOver(props.clip))
/** Where it is sharp, in px and, since a lens goes by it, in metres. */
const sharp = computed(() => {
  const found = now.value?.sharp
  if (!found || now.value?.camera !== props.clip.id) return null
  const metres = (value: number) => `${(value * (now.value!.metres ?? 0)).toFixed(2)} m`
  const told = (value: number) => `${px(value)} (${metres(value)})`
  return `Sharp ${told(found.at)} ahead; nothing is seen to blur from ${told(found.near)} ${found.far == null ? 'on' : `to ${told(found.far)}`}.`
})
function focus(pulls: boolean) {
  desk.picking = {
    says: pulls ? 'click what is to be sharp from here on' : 'click what is to be sharp',
    done: (at) => edits.put({ kind: 'focus_on', clip: props.clip.id, frame: desk.local, at, pulls: pulls ? Math.round(project.rate) : 0 }),
  }
}
/** From when to when the camera's own way goes, in frames of its clip. */
const stops = computed<[number, number] | null>(() => {
  const ways = (desk.course?.curves ?? []).filter((curve) => curve.step === 'content' && ['x', 'y', 'z', 'aim_x', 'aim_y', 'aim_z', 'lens'].includes(curve.name))
  const frames = ways.flatMap((curve) => curve.keys.map((key) => key[0]))
  return frames.length ? [Math.round(Math.min(...frames)), Math.min(props.clip.length - 1, Math.round(Math.max(...frames)))] : null
})
function sharpAtStop() {
  const [begins, ends] = stops.value!
  desk.goTo(Math.round(project.filmFrame(props.clip, ends)))
  desk.picking = {
    says: 'click what is to be sharp when the camera stops',
    done: (at) => edits.put({ kind: 'focus_on', clip: props.clip.id, frame: ends, at, pulls: Math.max(1, ends - begins) }),
  }
}
</script>

<template>
  <div class="offers" data-test="camera-moves">
    <div class="list">
      <button v-for="move in MOVES" :key="move" class="act" :class="{ on: chosen === move }" :data-camera="move" v-rests="[() => tryout.whole(edit(move), clip), tryout.leave]" @click="use(move)">{{ move }}</button>
    </div>
    <Gauge v-if="chosen && chosen !== 'still'" label="How far" :value="amount" :low="-200" :high="200" :least="-400" :most="400" :neutral="0" unit="%" @change="further" />
    <div class="list focus">
      <button class="act" :disabled="!over" data-test="focus-on" title="The lens is set to what you click on the picture" @click="focus(false)">focus on …</button>
      <button class="act" :disabled="!over" data-test="pull-focus" title="Over the second before the playhead, focus goes to what you click" @click="focus(true)">pull focus to …</button>
      <button class="act" :disabled="!over || !stops" data-test="sharp-at-stop" title="Focus goes there with the camera's own way, and is there as it stops" @click="sharpAtStop">sharp when it stops …</button>
      <button class="act" data-test="look-around" @click="desk.around = !desk.around">{{ desk.around ? 'close 3D view' : '3D view' }} <kbd>A</kbd></button>
    </div>
    <p v-if="sharp" class="muted" data-test="sharp-band">{{ sharp }}</p>
    <p v-if="!sees" class="muted">Nothing stands in space yet: add the step “place in 3D” to a clip, and set it further away or nearer.</p>
  </div>
</template>

<style scoped>
.offers p { margin: 6px 0 0; }
.list { display: flex; flex-wrap: wrap; gap: 4px; }
.focus { margin-top: 6px; }
</style>
