<script setup lang="ts">
/** A track's name, whether it is seen and whether it can be changed. Drag it to reorder; drag its foot to make it taller. */
import { computed, nextTick, ref } from 'vue'
import type { Track } from '../api/client'
import { byArrows, byPlace } from '../use/arrows'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { followDrag } from '../use/gesture'
import { HEADER } from '../use/view'

const props = defineProps<{ track: Track; height: number; squeezed: boolean; depth: number }>()
/** The tracks it can change places with: of the film, or of the group that it is in. */
const siblings = computed(() => project.tracks.filter((each) => (each.within ?? null) === (props.track.within ?? null)))
const project = useProject()
const edits = useEdits()
const naming = ref(false)
const field = ref<HTMLInputElement | null>(null)
const dragging = ref(false)
/** Whether anything on it can be heard. */
const sounds = computed(() => project.clips.some((clip) => clip.track === props.track.id && (clip.content.kind === 'sound' || (clip.content.kind === 'footage' && Boolean(project.project!.media[clip.content.media]?.sound)))))
const pure = computed(() => sounds.value && project.clips.every((clip) => clip.track !== props.track.id || clip.content.kind === 'sound'))
let loud = 0
function level(press: PointerEvent) {
  loud = props.track.gain
  followDrag(press, ({ dx, event, gesture }) => edits.changeTrack(props.track.id, { gain: Math.round(Math.min(24, Math.max(-48, loud + dx * (event.ctrlKey ? 0.02 : 0.2))) * 10) / 10 }, gesture))
}
const empty = computed(() => !project.clips.some((clip) => clip.track === props.track.id))

async function name() {
  naming.value = true
  await nextTick()
  field.value?.select()
}

function named(keep: boolean) {
  const typed = field.value?.value.trim()
  if (naming.value && keep && typed && typed !== props.track.name) edits.changeTrack(props.track.id, { name: typed })
  naming.value = false
}

function reorder(press: PointerEvent) {
  if ((press.target as Element).closest('button, input')) return
  const rows = siblings.value.flatMap((each) => document.querySelector<HTMLElement>(`[data-track="${each.id}"]`) ?? [])
  followDrag(press, () => { dragging.value = true }, (moved) => {
    dragging.value = false
    if (!moved) return
    const mine = siblings.value.findIndex((each) => each.id === props.track.id)
    const to = rows.filter((row, i) => i !== mine && row.getBoundingClientRect().top + row.offsetHeight / 2 < lastY).length
    if (to !== mine) edits.moveTrack(props.track.id, to)
  })
}
function byKey(event: KeyboardEvent) {
  const by = byPlace(event)
  if (!by) return
  const to = siblings.value.findIndex((each) => each.id === props.track.id) + by
  if (to >= 0 && to < siblings.value.length) edits.moveTrack(props.track.id, to)
}
const stood = ref(0)
const setHeight = (height: number, gesture: string) => edits.changeTrack(props.track.id, { height: Math.min(240, Math.max(20, Math.round(height))) }, gesture)
let lastY = 0
const follow = (event: PointerEvent) => { lastY = event.clientY }

function grow(press: PointerEvent) {
  const from = props.height
  followDrag(press, ({ dy, gesture }) => setHeight(from + dy, gesture))
}
</script>

<template>
  <div class="header" :class="{ dragging, off: track.hidden }" :style="{ width: `${HEADER}px`, paddingLeft: `${14 + 12 * depth}px` }" @pointerdown="reorder" @pointermove="follow" @dblclick="($event.target as Element).closest('button, input') || name()">
    <template v-if="!squeezed">
      <input v-if="naming" ref="field" v-shown="track.name" maxlength="200" aria-label="Name of the track" @blur="named(true)" @keydown.enter="named(true)" @keydown.esc.stop="named(false)" />
      <span
        v-else class="name" role="button" tabindex="0" :aria-label="`Track ${track.name}`" aria-keyshortcuts="Enter Alt+ArrowUp Alt+ArrowDown"
        :title="`${track.name}: drag, or Alt with an arrow, to reorder; double-click, or Enter, to name`" @keydown="byKey" @keydown.enter.stop.prevent="name"
      >{{ track.name }}</span>
      <span class="acts">
        <button v-if="empty" class="gone" :aria-label="`Remove track ${track.name}`" title="Remove this empty track" @click="edits.removeTrack(track.id)">
          <svg width="12" height="14"><path d="M2.500 7H9.500" /></svg>
        </button>
        <button
          v-if="sounds && height >= 26" class="gain numbers" :class="{ set: track.gain !== 0 }" role="slider" :aria-valuenow="track.gain" aria-valuemin="-48" aria-valuemax="24" :aria-label="`Gain of track ${track.name}`" :title="`${track.gain} dB: drag, or the arrows`" data-test="track-gain"
          @pointerdown.stop="level" @keydown="byArrows($event, (x, y, gesture, begins) => { if (begins) loud = track.gain; edits.changeTrack(track.id, { gain: Math.min(24, Math.max(-48, loud + x - y)) }, gesture) })"
        >{{ track.gain > 0 ? '+' : '' }}{{ track.gain }}</button>
        <button v-if="sounds" :class="{ set: track.alone }" :aria-pressed="track.alone" :aria-label="`Hear track ${track.name} alone`" :title="track.alone ? 'Hear the others too' : 'Hear this track alone'" data-test="track-alone" @click="edits.changeTrack(track.id, { alone: !track.alone })">
          <svg width="14" height="14"><path d="M2 10.500V6.500M5.300 12V4M8.700 9.500V7.500M12 9V8" /></svg>
        </button>
        <button v-if="sounds && !pure" :class="{ set: track.muted }" :aria-pressed="track.muted" :aria-label="`Mute track ${track.name}`" :title="track.muted ? 'Hear this track' : 'Do not hear this track'" data-test="track-muted" @click="edits.changeTrack(track.id, { muted: !track.muted })">
          <svg width="14" height="14"><path :d="track.muted ? 'M1.500 8H12.500' : 'M1.500 8L4 4.500L6.500 10.500L9 5.500L12.500 8'" /></svg>
        </button>
        <button :class="{ set: track.hidden }" :aria-pressed="track.hidden" :aria-label="`Hide track ${track.name}`" :title="track.hidden ? 'Show this track' : 'Hide this track'" @click="edits.changeTrack(track.id, { hidden: !track.hidden })">
          <svg width="14" height="14"><path :d="track.hidden ? 'M1.500 6Q7 10.500 12.500 6' : 'M1.500 8Q7 2.500 12.500 8M7 6.500V9'" /></svg>
        </button>
        <button :class="{ set: track.locked }" :aria-pressed="track.locked" :aria-label="`Lock track ${track.name}`" :title="track.locked ? 'Unlock this track' : 'Lock this track'" @click="edits.changeTrack(track.id, { locked: !track.locked })">
          <svg width="12" height="14"><path :d="track.locked ? 'M2 4H10M2 7H10M2 10H10' : 'M2 4H10M2 10H10'" /></svg>
        </button>
      </span>
      <i
        class="foot" role="separator" tabindex="0" aria-orientation="horizontal" :aria-label="`Height of track ${track.name}`" :aria-valuenow="height" aria-valuemin="20" aria-valuemax="240"
        title="Drag the track taller" @pointerdown.stop="grow" @keydown="byArrows($event, (_x, y, gesture, begins) => { if (begins) stood = height; setHeight(stood + 4 * y, gesture) })"
      />
    </template>
  </div>
</template>

<style scoped>
.header { flex: none; position: sticky; left: 0; z-index: 3; background: var(--soot); padding: 0 6px 0 14px; font-size: 12.5px; display: flex; align-items: center; gap: 3px; color: var(--muted); touch-action: none; }
.name { flex: 1; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; cursor: grab; }
.off .name { text-decoration: line-through; opacity: 0.7; }
.dragging { background: var(--raised); }
input { width: 100%; background: var(--raised); border: 1px solid var(--line); border-radius: 2px; padding: 1px 4px; }
.acts { position: absolute; right: 4px; top: 50%; transform: translateY(-50%); display: flex; align-items: center; }
button { padding: 3px 2px; opacity: 0; background: var(--soot); }
.header:hover button, button:focus-visible, button.set { opacity: 1; }
svg { display: block; fill: none; stroke: var(--muted); stroke-width: 1.2; }
.gain { font-size: 10.5px; color: var(--muted); cursor: ew-resize; touch-action: none; min-width: 20px; text-align: right; }
.gain.set { color: var(--bone); }
button:hover svg, .set svg { stroke: var(--bone); }
.foot { position: absolute; left: 0; right: 0; bottom: -3px; height: 6px; cursor: row-resize; }
.foot:focus-visible { background: var(--muted); outline: none; }
</style>
