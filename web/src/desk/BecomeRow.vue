<script setup lang="ts">
/** What a single piece does while the film runs: a shape becomes another, any piece leaves and returns. */
import { computed } from 'vue'
import type { Clip, Edit } from '../api/client'
import { useDesk } from '../stores/desk'
import { newId, useEdits } from '../use/edits'
import { useProject } from '../stores/project'
import { useTryout } from '../use/tryout'

const props = defineProps<{ clip: Clip }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const tryout = useTryout()

const form = computed(() => (props.clip.content.kind === 'shape' ? props.clip.content.choices.form ?? 'rectangle' : ''))
const INTO = ['rectangle', 'ellipse', 'polygon', 'star'] as const
type Become = Extract<Edit, { kind: 'become_shape' }>
const become = (into: Become['form']): Become => ({ kind: 'become_shape', clip: props.clip.id, frame: desk.frame, length: 20, form: into, like: null, ease: { kind: 'strengths', start: 0.4, end: 0.7 } })

/** Ways to come back by. */
const BACK = [['drop-settle', 'falling'], ['slide-from-left', 'from the left'], ['slide-from-right', 'from the right'], ['pulse-in', 'in a pulse']] as const
const AWAY = 0.5
const returns = (ready: string, seed: string): Edit => ({ kind: 'leave_and_return', clip: props.clip.id, leaves: desk.frame, returns: desk.frame + Math.round(AWAY * project.rate), step: 'placement', ready, seed })
function use(edit: Edit) {
  tryout.leave()
  edits.put(edit)
}
</script>

<template>
  <div class="offers" data-test="become">
    <div v-if="clip.content.kind === 'shape'" class="list">
      <span class="muted">from here it becomes</span>
      <button
        v-for="each in INTO.filter((one) => one !== form)" :key="each" class="act" :data-test="`become-${each}`" title="Within 20 frames from the playhead"
        v-rests="[() => tryout.whole(become(each), clip), tryout.leave]" @click="use(become(each))"
      >{{ each }}</button>
    </div>
    <div v-if="desk.isOver(clip)" class="list">
      <span class="muted">leaves here, and returns</span>
      <button
        v-for="[ready, word] in BACK" :key="ready" class="act" :data-test="`return-${ready}`" title="Half a second later"
        v-rests="[() => tryout.whole(returns(ready, 'tried'), clip), tryout.leave]" @click="use(returns(ready, newId()))"
      >{{ word }}</button>
    </div>
  </div>
</template>

<style scoped>
.offers { display: grid; gap: 6px; }
.list { display: flex; flex-wrap: wrap; align-items: center; gap: 4px 6px; }
</style>
