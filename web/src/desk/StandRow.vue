<script setup lang="ts">
/** A clip that stands in space: how far it is, how fast it goes by, and what it can stand behind or in front of. */
import { computed } from 'vue'
import type { Clip, Edit } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { px, useSurroundings } from '../use/surroundings'
import { useTryout } from '../use/tryout'

const props = defineProps<{ clip: Clip }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const tryout = useTryout()
const now = useSurroundings(() => true, () => props.clip.id)
const own = computed(() => now.value?.planes.find((each) => each.clip === props.clip.id) ?? null)
const others = computed(() => now.value?.planes.filter((each) => each.clip !== props.clip.id) ?? [])
const WHERE = ['behind', 'in front of'] as const
const edit = (where: (typeof WHERE)[number], other: string): Extract<Edit, { kind: 'stand_to' }> => ({ kind: 'stand_to', clip: props.clip.id, other, where, frame: desk.local, gap: 200, keeps: true })
function use(where: (typeof WHERE)[number], other: string) {
  tryout.leave()
  edits.put(edit(where, other))
}
function light() {
  const lamp = edits.addLight(props.clip.id)
  edits.put({ kind: 'set_light', clip: lamp, side: 'above left', onto: props.clip.id, frame: desk.frame })
  desk.select(lamp)
}
/** A light or a camera of the film does not reach into a group. */
const ofFilm = computed(() => project.project!.tracks.find((track) => track.id === props.clip.track)?.within == null)
const says = computed(() => {
  if (!own.value) return ''
  if (own.value.ahead <= 0) return 'It stands behind the camera and is not seen.'
  const disc = now.value?.sharp ? ` A point of it is spread over ${own.value.disc.toFixed(1)} px.` : ''
  return `${px(own.value.ahead)} before the camera; goes by ${own.value.passes.toFixed(1)} px when the camera goes 100 px aside.${disc}`
})
</script>

<template>
  <div v-if="own" class="offers" data-test="stands">
    <p class="muted" data-test="stands-says">{{ says }}</p>
    <div v-for="where in WHERE" v-show="others.length" :key="where" class="list">
      <span class="muted">{{ where }}</span>
      <button v-for="other in others" :key="other.clip" class="act" :data-test="`${where === 'behind' ? 'behind' : 'before'}-${other.clip}`" title="200 px away from it, as large on the picture as it is now" v-rests="[() => tryout.whole(edit(where, other.clip), clip), tryout.leave]" @click="use(where, other.clip)">{{ other.name }}</button>
    </div>
    <div class="list">
      <button v-if="ofFilm" class="act" data-test="light-it" title="A spot on it from above on the left; what it stands beside is lit too" @click="light">add lights</button>
      <button v-if="ofFilm && !now?.camera" class="act" data-test="see-it" title="A camera over this clip, which can move" @click="desk.select(edits.addCamera(clip.id))">add camera</button>
      <button class="act" data-test="look-around" @click="desk.around = !desk.around">{{ desk.around ? 'close 3D view' : '3D view' }} <kbd>A</kbd></button>
    </div>
  </div>
</template>

<style scoped>
.offers p { margin: 0 0 6px; }
.list { display: flex; flex-wrap: wrap; gap: 4px; align-items: center; margin-bottom: 4px; }
</style>
