<script setup lang="ts">
/** What a step can be given: a picture of the film, or shapes of an SVG. */
import { computed, ref } from 'vue'
import { answered, api, said, type Clip, type Step } from '../api/client'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { useUpload } from '../use/upload'

const props = defineProps<{ clip: Clip; step: Step; takes: string }>()
const project = useProject()
const edits = useEdits()
const file = ref<HTMLInputElement | null>(null)
const parts = ref<{ name: string; outline: string; used: boolean }[]>([])

const named = (tables: boolean) => Object.values(project.project!.media).filter((each) => (tables ? each.kind === 'table' : each.kind === 'still' || each.kind === 'video')).map((each) => ({ title: each.name, value: each.id }))
const media = computed(() => named(false))
const tables = computed(() => named(true))
const table = ref<HTMLInputElement | null>(null)
const upload = useUpload()

async function readTable(event: Event) {
  const field = event.target as HTMLInputElement
  const added = await upload.add([...(field.files ?? [])])
  field.value = ''
  const first = added.find((each) => each.kind === 'table')
  if (first) edits.give(props.clip.id, props.step.id, { media: first.id })
}

async function read(event: Event) {
  const field = event.target as HTMLInputElement
  const [drawing] = field.files ?? []
  field.value = ''
  if (!drawing) return
  try {
    const found = await answered(api.POST('/api/drawing-parts', { body: { text: await drawing.text() } }))
    parts.value = found.map((each) => ({ ...each, used: true }))
    use()
  } catch (error) { project.problem = said(error) }
}
function use() {
  const outline = parts.value.filter((each) => each.used).map((each) => each.outline).join(' ')
  if (outline) edits.give(props.clip.id, props.step.id, { drawing: outline })
}
</script>

<template>
  <div v-if="takes === 'picture'" class="line">
    <span class="muted">Picture</span>
    <VSelect :model-value="step.media ?? null" :items="media" placeholder="a shot or still of the film" aria-label="Picture it is filled with" @update:model-value="(id: string) => edits.give(clip.id, step.id, { media: id })" />
  </div>
  <div v-else-if="takes === 'table'" class="line">
    <span class="muted">Table</span>
    <VSelect v-if="tables.length" :model-value="step.media ?? null" :items="tables" placeholder="a LUT" aria-label="LUT" @update:model-value="(id: string) => edits.give(clip.id, step.id, { media: id })" />
    <button class="act" @click="table!.click()">{{ tables.length ? 'add one' : 'read a .cube file' }}</button>
    <input ref="table" type="file" accept=".cube" hidden data-test="cube" @change="readTable" />
  </div>
  <div v-else class="line">
    <span class="muted">Drawing</span>
    <button class="act" @click="file!.click()">{{ step.drawing ? 'another SVG' : 'take shapes from an SVG' }}</button>
    <input ref="file" type="file" accept=".svg,image/svg+xml" hidden data-test="svg" @change="read" />
  </div>
  <div v-if="parts.length > 1" class="parts">
    <button v-for="each in parts" :key="each.outline" class="flip" :aria-pressed="each.used" @click="each.used = !each.used; use()">{{ each.name }}</button>
  </div>
</template>

<style scoped>
.line button { text-align: left; }
.parts { display: flex; flex-wrap: wrap; gap: 2px 12px; padding-left: 93px; font-size: 12.5px; max-height: 80px; overflow-y: auto; }
</style>
