<script setup lang="ts">
/** A field for a clip's words. One stay in it is one undo. */
import { ref } from 'vue'
import { keepCaret } from '../use/caret'
import { useDraft } from '../use/draft'
import { useEdits } from '../use/edits'

const props = defineProps<{ clip: string; text: string; label: string; rows: number; here?: boolean }>()
const emit = defineEmits<{ enter: []; chosen: [part: [number, number] | null] }>()
const edits = useEdits()
const field = ref<HTMLTextAreaElement | null>(null)
const draft = useDraft(() => props.clip, () => props.text, keepCaret(field))
const gesture = ref('')

function enter() {
  gesture.value = crypto.randomUUID()
  emit('enter')
}

function typed(event: Event) {
  draft.words.value = (event.target as HTMLTextAreaElement).value
  edits.text(props.clip, { text: draft.words.value, typed_on: draft.base.value }, gesture.value, props.here, draft.saw.value)
}

/** Which characters are chosen, so that they can be set in their own way. */
function chosen(event: Event) {
  const { selectionStart, selectionEnd } = event.target as HTMLTextAreaElement
  emit('chosen', selectionStart < selectionEnd ? [selectionStart, selectionEnd] : null)
}
</script>

<template>
  <textarea ref="field" class="words" :value="draft.words.value" :rows="rows" maxlength="10000" :aria-label="label" data-test="words" @focus="enter" @input="typed" @select="chosen" @pointerdown="emit('chosen', null)" />
</template>

<style scoped>
.words { width: 100%; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 6px 8px; font: 500 14px/18px var(--words); resize: none; display: block; }
.words:focus { border-color: var(--muted); outline: none; }
</style>
