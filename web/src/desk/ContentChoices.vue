<script setup lang="ts">
/** What is chosen of a shape, a camera, a light or a model. */
import type { Clip } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import { useDesk } from '../stores/desk'
import { useEdits } from '../use/edits'

const props = defineProps<{ clip: Clip }>()
const desk = useDesk()
const edits = useEdits()
const chosen = (name: string, first: string) => ('choices' in props.clip.content ? props.clip.content.choices[name] ?? first : first)
/** A drawing is what was read from a file: nothing becomes one by choosing it. */
const options = (choice: { name: string; options: string[] }) => choice.options.filter((each) => each !== 'drawing' || (props.clip.content.kind === 'shape' && props.clip.content.drawing))
</script>

<template>
  <template v-for="choice in desk.catalogue!.chosen[clip.content.kind] ?? []" :key="choice.name">
    <div v-if="options(choice).length > 4" class="line">
      <span class="muted">{{ choice.label }}</span>
      <VSelect :model-value="chosen(choice.name, choice.options[0])" :items="options(choice)" :aria-label="choice.label" data-test="form" @update:model-value="(value: string) => edits.choose(clip.id, 'content', choice.name, value)" />
    </div>
    <ChoiceLine v-else :label="choice.label" :choices="options(choice).map((each) => [each, each] as const)" :now="chosen(choice.name, choice.options[0])" @choose="edits.choose(clip.id, 'content', choice.name, $event)" />
  </template>
</template>
