<script setup lang="ts">
/** From which side a light shines, and at what: resting on a side shows it, a click keeps it. */
import { computed, ref } from 'vue'
import type { Clip, Edit } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { useSurroundings } from '../use/surroundings'
import { useTryout } from '../use/tryout'

const props = defineProps<{ clip: Clip }>()
const project = useProject()
const desk = useDesk()
const edits = useEdits()
const tryout = useTryout()

type Set = Extract<Edit, { kind: 'set_light' }>
const SIDES: Set['side'][] = ['above left', 'above right', 'left', 'right', 'before', 'below', 'behind']
const placed = computed(() => props.clip.content.kind === 'light' && props.clip.content.choices.sort !== 'everywhere')
const now = useSurroundings(() => placed.value, () => props.clip.id)
const stands = computed(() => now.value?.planes ?? [])
const onto = ref<string | null>(null)
const edit = (side: Set['side']): Set => ({ kind: 'set_light', clip: props.clip.id, side, onto: stands.value.some((each) => each.clip === onto.value) ? onto.value : null, frame: desk.frame })
function use(side: Set['side']) {
  tryout.leave()
  edits.put(edit(side))
}
/** Without anything in space or solid there is nothing for it to shine on. */
const shinesOn = computed(() => project.clips.some((each) => each.steps.some((step) => ['stand', 'solid'].includes(step.kind) && step.on)))
</script>

<template>
  <div v-if="placed || !shinesOn" class="offers" data-test="light-sides">
    <template v-if="placed">
      <div class="list">
        <button v-for="side in SIDES" :key="side" class="act" :data-side="side" @pointermove="tryout.over($event, side, edit(side), clip)" @pointerleave="tryout.left()" @click="use(side)">{{ side }}</button>
      </div>
      <div class="list at">
        <label class="muted">shines at <select v-model="onto" data-test="light-onto">
          <option :value="null">the middle of the frame</option>
          <option v-for="each in stands" :key="each.clip" :value="each.clip">{{ each.name }}</option>
        </select></label>
        <button v-if="!now?.camera" class="act" data-test="see-by" title="A camera over the film, which can move" @click="desk.select(edits.addCamera(desk.frame))">see it by a camera</button>
        <button class="act" @click="desk.around = !desk.around">{{ desk.around ? 'only the picture' : 'look around' }} <kbd>A</kbd></button>
      </div>
    </template>
    <p v-if="!shinesOn" class="muted">Nothing stands in space or is solid yet: add the step “stand in space” or “make solid” to a clip.</p>
  </div>
</template>

<style scoped>
.offers p { margin: 6px 0 0; }
.list { display: flex; flex-wrap: wrap; gap: 4px; align-items: center; }
.at { margin-top: 6px; }
select { max-width: 150px; }
</style>
