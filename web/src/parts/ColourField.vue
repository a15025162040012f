<script setup lang="ts">
/** A colour: chosen, or typed as six hexadecimal digits. */
import { ref } from 'vue'

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
</script>

<template>
  <span class="colour">
    <label class="swatch" :style="{ background: value }">
      <input type="color" :value="value" :aria-label="label" @focus="begin" @input="emit('change', ($event.target as HTMLInputElement).value, gesture)" />
    </label>
    <input class="hex numbers" v-shown="value" :aria-label="`${label}, typed`" maxlength="7" @change="typed" />
  </span>
</template>

<style scoped>
.colour { display: flex; gap: 6px; align-items: center; }
.swatch { width: 60px; height: 20px; border: 1px solid var(--line); border-radius: 2px; cursor: pointer; position: relative; }
.swatch input { position: absolute; inset: 0; opacity: 0; width: 100%; height: 100%; cursor: pointer; }
.hex { background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 2px 6px; font-size: 12px; width: 76px; }
</style>
