<script setup lang="ts">
/** Choosing a typeface: searched by name or character, each shown on the title's own words. */
import { computed, nextTick, ref } from 'vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'

const props = defineProps<{ face: string; words: string; weight: number }>()
const emit = defineEmits<{ choose: [face: string] }>()
const desk = useDesk()
const project = useProject()
const open = ref(false)
const typed = ref('')
const at = ref(0)
const field = ref<HTMLInputElement | null>(null)
const files = ref<HTMLInputElement | null>(null)

const families = computed(() => desk.catalogue!.families)
const now = computed(() => families.value.find((each) => each.id === props.face))
const found = computed(() => {
  const words = typed.value.trim().toLowerCase()
  return families.value.filter((each) => `${each.name} ${each.character}`.toLowerCase().includes(words))
})
const sample = (id: string) => `/api/typefaces/${id}/sample?words=${encodeURIComponent(props.words.split('\n')[0].slice(0, 28) || 'Words')}&weight=${Math.round(props.weight)}`

async function start() {
  open.value = true
  typed.value = ''
  at.value = Math.max(0, families.value.findIndex((each) => each.id === props.face))
  await nextTick()
  field.value?.focus()
}
function choose(id: string) {
  open.value = false
  emit('choose', id)
}
function move(by: number) {
  at.value = Math.min(Math.max(at.value + by, 0), found.value.length - 1)
}
async function add() {
  const [file] = files.value!.files ?? []
  files.value!.value = ''
  if (!file) return
  const form = new FormData()
  form.append('files', file)
  const answer = await fetch('/api/typefaces', { method: 'POST', body: form })
  const told = await answer.json()
  if (!answer.ok) { project.problem = told.detail; return }
  await desk.loadCatalogue()
  choose(told.id)
}
</script>

<template>
  <div class="picker">
    <button v-if="!open" class="now" data-test="typeface" :title="now?.character" @click="start">{{ now?.name ?? `${face} (missing)` }}</button>
    <template v-else>
      <input ref="field" v-model="typed" placeholder="name or character" aria-label="Search typefaces" @input="at = 0" @blur="open = false" @keydown.esc.stop="open = false" @keydown.enter="found[at] && choose(found[at].id)" @keydown.down.prevent="move(1)" @keydown.up.prevent="move(-1)" />
      <ul role="listbox" aria-label="Typefaces">
        <li v-for="(each, i) in found" :key="each.id" role="option" :aria-selected="i === at" :class="{ on: i === at }" @pointermove="at = i" @pointerdown.prevent="choose(each.id)">
          <img :src="sample(each.id)" :alt="each.name" width="264" height="34" loading="lazy" />
          <span class="muted">{{ each.name }}, {{ each.character }}</span>
        </li>
        <li v-if="!found.length" class="muted">No typeface goes by that name.</li>
        <li class="own"><button class="act" @pointerdown.prevent @click="files!.click()">add one of your own: TTF, OTF or WOFF2</button></li>
      </ul>
    </template>
    <input ref="files" type="file" accept=".ttf,.otf,.woff2,.woff" hidden @change="add" />
  </div>
</template>

<style scoped>
.picker { position: relative; min-width: 0; }
.now { width: 100%; text-align: left; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 4px 8px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
input { width: 100%; background: var(--soot); border: 1px solid var(--muted); border-radius: 2px; padding: 4px 8px; }
ul { position: absolute; right: 0; top: 28px; z-index: 30; margin: 0; padding: 4px 0; list-style: none; width: 292px; max-height: 420px; overflow-y: auto; background: var(--raised); border: 1px solid var(--line); }
li { padding: 6px 12px; cursor: pointer; font-size: 12.5px; }
li img { display: block; object-fit: contain; object-position: left center; }
li.on { background: var(--chosen); }
.own { border-top: 1px solid var(--line); cursor: default; }
</style>
