<script setup lang="ts">
/** From which side a light shines, and at what: resting on a side shows it, a click keeps it. */
import { computed } from 'vue'
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
type Side = NonNullable<Set['side']>
const SIDES: Side[] = ['above left', 'above right', 'left', 'right', 'before', 'below', 'behind']
const placed = computed(() => props.clip.content.kind === 'light' && props.clip.content.choices.sort !== 'everywhere')
const now = useSurroundings(() => placed.value, () => props.clip.id)
const stands = computed(() => now.value?.planes ?? [])
/** What it points at, where that is the middle of something. */
const own = computed(() => now.value?.lights.find((each) => each.clip === props.clip.id) ?? null)
const points = computed(() => own.value?.cone != null)
const centre = (corners: number[][], n: number) => corners.reduce((sum, each) => sum + each[n], 0) / corners.length
const onto = computed<string | null>(() => stands.value.find((each) => own.value?.aim.every((at, n) => Math.abs(at - centre(each.corners, n)) < 1))?.clip ?? null)
const FRAME = 'the middle of the frame'
const targets = computed(() => [{ title: FRAME, value: FRAME }, ...stands.value.map((each) => ({ title: each.name, value: each.clip }))])
const edit = (side: Side | null, at: string | null): Set => ({ kind: 'set_light', clip: props.clip.id, side, onto: at, frame: desk.frame })
function use(side: Side) {
  tryout.leave()
  edits.put(edit(side, onto.value))
}
/** Without anything in space or solid there is nothing for it to shine on. */
const shinesOn = computed(() => project.clips.some((each) => each.steps.some((step) => ['stand', 'solid'].includes(step.kind) && step.on)))
</script>

<template>
  <div v-if="placed || !shinesOn" class="offers" data-test="light-sides">
    <template v-if="placed">
      <div class="list">
        <button v-for="side in SIDES" :key="side" class="act" :data-side="side" v-rests="[() => tryout.whole(edit(side, onto), clip), tryout.leave]" @click="use(side)">{{ side }}</button>
      </div>
      <div class="list at">
        <template v-if="points">
          <span class="muted">points at</span>
          <VSelect class="onto" :model-value="onto ?? FRAME" :items="targets" aria-label="Points at" data-test="light-onto" @update:model-value="(value: string) => edits.put(edit(null, value === FRAME ? null : value))" />
        </template>
        <button v-if="!now?.camera" class="act" data-test="see-by" title="A camera over this clip, which can move" @click="desk.select(edits.addCamera(clip.id))">add camera</button>
        <button class="act" @click="desk.around = !desk.around">{{ desk.around ? 'close 3D view' : '3D view' }} <kbd>A</kbd></button>
      </div>
    </template>
    <p v-if="!shinesOn" class="muted">Nothing stands in space or is solid yet: add the step “place in 3D” or “extrude” to a clip.</p>
  </div>
</template>

<style scoped>
.offers p { margin: 6px 0 0; }
.list { display: flex; flex-wrap: wrap; gap: 4px; align-items: center; }
.at { margin-top: 6px; }
.onto { flex: 0 1 200px; }
</style>
