<script setup lang="ts">
/** Where a step is done: its masks, each a form over the picture or another clip. */
import { computed } from 'vue'
import type { Clip, Step } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import ValueRow from './ValueRow.vue'

const props = defineProps<{ clip: Clip; step: Step }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()

const FORMS = [['ellipse', 'ellipse'], ['rectangle', 'rectangle'], ['clip', 'another clip']] as const
const BY = [['shape', 'its shape'], ['brightness', 'its brightness']] as const
const others = computed(() => project.clips.filter((each) => each.id !== props.clip.id && each.content.kind !== 'treatment').map((each) => ({ title: each.name, value: each.id })))

/** A new mask lies in the middle of the frame, half as large as it. */
function add() {
  const { width, height } = project.settings!
  const fixed = (value: number) => ({ state: 'fixed' as const, value })
  edits.addMask(props.clip.id, props.step.id, {
    id: `m-${crypto.randomUUID().slice(0, 8)}`, form: 'ellipse',
    values: { x: fixed(width / 2), y: fixed(height / 2), width: fixed(Math.round(width * 0.5)), height: fixed(Math.round(height * 0.5)), feather: fixed(Math.round(height * 0.08)) },
  })
}
function form(mask: string, next: 'ellipse' | 'rectangle' | 'clip') {
  if (next !== 'clip') return edits.changeMask(props.clip.id, props.step.id, mask, { form: next })
  const first = others.value[0]
  if (first) edits.changeMask(props.clip.id, props.step.id, mask, { form: 'clip', looks_at: first.value })
  else project.problem = 'There is no other clip whose shape could be a mask.'
}
</script>

<template>
  <div class="masks" data-test="masks">
    <section v-for="(mask, i) in step.masks" :key="mask.id" class="mask">
      <div class="top">
        <span class="name">Mask {{ i + 1 }}</span>
        <button class="flip" :aria-pressed="mask.invert" @click="edits.changeMask(clip.id, step.id, mask.id, { invert: !mask.invert })">everywhere else</button>
        <button class="act" @click="edits.removeMask(clip.id, step.id, mask.id)">remove</button>
      </div>
      <ChoiceLine v-if="mask.form !== 'outline'" label="Form" :choices="FORMS" :now="mask.form" @choose="form(mask.id, $event)" />
      <template v-if="mask.form === 'clip'">
        <div class="line">
          <span class="muted">Of</span>
          <VSelect :model-value="mask.clip" :items="others" aria-label="The clip whose shape is the mask" @update:model-value="(other: string) => edits.changeMask(clip.id, step.id, mask.id, { looks_at: other })" />
        </div>
        <ChoiceLine label="By" :choices="BY" :now="mask.by" @choose="edits.changeMask(clip.id, step.id, mask.id, { by: $event })" />
      </template>
      <ValueRow v-for="each in desk.catalogue!.masks[mask.form]" :key="each.name" :clip="clip" :step="`${step.id}/${mask.id}`" :parameter="each" />
    </section>
    <button class="act" data-test="add-mask" @click="add">{{ step.masks.length ? 'add another mask' : 'only a part of the picture' }}</button>
  </div>
</template>

<style scoped>
.mask { border-left: 2px solid var(--line); padding-left: 10px; margin: 6px 0; }
.top { display: flex; gap: 10px; align-items: center; min-height: 28px; }
.name { flex: 1; font-weight: 600; }
</style>
