<script setup lang="ts">
/** What a clip does without motion, kept under a name for other clips of the film. */
import { computed, nextTick, ref } from 'vue'
import type { Clip } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'

const props = defineProps<{ clip: Clip }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const naming = ref(false)
const name = ref('')
const field = ref<HTMLInputElement | null>(null)

const FINISHES = ['surface', 'light', 'colour', 'texture', 'backing']
const finished = computed(() => props.clip.steps.some((step) => step.on && FINISHES.includes(desk.kindOf(step.kind)?.group ?? '')))
const looks = computed(() => project.settings!.looks)

async function start() {
  naming.value = true
  name.value = props.clip.name
  await nextTick()
  field.value?.select()
}
/** A look of the same name is kept anew. */
function keep() {
  naming.value = false
  const called = name.value.trim()
  if (called) edits.saveLook(props.clip.id, looks.value.find((each) => each.name === called)?.id ?? `look-${crypto.randomUUID().slice(0, 8)}`, called)
}
</script>

<template>
  <div v-if="finished || looks.length" class="looks">
    <template v-if="finished">
      <button v-if="!naming" class="act" data-test="keep-look" title="All that finishes this picture without moving, for other clips of the film" @click="start">keep as a look</button>
      <input v-else ref="field" v-model="name" maxlength="200" aria-label="Name of the look" @keydown.enter="keep" @keydown.esc.stop="naming = false" @blur="naming = false" />
    </template>
    <span v-for="each in looks" :key="each.id" class="kept">
      <button class="act" :title="`Put “${each.name}” on this clip`" @click="edits.look([clip.id], each.id)">{{ each.name }}</button>
      <button class="act" :aria-label="`Forget the look ${each.name}`" @click="edits.removeLook(each.id)">forget</button>
    </span>
  </div>
</template>

<style scoped>
.looks { display: flex; flex-wrap: wrap; gap: 6px; padding: 10px 16px 0 36px; font-size: 12.5px; }
.kept { display: inline-flex; gap: 1px; }
input { width: 150px; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 2px 8px; }
@container (max-width: 340px) { .looks { padding: 10px 8px 0 12px; } }
</style>
