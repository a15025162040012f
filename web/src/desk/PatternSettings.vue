<script setup lang="ts">
/** Which pattern a generated picture has, and what is chosen of it. */
import { computed } from 'vue'
import type { Catalogue, Clip } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import { useDesk } from '../stores/desk'
import { useEdits } from '../use/edits'

const props = defineProps<{ clip: Clip; pattern: Catalogue['patterns'][number] }>()
const desk = useDesk()
const edits = useEdits()
const patterns = computed(() => desk.catalogue!.patterns.map((each) => ({ title: each.label, value: each.kind })))
const chosen = computed(() => (props.clip.content.kind === 'generated' ? props.clip.content.choices : {}))
</script>

<template>
  <div class="line">
    <span class="muted">Picture</span>
    <VSelect :model-value="pattern.kind" :items="patterns" aria-label="Which generated picture" data-test="pattern" @update:model-value="(kind: string) => edits.changePattern(clip.id, kind)" />
  </div>
  <ChoiceLine
    v-for="choice in pattern.choices" :key="choice.name" :label="choice.label" :choices="choice.options.map((each) => [each, each] as const)"
    :now="chosen[choice.name] ?? choice.options[0]" @choose="edits.choose(clip.id, 'content', choice.name, $event)"
  />
</template>
