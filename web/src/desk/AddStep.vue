<script setup lang="ts">
/** Adding a step, or a look of several, by typing its name or what it does. */
import { computed, nextTick, ref, watch } from 'vue'
import { answered, api, type Clip, type Edit, type FilmLook } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { isSeen } from '../use/kinds'
import { useTryout } from '../use/tryout'

const props = defineProps<{ clip: Clip }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const open = ref(false)
const typed = ref('')
const at = ref(0)
const field = ref<HTMLInputElement | null>(null)

/** Step kinds, and the motions they can come with, by their own names. */
interface Listed { key: string; kind: string; group: string; ready: string | null; label: string; synonyms: string[]; sort: 'step' | 'look' | 'together' | 'move'; brought?: FilmLook['look'] }
/** Looks that other films keep. */
const others = ref<FilmLook[]>([])
const all = computed<Listed[]>(() => desk.catalogue!.steps.filter((kind) => (!kind.text_only || props.clip.content.kind === 'text') && (!kind.makes_bodies || ['text', 'shape'].includes(props.clip.content.kind))).flatMap((kind) => [
  { key: kind.kind, kind: kind.kind, group: kind.group, ready: null as string | null, label: kind.label, synonyms: kind.synonyms, sort: 'step' as Listed['sort'] },
  ...kind.ready.map((each) => ({ key: `${kind.kind} ${each.name}`, kind: kind.kind, group: kind.group, ready: each.name as string | null, label: each.label, synonyms: each.synonyms, sort: 'step' as Listed['sort'] })),
]).concat(
  desk.catalogue!.together.map((each) => ({ key: `together ${each.id}`, kind: each.id, group: each.group, ready: null, label: each.label, synonyms: each.synonyms, sort: 'together' as const })),
  desk.catalogue!.moves.filter((move) => !move.points).map((move) => ({ key: `move ${move.id}`, kind: move.id, group: 'place', ready: null, label: move.label, synonyms: move.synonyms, sort: 'move' as const })),
  project.settings!.looks.map((look) => ({ key: `look ${look.id}`, kind: look.id, group: 'look', ready: null, label: look.name, synonyms: ['kept in this film', 'look'], sort: 'look' as const })),
  others.value.filter(({ look }) => !project.settings!.looks.some((own) => own.id === look.id)).map(({ film, look }) => ({
    key: `look ${look.id}`, kind: look.id, group: 'look', ready: null, label: look.name, synonyms: [`kept in ${film}`, 'look'], sort: 'look' as const, brought: look })),
  desk.catalogue!.looks.map((look) => ({ key: `look ${look.id}`, kind: look.id, group: 'look', ready: null, label: look.name, synonyms: [look.note, 'look'], sort: 'look' as const })),
))
/** What is rested on is tried on the clip as it would be taken. */
function editOf({ sort, kind, ready, brought }: Listed): Edit {
  const clip = props.clip.id
  if (sort === 'move') return { kind: 'use_move', clips: [clip], move: kind, amount: 1, at: null, frame: 0, alternate: false }
  if (sort === 'look') return { kind: 'use_look', clips: [clip], look: kind, brought }
  if (sort === 'together') return { kind: 'add_together', clip, name: kind, seed: 'tried' }
  return { kind: 'add_step', clip, ready, step: { id: 'tried', kind } }
}
const ORDER = ['arrival', 'surface', 'light', 'colour', 'texture', 'backing', 'place', 'look']
const GROUPS: Record<string, string> = { place: 'where it stands', arrival: 'how it arrives and leaves', surface: 'what it looks like', light: 'how it is lit', colour: 'which colours it has', texture: 'what it is made of', backing: 'what lies behind and beside it', look: 'looks: several steps at once' }
const found = computed(() => {
  const words = typed.value.trim().toLowerCase()
  // Best a name that begins with the words, then another name that does, then one that holds them.
  const rank = (each: { label: string; synonyms: string[] }) => {
    const names = [each.label, ...each.synonyms].map((name) => name.toLowerCase())
    return names[0].startsWith(words) ? 0 : names.some((name) => name.startsWith(words)) ? 1 : names.some((name) => name.includes(words)) ? 2 : 3
  }
  return all.value.map((each) => ({ each, rank: rank(each) })).filter((found) => found.rank < 3).sort((a, b) => a.rank - b.rank || (words ? 0 : ORDER.indexOf(a.each.group) - ORDER.indexOf(b.each.group))).map((found) => found.each)
})

async function start() {
  open.value = true
  typed.value = ''
  at.value = 0
  await nextTick()
  field.value?.focus()
  others.value = (await answered(api.GET('/api/looks'))).filter((each) => each.project !== project.id)
}

const tryout = useTryout()
/** Resting on a step, or reaching it by the arrow keys, plays it on the clip. */
watch(() => (open.value ? found.value[at.value]?.key : null), (key) => {
  const each = all.value.find((one) => one.key === key)
  if (!each) return tryout.leave()
  // A move is from head to tail.
  const { head, length } = props.clip
  tryout.rest(editOf(each), props.clip, each.sort === 'move' ? [head, head + length - 1] : undefined)
})

/** With Shift the list stays open for the next. */
function add(each: Listed, stays: boolean) {
  const { sort, kind, ready, brought } = each
  if (stays) {
    typed.value = ''
    at.value = 0
  } else open.value = false
  tryout.leave()
  if (sort === 'look') return edits.look(desk.clips.filter(isSeen).map((each) => each.id), kind, brought)
  if (sort === 'move') {
    edits.put({ kind: 'use_move', clips: desk.clips.filter(isSeen).map((one) => one.id), move: kind, amount: 1, at: null, frame: 0, alternate: false })
    desk.openRow = props.clip.steps.find((step) => step.kind === 'move')?.id ?? 'move'
    return
  }
  // What was just added is set next.
  desk.openRow = sort === 'together' ? edits.addTogether(props.clip.id, kind) : edits.addStep(props.clip.id, kind, ready)
}

function move(by: number) {
  at.value = Math.min(Math.max(at.value + by, 0), found.value.length - 1)
}
</script>

<template>
  <span class="add">
    <button v-if="!open" class="act" data-test="add-step" @click="start">add a step</button>
    <template v-else>
      <input
        ref="field" v-model="typed" placeholder="blur, move, fade" aria-label="Name of the step" @input="at = 0" @blur="open = false"
        @keydown.esc.stop="open = false" @keydown.enter="found[at] && add(found[at], $event.shiftKey)" @keydown.down.prevent="move(1)" @keydown.up.prevent="move(-1)"
      />
      <ul role="listbox" title="With Shift the list stays for the next">
        <template v-for="(each, i) in found" :key="each.key">
          <li v-if="!typed && found[i - 1]?.group !== each.group" class="group muted" role="presentation">{{ GROUPS[each.group] }}</li>
          <li role="option" :aria-selected="i === at" :class="{ on: i === at }" @pointermove="($event.movementX || $event.movementY) && (at = i)" @pointerdown.prevent="add(each, $event.shiftKey)">
            {{ each.label }} <span class="muted">{{ each.sort === 'look' ? each.synonyms[0].replace(/\.$/, '') : each.synonyms.slice(0, 2).join(', ') }}</span>
          </li>
        </template>
        <li v-if="!found.length" class="muted">No step goes by that name.</li>
      </ul>
    </template>
  </span>
</template>

<style scoped>
.add { position: relative; font-size: 12.5px; }
.add > button:hover { color: var(--bone); }
input { width: 150px; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 2px 8px; }
ul { position: absolute; right: 0; top: 24px; z-index: 20; margin: 0; padding: 4px 0; list-style: none; width: 280px; max-height: 460px; overflow-y: auto; background: var(--raised); border: 1px solid var(--line); }
li { padding: 5px 12px; cursor: pointer; font-size: 13px; }
li .muted { font-size: 12.5px; }
li.group { cursor: default; font-size: 12.5px; padding-top: 9px; background: none; }
li.on, li:not(.group):hover { background: var(--chosen); }
</style>
