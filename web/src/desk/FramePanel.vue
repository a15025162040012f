<script setup lang="ts">
/** The film's own frame and rate: what is in it is fitted to another. Or a copy of the film in another frame. */
import { computed, ref } from 'vue'
import { answered, api, said } from '../api/client'
import Sheet from '../parts/Sheet.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { rateName, RATES, SIZES, sizeOf } from '../use/frames'

const project = useProject()
const desk = useDesk()
const edits = useEdits()
const settings = computed(() => project.settings!)
const size = ref(`${settings.value.width}×${settings.value.height}`)
const rate = ref(rateName(settings.value.rate))
const sizes = computed(() => [...new Set([`${settings.value.width}×${settings.value.height}`, ...SIZES])])
const rates = computed(() => [...new Set([rateName(settings.value.rate), ...Object.keys(RATES)])])

const change = computed(() => {
  const sides = sizeOf(size.value)
  const other = RATES[rate.value]
  return {
    ...(sides && (sides.width !== settings.value.width || sides.height !== settings.value.height) ? sides : {}),
    ...(other && rate.value !== rateName(settings.value.rate) ? { rate: other } : {}),
  }
})
const same = computed(() => !Object.keys(change.value).length)

function apply() {
  edits.reframe(change.value)
  desk.framing = false
}

async function copy() {
  try {
    const made = await answered(api.POST('/api/projects/{project_id}/copy', { params: { path: { project_id: project.id } }, body: change.value }))
    const address = new URL(location.href)
    address.searchParams.set('project', made.id)
    location.assign(address)
  } catch (error) {
    project.problem = said(error)
  }
}
</script>

<template>
  <Sheet label="The film's frame" :width="360" @close="desk.framing = false"><div class="panel">
    <p class="head">The film’s frame</p>
    <div class="line"><span class="muted">Size, px</span><VSelect v-model="size" :items="sizes" aria-label="Frame size" /></div>
    <div class="line"><span class="muted">Frames a second</span><VSelect v-model="rate" :items="rates" aria-label="Frames per second" /></div>
    <p class="muted">Titles scale with the frame and keep their places in the safe area; every clip keeps its moments. One undo takes it back.</p>
    <div class="acts">
      <VBtn variant="flat" :disabled="same" data-test="reframe" @click="apply">Fit the film to it</VBtn>
      <button class="act" :disabled="same" data-test="copy-frame" @click="copy">Make a copy in it</button>
      <button class="act" @click="desk.framing = false">Close</button>
    </div>
  </div></Sheet>
</template>

<style scoped>
.panel { padding: 14px 16px; display: grid; gap: 8px; }
.head { font-weight: 600; }
p { margin: 0; font-size: 12.5px; line-height: 1.45; }
.acts { display: flex; gap: 8px; align-items: center; }
.line { display: grid; grid-template-columns: 108px 1fr; align-items: center; font-size: 12.5px; }
</style>
