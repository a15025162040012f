<script setup lang="ts">
/** Moves in one click: resting on one plays it on the clips in hand, a click keeps it, the next one takes its place. */
import { computed, ref } from 'vue'
import type { Clip, Edit } from '../api/client'
import Gauge from '../parts/Gauge.vue'
import { useDesk } from '../stores/desk'
import { useEdits } from '../use/edits'
import { useTryout } from '../use/tryout'

const props = defineProps<{ clips: Clip[] }>()
const desk = useDesk()
const edits = useEdits()
const tryout = useTryout()
const amount = ref(1)
const chosen = ref<string | null>(null)

const clip = computed(() => props.clips.at(-1)!)
const ids = computed(() => props.clips.map((each) => each.id))
const step = computed(() => clip.value.steps.find((each) => each.kind === 'move'))
const listed = computed(() => desk.catalogue!.moves)

const edit = (move: string | null): Edit => ({ kind: 'use_move', clips: ids.value, move, amount: amount.value, at: null, frame: 0, alternate: props.clips.length > 1 })
/** A move of one clip is set next. */
function open() {
  if (props.clips.length === 1) desk.openRow = step.value?.id ?? 'move'
}
/** Framings that were there before the first click, set by hand or by another move: what became of them is said. */
const replaced = ref(0)
function note() {
  const framing = step.value?.values.framing
  if (!chosen.value && framing) replaced.value = framing.state === 'moving' ? framing.keys.length : 1
}
function use(move: string) {
  tryout.leave()
  note()
  chosen.value = move
  edits.put(edit(move))
  open()
}
/** Clip by clip asks for the point its own move goes to. */
function point(move: string, number = 0) {
  tryout.leave()
  note()
  chosen.value = move
  const all = props.clips
  const one = all[number]
  if (all.length > 1) desk.goToStay(one)
  desk.picking = { says: all.length > 1 ? `click the point for “${one.name}”, ${number + 1} of ${all.length}` : 'click the point it goes to', done: (at) => {
    edits.put({ kind: 'use_move', clips: [one.id], move, amount: amount.value, at, frame: Math.max(0, desk.localOf(one)), alternate: false })
    if (number + 1 < all.length) setTimeout(() => point(move, number + 1))
    else open()
  } }
}
function away() {
  chosen.value = null
  replaced.value = 0
  edits.put(edit(null))
}
/** The move that was clicked last, stronger or gentler; without one the next click counts. */
function strength(value: number, gesture: string) {
  amount.value = value / 100
  if (chosen.value && step.value) edits.put(edit(chosen.value), gesture)
}
</script>

<template>
  <div class="moves" data-test="moves">
    <p class="muted">{{ clips.length > 1 ? `moves, on all ${clips.length}, there and back by turns` : 'moves, from head to tail' }}</p>
    <div class="list">
      <button
        v-for="each in listed" :key="each.id" class="act" :class="{ on: chosen === each.id && step }" :data-move="each.id" :title="each.synonyms.join(', ')"
        v-rests="[() => tryout.whole(edit(each.id), clip), tryout.leave]" @click="each.points ? point(each.id) : use(each.id)"
      >{{ each.label }}</button>
    </div>
    <p v-if="replaced && chosen" class="muted" role="status" data-test="replaced">In place of {{ replaced === 1 ? 'the framing' : `the ${replaced} framings` }} that {{ replaced === 1 ? 'was' : 'were' }} there; Undo brings {{ replaced === 1 ? 'it' : 'them' }} back.</p>
    <div v-if="step || chosen" class="after">
      <Gauge v-if="chosen && !listed.find((each) => each.id === chosen)?.points" label="How much" :value="amount * 100" :low="0" :high="200" :least="0" :most="400" :neutral="100" unit="%" @change="strength" />
      <button class="act" data-test="as-shot" @click="away">remove move</button>
    </div>
  </div>
</template>

<style scoped>
.moves { padding: 6px 16px 8px 36px; font-size: 12.5px; }
.moves p { margin: 0 0 4px; }
.list { display: flex; flex-wrap: wrap; gap: 4px; }
.after { display: flex; flex-wrap: wrap; align-items: center; gap: 8px; margin-top: 6px; }
</style>
