<script setup lang="ts">
/** Words and how they are set. Sizes and distances follow as gauges. */
import { computed, ref } from 'vue'
import type { Clip } from '../api/client'
import WordsField from '../parts/WordsField.vue'
import { useDesk } from '../stores/desk'
import { useEdits } from '../use/edits'

const props = defineProps<{ clip: Clip }>()
const desk = useDesk()
const edits = useEdits()
const gesture = ref('')

const content = computed(() => (props.clip.content.kind === 'text' ? props.clip.content : null)!)
const families = computed(() => desk.catalogue!.families)
const weights = computed(() => families.value.find((each) => each.id === content.value.typeface)?.weights ?? [])
const faces = computed(() => families.value.map((each) => ({ title: `${each.name}, ${each.character}`, value: each.id })))

const ALIGN = [['left', 'left'], ['centre', 'centre'], ['right', 'right']] as const
const ACROSS = [['left', 'left'], ['centre', 'centre'], ['right', 'right']] as const
const DOWN = [['top', 'top'], ['middle', 'middle'], ['bottom', 'bottom']] as const
const BY = [['ink', 'ink'], ['type', 'type']] as const

const groups = computed(() => [
  { label: 'Lines meet', name: 'align', choices: ALIGN, now: content.value.align },
  { label: 'Stands', name: 'stand_x', choices: ACROSS, now: content.value.stand_x },
  { label: '', name: 'stand_y', choices: DOWN, now: content.value.stand_y },
  { label: 'Measured by', name: 'measured_by', choices: BY, now: content.value.measured_by },
] as const)

const newGesture = () => crypto.randomUUID()

function colour(event: Event) {
  edits.text(props.clip.id, { colour: (event.target as HTMLInputElement).value }, gesture.value)
}

function typedColour(event: Event) {
  const field = event.target as HTMLInputElement
  const typed = field.value.trim().toLowerCase().replace(/^#?/, '#')
  if (/^#[0-9a-f]{6}$/.test(typed)) edits.text(props.clip.id, { colour: typed })
  else field.value = content.value.colour
}
</script>

<template>
  <div class="settings">
    <WordsField :clip="clip.id" :text="content.text" label="Words" :rows="2" />
    <div class="pair">
      <span class="muted">Typeface</span>
      <VSelect :model-value="content.typeface" :items="faces" aria-label="Typeface" data-test="typeface" @update:model-value="edits.text(clip.id, { typeface: $event })" />
      <VSelect class="weight" :model-value="content.weight" :items="weights" aria-label="Weight" @update:model-value="edits.text(clip.id, { weight: $event })" />
    </div>
    <div class="pair">
      <span class="muted">Colour</span>
      <label class="swatch" :style="{ background: content.colour }">
        <input type="color" :value="content.colour" aria-label="Colour" @focus="gesture = newGesture()" @input="colour" />
      </label>
      <input class="hex numbers" :value="content.colour" aria-label="Colour, typed" maxlength="7" @change="typedColour" />
    </div>
    <div v-for="group in groups" :key="group.name" class="pair choices">
      <span class="muted">{{ group.label }}</span>
      <div class="choice" role="radiogroup" :aria-label="group.label || 'Stands, up and down'">
        <button
          v-for="[value, word] in group.choices" :key="value" role="radio" :aria-checked="group.now === value" :class="{ on: group.now === value }"
          @click="edits.text(clip.id, { [group.name]: value })"
        >{{ word }}</button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.settings { display: grid; gap: 6px; padding-bottom: 6px; }
.pair { display: grid; grid-template-columns: 84px 1fr 76px; gap: 6px; align-items: center; font-size: 12px; }
.swatch { width: 100%; max-width: 60px; height: 20px; border: 1px solid var(--line); border-radius: 2px; cursor: pointer; position: relative; }
.swatch input { position: absolute; inset: 0; opacity: 0; width: 100%; height: 100%; cursor: pointer; }
.hex { background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 2px 6px; font-size: 12px; width: 76px; }
.choices { grid-template-columns: 84px 1fr; }
.choice { display: flex; gap: 14px; }
.choice button { color: var(--muted); border-bottom: 1px solid transparent; padding: 1px 0; }
.choice button:hover, .choice .on { color: var(--bone); }
.choice .on { border-color: var(--bone); }
</style>
