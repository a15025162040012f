<script setup lang="ts">
/** What a recipe leaves to be filled in, on the title that has it: its words, colours and sizes. */
import { computed } from 'vue'
import type { Clip, Edit, Recipe } from '../api/client'
import ColourField from '../parts/ColourField.vue'
import Gauge from '../parts/Gauge.vue'
import WordsField from '../parts/WordsField.vue'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { propertyOf } from '../use/properties'

const props = defineProps<{ clip: Clip; recipe: Recipe }>()
const edits = useEdits()
const project = useProject()
const content = computed(() => (props.clip.content.kind === 'text' ? props.clip.content : null)!)

/** What stands at the first of a fill-in's places now. */
function now(fill: Recipe['fill_ins'][number]) {
  const [owner, name, field] = (fill.places[0] ?? '').split('.')
  if (owner === 'line') {
    const line = content.value.text.split('\n').slice(0, Number(name)).reduce((sum, each) => sum + each.length + 1, 0)
    const range = content.value.ranges.find((each) => each.start === line)
    const set = range && Object.entries(range).find(([name]) => name === field)?.[1]
    return set ?? fill.value
  }
  const property = propertyOf(props.clip, { step: owner, name })
  return property?.state === 'fixed' ? property.value : fill.value
}

const media = computed(() => Object.values(project.project!.media).map((each) => ({ title: each.name, value: each.id })))
const pictureNow = (fill: Recipe['fill_ins'][number]) => props.clip.steps.find((step) => step.id === (fill.places[0] ?? '').split('.')[0])?.media ?? null
function give(fill: Recipe['fill_ins'][number], id: string) {
  const made = fill.places.map((place) => ({ kind: 'give_step' as const, clip: props.clip.id, step: place.split('.')[0], media: id }))
  edits.put({ kind: 'several', label: fill.name, edits: made })
}

function put(fill: Recipe['fill_ins'][number], value: string | number, gesture: string) {
  const lines = content.value.text.split('\n').length
  const made = fill.places.flatMap((place): Edit[] => {
    const [owner, name, field] = place.split('.')
    if (owner === 'line') return Number(name) < lines ? [{ kind: 'style_line', clip: props.clip.id, line: Number(name), style: { start: 0, end: 0, [field]: value } }] : []
    if (owner !== 'content' && !props.clip.steps.some((step) => step.id === owner)) return []
    return [{ kind: 'set_property', clip: props.clip.id, step: owner, name, property: { state: 'fixed', value } }]
  }) as Edit[]
  if (made.length) edits.put({ kind: 'several', label: fill.name, edits: made }, gesture)
}
</script>

<template>
  <section class="fills" data-test="fill-ins">
    <p class="head"><span class="muted">Fill in</span> {{ recipe.name }}</p>
    <template v-for="fill in recipe.fill_ins" :key="fill.name">
      <WordsField v-if="fill.kind === 'words'" :clip="clip.id" :text="content.text" label="Words of the recipe" :rows="Math.min(5, content.text.split('\n').length + 1)" />
      <div v-else-if="fill.kind === 'colour'" class="line">
        <span class="muted">{{ fill.name }}</span>
        <ColourField :value="String(now(fill))" :label="fill.name" @change="(value, g) => put(fill, value, g)" />
      </div>
      <div v-else-if="fill.kind === 'picture'" class="line">
        <span class="muted">{{ fill.name }}</span>
        <VSelect :model-value="pictureNow(fill)" :items="media" :aria-label="fill.name" @update:model-value="(id: string) => give(fill, id)" />
      </div>
      <Gauge v-else :label="fill.name" :value="Number(now(fill))" :low="0" :high="200" :least="0" :most="2000" @change="(value, g) => put(fill, value, g)" />
    </template>
  </section>
</template>

<style scoped>
.fills { display: grid; gap: 6px; padding: 12px 0 4px; border-top: 1px solid var(--line); margin-top: 12px; font-size: 12.5px; }
.head { margin: 0; font-weight: 600; }
.head .muted { font-weight: 400; }
</style>
