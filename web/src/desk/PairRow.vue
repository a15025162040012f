<script setup lang="ts">
/** What is made of two clips in hand: a card, an uncovering, an answer; shapes and words fitted to one another. */
import { computed, ref } from 'vue'
import type { Clip, Edit } from '../api/client'
import { useDesk } from '../stores/desk'
import { newId, useEdits } from '../use/edits'
import { useProject } from '../stores/project'
import { useTryout } from '../use/tryout'

const props = defineProps<{ clips: [Clip, Clip] }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const tryout = useTryout()

const first = computed(() => props.clips[0])
const second = computed(() => props.clips[1])
const short = (clip: Clip) => (clip.name.length > 18 ? `${clip.name.slice(0, 17)}…` : clip.name)
const shape = computed(() => props.clips.find((each) => each.content.kind === 'shape'))
const words = computed(() => props.clips.find((each) => each.content.kind === 'text'))
const other = computed(() => props.clips.find((each) => each !== shape.value)!)
/** Outlines and lines have no box to be fitted. */
const boxed = computed(() => shape.value?.content.kind === 'shape' && !['outline', 'line'].includes(shape.value.content.choices.form ?? ''))

type Of<Kind extends Edit['kind']> = Extract<Edit, { kind: Kind }>
/** At the playhead while both are there, else where the core finds it. */
const turn = (axis: number, group = newId()): Of<'turn_into'> => ({
  kind: 'turn_into', front: first.value.id, back: second.value.id, group, name: `${short(first.value)} and ${short(second.value)}`.slice(0, 60), axis,
  frame: desk.isOver(first.value) && desk.isOver(second.value) ? desk.frame : null, length: 20, half_turns: 1, ease: { kind: 'strengths', start: 0.5, end: 0.5 },
})
const uncovers = (edge: Of<'uncover'>['edge']): Of<'uncover'> => ({ kind: 'uncover', clip: second.value.id, by: first.value.id, edge, offset: 0, held: held.value })
/** What was uncovered stays so, though the mover goes back. */
const held = ref(true)
const BY = [['glow', 'its glow'], ['light', 'its light'], ['size', 'its size']] as const
const MOMENTS = [['landed', 'as it lands'], ['fastest', 'as it is fastest'], ['leaving', 'as it leaves'], ['gone', 'as it is gone']] as const
const moment = ref<(typeof MOMENTS)[number][0]>('landed')
const answers = (by: Of<'answer_motion'>['by']): Of<'answer_motion'> => ({ kind: 'answer_motion', clip: second.value.id, to: first.value.id, by, moments: [moment.value], peak: null, rise: 2, fall: 14 })

function use(edit: Edit) {
  tryout.leave()
  edits.put(edit)
  if (edit.kind === 'turn_into') desk.select(edit.group)
}
/** Over all the time that both take. */
const over = (edit: Edit) => tryout.whole(edit, { ...first.value, head: Math.min(first.value.head, second.value.head), length: Math.round(Math.max(project.endOf(first.value), project.endOf(second.value)) - Math.min(first.value.head, second.value.head)) })
</script>

<template>
  <div class="offers" data-test="pair">
    <div class="list">
      <span class="muted">{{ short(first) }} turns into {{ short(second) }}:</span>
      <button class="act" data-test="turn-into" title="One card with two sides; edge-on at the playhead, or where they meet" v-rests="[() => over(turn(90, 'tried')), tryout.leave]" @click="use(turn(90))">about an upright axis</button>
      <button class="act" data-test="turn-into-level" v-rests="[() => over(turn(0, 'tried')), tryout.leave]" @click="use(turn(0))">a level one</button>
    </div>
    <div class="list">
      <span class="muted">{{ short(first) }} uncovers {{ short(second) }}:</span>
      <button v-for="[edge, word] in ([['middle', 'under it'], ['trailing', 'behind it'], ['leading', 'before it']] as const)" :key="edge" class="act" :data-test="`uncover-${edge}`" title="Only what it has gone past is seen" v-rests="[() => over(uncovers(edge)), tryout.leave]" @click="use(uncovers(edge))">{{ word }}</button>
      <button class="flip" :aria-pressed="held" title="Though the other goes back" @click="held = !held">stays uncovered</button>
    </div>
    <div class="list">
      <span class="muted">{{ short(second) }} answers {{ short(first) }}</span>
      <span class="choice" role="radiogroup" aria-label="When it answers">
        <button v-for="[value, word] in MOMENTS" :key="value" role="radio" :aria-checked="moment === value" :class="{ on: moment === value }" :data-test="`moment-${value}`" @click="moment = value">{{ word }}</button>
      </span>
      <span class="muted">by</span>
      <button v-for="[by, word] in BY" :key="by" class="act" :data-test="`answer-${by}`" v-rests="[() => over(answers(by)), tryout.leave]" @click="use(answers(by))">{{ word }}</button>
    </div>
    <div v-if="shape" class="list">
      <button v-if="other.content.kind === 'shape'" class="act" data-test="become-like" title="Form, place and colours, within 20 frames from the playhead" @click="use({ kind: 'become_shape', clip: first.id, frame: desk.frame, length: 20, form: null, like: second.id, ease: { kind: 'strengths', start: 0.4, end: 0.7 } })">{{ short(first) }} becomes like {{ short(second) }}</button>
      <button v-if="boxed" class="act" data-test="fit-shape" title="As wide and as high as what the other clip inks at the playhead" @click="use({ kind: 'fit_shape', clip: shape.id, to: other.id, frame: desk.frame, away: words ? 16 : 0 })">lay {{ short(shape) }} around {{ short(other) }}</button>
      <button v-if="words" class="act" data-test="fit-words" title="Broken and sized so that they are as large as fits" @click="use({ kind: 'fit_words', clip: words.id, within: shape.id, frame: desk.frame, away: 16 })">fit the words into {{ short(shape) }}</button>
    </div>
  </div>
</template>

<style scoped>
.offers { display: grid; gap: 6px; }
.list { display: flex; flex-wrap: wrap; align-items: center; gap: 4px 6px; }
</style>
