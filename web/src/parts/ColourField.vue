<script setup lang="ts">
/** A colour: chosen, or typed as six hexadecimal digits. */
import { ref } from 'vue'
import { useDesk } from '../stores/desk'

const desk = useDesk()
const props = defineProps<{ value: string; label: string }>()
const emit = defineEmits<{ change: [colour: string, gesture: string] }>()
const gesture = ref('')
const begin = () => { gesture.value = crypto.randomUUID() }

function typed(event: Event) {
  const field = event.target as HTMLInputElement
  const colour = field.value.trim().toLowerCase().replace(/^#?/, '#')
  if (/^#[0-9a-f]{6}$/.test(colour)) emit('change', colour, crypto.randomUUID())
  else field.value = props.value
}

/** Take a colour from the Preview. */
function drop() {
  const gesture = crypto.randomUUID()
  desk.dropper = (colour) => emit('change', colour, gesture)
}
</script>

<template>
  <span class="colour">
    <label class="swatch" :style="{ background: value }">
      <input type="color" :value="value" :aria-label="label" @focus="begin" @input="emit('change', ($event.target as HTMLInputElement).value, gesture)" />
    </label>
    <input class="hex numbers" v-shown="value" :aria-label="`${label}, typed`" maxlength="7" @change="typed" />
    <button class="dropper" :aria-label="`${label}, taken from the Preview`" title="Take it from the Preview" @click="drop">
      <svg width="14" height="14"><path d="M8 3.500L10.500 6M9.250 4.750L3.500 10.500L2 12L3.500 10.500M7.500 3L9 1.500C10 0.500 12 1 12.500 2C13 3 12.500 4.500 12 5L10.500 6.500" /></svg>
    </button>
  </span>
</template>

<style scoped>
.colour { display: flex; gap: 6px; align-items: center; }
.swatch { width: 60px; height: 20px; border: 1px solid var(--line); border-radius: 2px; cursor: pointer; position: relative; }
.swatch input { position: absolute; inset: 0; opacity: 0; width: 100%; height: 100%; cursor: pointer; }
.dropper svg { display: block; fill: none; stroke: var(--muted); }
.dropper:hover svg { stroke: var(--bone); }
.hex { background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 2px 6px; font-size: 12.5px; width: 76px; }
</style>
