<script setup lang="ts">
/** Shapes to be drawn on the picture, and drawings whose shapes become clips. */
import { ref } from 'vue'
import { useDesk, type ShapeForm } from '../stores/desk'
import { useNewShape } from '../use/newShape'

const desk = useDesk()
const { addDrawing } = useNewShape()
const chooser = ref<HTMLInputElement | null>(null)

/** Each on a field of 40 × 26. */
const FORMS: [ShapeForm, string][] = [
  ['rectangle', 'M7 5H33V21H7Z'],
  ['ellipse', 'M20 4A13 9 0 0 1 20 22A13 9 0 0 1 20 4Z'],
  ['polygon', 'M12 4H28L35 13L28 22H12L5 13Z'],
  ['star', 'M20 3L23.200 10.200L31 11L25.200 16.200L27 24L20 19.900L13 24L14.800 16.200L9 11L16.800 10.200Z'],
  ['line', 'M5 20L35 6L35.600 7.400L5.600 21.400Z'],
  ['outline', 'M6 20C4 8 14 2 20 8S36 6 34 16S14 26 6 20Z'],
]
const on = (form: ShapeForm) => (form === 'outline' ? desk.drawing === 'shape' : desk.shaping === form)
function arm(form: ShapeForm) {
  const armed = on(form)
  desk.drawing = !armed && form === 'outline' ? 'shape' : null
  desk.shaping = !armed && form !== 'outline' ? form : null
}
async function read(event: Event) {
  const field = event.target as HTMLInputElement
  for (const file of field.files ?? []) await addDrawing(file)
  field.value = ''
}
</script>

<template>
  <div class="forms" role="group" aria-label="Form of the shape">
    <button v-for="[form, path] in FORMS" :key="form" class="form" :class="{ on: on(form) }" :aria-pressed="on(form)" :data-shape="form" @click="arm(form)">
      <svg width="40" height="26" aria-hidden="true"><path :d="path" /></svg>
      <span>{{ form === 'outline' ? 'by corners' : form }}</span>
    </button>
  </div>
  <p class="muted hint">{{ desk.shaping ? 'Drag on the picture to draw it; a click lays it there in its usual size.' : desk.drawing === 'shape' ? 'Press on the picture for each corner.' : 'Choose a form, and draw it on the picture.' }}</p>
  <div class="file">
    <button class="act" title="Each shape of the drawing becomes a clip of its own, where it lies" @click="chooser?.click()">take a drawing (SVG) apart</button>
    <input ref="chooser" type="file" hidden accept=".svg,image/svg+xml" data-test="drawing-file" @change="read" />
  </div>
</template>

<style scoped>
.forms { display: grid; grid-template-columns: repeat(3, 1fr); gap: 6px; }
.form { display: grid; justify-items: center; gap: 2px; padding: 8px 2px 4px; border: 1px solid var(--line); border-radius: 2px; font-size: 12.5px; }
.form:hover { border-color: var(--bone); }
.form path { fill: var(--mark); }
.on { background: var(--bone); color: var(--soot); }
.on path { fill: var(--soot); }
.hint { font-size: 12.5px; margin: 8px 0; min-height: 32px; }
.file { padding: 10px 0; border-top: 1px solid var(--line); }
</style>
