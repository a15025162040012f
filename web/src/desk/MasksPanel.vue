<script setup lang="ts">
/** Where a step is done: its masks, each a form over the picture or another clip, joined one after the other. */
import { computed } from 'vue'
import type { Clip, Step } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import ValueRow from './ValueRow.vue'
import { inText } from '../use/wording'

const props = defineProps<{ clip: Clip; step: Step }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
type Mask = Step['masks'][number]
type Form = Mask['form']

const FORMS = [['ellipse', 'ellipse'], ['rectangle', 'rectangle'], ['outline', 'drawn'], ['clip', 'another clip'], ['wipe', 'wiped by another']] as const
/** Forms that are taken from another clip. */
const ofAnother = (form: Form) => form === 'clip' || form === 'wipe'
const BY = [['shape', 'its shape'], ['brightness', 'its brightness']] as const
const JOINED = [['add', 'added'], ['subtract', 'taken away'], ['intersect', 'only where both are']] as const
const there = (each: Clip) => desk.isOver(each)
/** The other clips; those that are there at the playhead come first. */
const others = computed(() => project.clips.filter((each) => each.id !== props.clip.id && each.content.kind !== 'treatment')
  .sort((a, b) => Number(there(b)) - Number(there(a))).map((each) => ({ title: each.name, value: each.id })))
const drawing = computed(() => desk.drawing !== 'shape' && desk.drawing?.step === props.step.id)

/** What the masks hold for: this step, or a run of steps that begins with one before it. */
const runs = computed(() => {
  const before = props.clip.steps.slice(0, props.clip.steps.findIndex((each) => each.id === props.step.id))
  const names = before.map((each) => ({ title: `all from ${inText(desk.kindOf(each.kind)?.label ?? each.kind)} on`, value: each.id }))
  return [{ title: 'this step', value: '' }, ...names]
})
const run = computed(() => runs.value.find((each) => each.value === props.step.masked_from)?.value ?? '')

const fresh = () => `m-${crypto.randomUUID().slice(0, 8)}`
/** A further mask adds to those there are. */
const joined = computed(() => (props.step.masks.length ? 'add' : 'intersect'))

/** A new mask lies in the middle of the frame, half as large as it. */
function add(form: 'ellipse' | 'rectangle') {
  const { width, height } = project.settings!
  const fixed = (value: number) => ({ state: 'fixed' as const, value })
  edits.addMask(props.clip.id, props.step.id, {
    id: fresh(), form, joined: joined.value,
    values: { x: fixed(width / 2), y: fixed(height / 2), width: fixed(Math.round(width * 0.5)), height: fixed(Math.round(height * 0.5)), feather: fixed(Math.round(height * 0.08)) },
  })
}
function addClip() {
  if (!others.value.length) project.problem = 'There is no other clip whose shape could be a mask.'
  else edits.addMask(props.clip.id, props.step.id, { id: fresh(), form: 'clip', clip: others.value[0].value, joined: joined.value })
}
/** The same once more, a little aside. */
function again(mask: Mask) {
  const values = { ...mask.values }
  for (const name of ['x', 'y']) {
    const value = values[name]
    if (value?.state === 'fixed') values[name] = { ...value, value: (value.value as number) + 24 }
  }
  edits.addMask(props.clip.id, props.step.id, { ...mask, id: fresh(), values, joined: 'add' })
}
/** Its right edge goes with another clip's left one, until told otherwise beside its middle. */
function tether(mask: Mask) {
  edits.motor(props.clip.id, `${props.step.id}/${mask.id}`, 'x', { kind: 'tether', clip: others.value[0].value, side: 'left', own: 'last' })
}
function form(mask: string, next: Form) {
  if (!ofAnother(next)) return edits.changeMask(props.clip.id, props.step.id, mask, { form: next })
  const now = props.step.masks.find((each) => each.id === mask)?.clip ?? others.value[0]?.value
  if (now) edits.changeMask(props.clip.id, props.step.id, mask, { form: next, looks_at: now })
  else project.problem = 'There is no other clip whose shape could be a mask.'
}
/** A clip's brightness has no edge. */
const rows = (mask: Mask) => desk.catalogue!.masks[mask.form].filter((each) => mask.form !== 'clip' || mask.by === 'shape' || each.name === 'strength')
</script>

<template>
  <div class="masks" data-test="masks">
    <section v-for="(mask, i) in step.masks" :key="mask.id" class="mask">
      <div class="top">
        <span class="name">Mask {{ i + 1 }}</span>
        <button class="flip" :aria-pressed="mask.invert" @click="edits.changeMask(clip.id, step.id, mask.id, { invert: !mask.invert })">invert</button>
        <button v-if="!ofAnother(mask.form) && others.length" class="act" title="One of its edges goes with an edge of another clip" @click="tether(mask)">tether</button>
        <button class="act" @click="again(mask)">duplicate</button>
        <button class="act" @click="edits.removeMask(clip.id, step.id, mask.id)">remove</button>
      </div>
      <ChoiceLine v-if="i" label="Joined" :choices="JOINED" :now="mask.joined" @choose="edits.changeMask(clip.id, step.id, mask.id, { joined: $event })" />
      <ChoiceLine label="Form" :choices="FORMS" :now="mask.form" @choose="form(mask.id, $event)" />
      <template v-if="ofAnother(mask.form)">
        <div class="line">
          <span class="muted">Of</span>
          <VSelect :model-value="mask.clip" :items="others" aria-label="The clip that the mask is taken from" @update:model-value="(other: string) => edits.changeMask(clip.id, step.id, mask.id, { looks_at: other })" />
        </div>
        <div v-if="mask.form === 'wipe'" class="line"><span /><button class="flip" :aria-pressed="mask.held" title="Though the other goes back" @click="edits.changeMask(clip.id, step.id, mask.id, { held: !mask.held })">stays uncovered</button></div>
        <ChoiceLine v-else label="By" :choices="BY" :now="mask.by" @choose="edits.changeMask(clip.id, step.id, mask.id, { by: $event })" />
      </template>
      <ValueRow v-for="each in rows(mask)" :key="each.name" :clip="clip" :step="`${step.id}/${mask.id}`" :parameter="each" />
    </section>
    <div v-if="step.masks.length && runs.length > 1" class="line">
      <span class="muted">Applies to</span>
      <VSelect :model-value="run" :items="runs" aria-label="What the masks hold for" data-test="mask-run" @update:model-value="(first: string) => edits.maskRun(clip.id, step.id, first || null)" />
    </div>
    <div class="more">
      <span class="muted">{{ step.masks.length ? 'Another mask:' : 'Only a part of the picture:' }}</span>
      <button class="act" data-test="add-mask" @click="add('ellipse')">ellipse</button>
      <button class="act" @click="add('rectangle')">rectangle</button>
      <button class="flip" :aria-pressed="drawing" data-test="draw-mask" @click="desk.drawing = drawing ? null : { clip: clip.id, step: step.id }">draw it</button>
      <button class="act" @click="addClip">another clip</button>
    </div>
  </div>
</template>

<style scoped>
.mask { border-left: 2px solid var(--line); padding-left: 10px; margin: 6px 0; }
.top { display: flex; flex-wrap: wrap; gap: 2px 10px; align-items: center; min-height: 28px; }
.name { flex: 1; font-weight: 600; }
.more { display: flex; flex-wrap: wrap; gap: 4px 8px; align-items: center; font-size: 12.5px; padding-top: 4px; }
</style>
