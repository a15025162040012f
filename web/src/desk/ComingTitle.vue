<script setup lang="ts">
/** Takes the keys for a title that is not there yet. */
import { onMounted, ref } from 'vue'
import { useDesk } from '../stores/desk'

const desk = useDesk()
const coming = desk.coming!
const input = ref<HTMLTextAreaElement | null>(null)
onMounted(() => input.value?.focus())
/** Left for something else, and not for the field that goes on from it. */
function leave() {
  if (!desk.typing) coming.left = true
}
</script>

<template>
  <textarea ref="input" class="coming" :value="coming.words" maxlength="10000" aria-label="Words of the new title" @input="coming.words = input!.value" @blur="leave" />
</template>

<style scoped>
.coming { position: absolute; left: 0; bottom: 0; width: 1px; height: 1px; opacity: 0; border: 0; padding: 0; resize: none; }
</style>
