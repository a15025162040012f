<script setup lang="ts">
/** What the series' titles have in common: a palette and type styles. A change is shown before it is made. */
import { computed, ref } from 'vue'
import { answered, api, type Clip } from '../api/client'
import ColourField from '../parts/ColourField.vue'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'

const props = defineProps<{ titles: Clip[] }>()
const project = useProject()
const edits = useEdits()

const palette = computed(() => project.settings!.palette)
const styles = computed(() => project.settings!.type_styles)
const title = computed(() => props.titles[0] ?? null)
const ids = computed(() => props.titles.map((clip) => clip.id))
const set = computed(() => (title.value?.content.kind === 'text' ? title.value.content.type_style : null))
const naming = ref<string | null>(null)

interface Waiting { says: string; names: string[]; make: () => void }
/** A change that reaches other titles waits here until it is agreed to. */
const waiting = ref<Waiting | null>(null)

async function before(what: { colour: string } | { style: string }, says: string, make: () => void) {
  const [[name, id]] = Object.entries(what)
  const referring = await answered(api.GET('/api/projects/{project_id}/referring', { params: { path: { project_id: project.id }, query: { [name]: id } } }))
  if (!referring.length) return make()
  waiting.value = { says, names: referring.map((each) => each.name), make }
}
function agree() {
  waiting.value?.make()
  waiting.value = null
}

const id = () => `s-${crypto.randomUUID().slice(0, 8)}`
function addColour() {
  const content = title.value?.content
  const value = content?.kind === 'text' && content.colour.state === 'fixed' ? String(content.colour.value) : '#f0b440'
  edits.paletteColour({ id: id(), name: `Colour ${palette.value.length + 1}`, value })
}
function keepStyle() {
  const name = naming.value?.trim()
  naming.value = null
  if (name && title.value) edits.saveTypeStyle(title.value.id, id(), name)
}
</script>

<template>
  <section class="series" data-test="series">
    <p class="head">Series style</p>
    <div v-for="colour in palette" :key="colour.id" class="entry">
      <input v-shown="colour.name" class="name" :aria-label="`Name of ${colour.name}`" maxlength="200" @change="edits.paletteColour({ ...colour, name: ($event.target as HTMLInputElement).value || colour.name })" />
      <ColourField :value="colour.value" :label="colour.name" @change="(value) => before({ colour: colour.id }, `${colour.name} becomes ${value}`, () => edits.paletteColour({ ...colour, value }))" />
      <span class="acts">
        <button v-if="title" class="act" @click="edits.usePaletteColour(ids, 'content', 'colour', colour.id)">use on the words</button>
        <button class="act" @click="edits.removePaletteColour(colour.id)">remove</button>
      </span>
    </div>
    <button class="act" @click="addColour">add a colour</button>
    <div v-for="style in styles" :key="style.id" class="style" :class="{ on: set === style.id }">
      <span class="name">{{ style.name }}</span>
      <span class="muted says">{{ style.look.typeface }}, {{ style.surface.length ? style.surface.map((step) => step.kind).join(', ') : 'no surface' }}</span>
      <span class="acts">
        <button v-if="title && set !== style.id" class="act" @click="edits.useTypeStyle(ids, style.id)">set in it</button>
        <button v-if="title && set === style.id" class="act" @click="before({ style: style.id }, `${style.name} becomes as “${title.name.slice(0, 20)}” is set now`, () => edits.saveTypeStyle(title!.id, style.id, style.name))">take over from “{{ title.name.slice(0, 12) }}”</button>
        <button v-if="set === style.id" class="act" @click="edits.useTypeStyle(ids, null)">leave it</button>
        <button class="act" @click="edits.removeTypeStyle(style.id)">remove</button>
      </span>
    </div>
    <template v-if="title">
      <input v-if="naming !== null" v-model="naming" class="keep" placeholder="its name" aria-label="Name of the type style" maxlength="200" @vue:mounted="({ el }: any) => el.focus()" @keydown.enter="keepStyle" @keydown.esc.stop="naming = null" @blur="naming = null" />
      <button v-else class="act" @click="naming = ''">keep how “{{ title.name.slice(0, 18) }}” is set as a type style</button>
    </template>
    <div v-if="waiting" class="waiting" role="alertdialog" :aria-label="waiting.says" data-test="will-change">
      <p>{{ waiting.says }}. This changes {{ waiting.names.length }} {{ waiting.names.length === 1 ? 'title' : 'titles' }}:</p>
      <p class="muted">{{ waiting.names.slice(0, 8).join(', ') }}<template v-if="waiting.names.length > 8"> and {{ waiting.names.length - 8 }} more</template></p>
      <button class="act" @click="agree">change them</button> <button class="act" @click="waiting = null">leave them</button>
    </div>
  </section>
</template>

<style scoped>
.series { display: flex; flex-direction: column; align-items: flex-start; gap: 6px; padding: 12px 0; border-top: 1px solid var(--line); font-size: 12.5px; }
.head { margin: 0; font-weight: 600; }
.entry, .style { width: 100%; display: grid; grid-template-columns: 96px 1fr; gap: 2px 8px; align-items: center; }
.style { grid-template-columns: 1fr; border-left: 2px solid var(--line); padding-left: 8px; }
.style.on { border-color: var(--bone); }
.acts { grid-column: 1 / -1; display: flex; flex-wrap: wrap; gap: 2px 12px; }
.name { font-weight: 600; }
input { background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 2px 6px; min-width: 0; }
input.name { width: 96px; }
.waiting { border: 1px solid var(--muted); padding: 8px 10px; width: 100%; }
.waiting p { margin: 0 0 6px; }
</style>
