<script setup lang="ts">
/** The steps of one group that the words have, to go to, and all of that group to be added. */
import { computed } from 'vue'
import type { Clip } from '../api/client'
import { useDesk } from '../stores/desk'
import { useEdits } from '../use/edits'
import { inText } from '../use/wording'

const props = defineProps<{ clip: Clip; group: 'surface' | 'backing' }>()
const desk = useDesk()
const edits = useEdits()
const kinds = computed(() => desk.catalogue!.steps.filter((each) => each.group === props.group))
const there = computed(() => props.clip.steps.flatMap((step) => {
  const kind = kinds.value.find((each) => each.kind === step.kind)
  return kind ? [{ step, label: inText(kind.label) }] : []
}))
</script>

<template>
  <div class="surface">
    <p v-if="there.length"><span class="muted">has</span> <button v-for="{ step, label } in there" :key="step.id" class="act" @click="desk.openRow = step.id">{{ label }}{{ step.on ? '' : ', off' }}</button></p>
    <p><span class="muted">add</span> <button v-for="{ kind, label } in kinds" :key="kind" class="act" @click="edits.addStep(clip.id, kind)">{{ label.toLowerCase() }}</button></p>
  </div>
</template>

<style scoped>
.surface { font-size: 12.5px; }
p { display: flex; flex-wrap: wrap; gap: 2px 12px; margin: 0; min-height: 22px; align-items: center; padding-left: 93px; position: relative; }
p span { position: absolute; left: 0; top: 3px; }
</style>
