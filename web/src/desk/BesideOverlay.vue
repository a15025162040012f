<script setup lang="ts">
/** Over variants side by side: their names, and the one the pointer rests on. A click makes it so. */
import { onMounted, ref, watch } from 'vue'
import { answered, api, type Cell } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'

const props = defineProps<{ width: number; height: number }>()
const desk = useDesk()
const project = useProject()
const cells = ref<Cell[]>([])

async function lay() {
  const count = desk.beside?.variants.length ?? 0
  if (count) cells.value = await answered(api.GET('/api/projects/beside/cells', { params: { query: { count, width: props.width, height: props.height } } })).catch(() => [])
}
watch(() => [props.width, props.height, desk.beside], lay)
onMounted(lay)

function pick(i: number) {
  const variant = desk.beside!.variants[i]
  desk.beside = null
  project.edit(variant.edit)
}
</script>

<template>
  <div class="beside" role="listbox" :aria-label="`Side by side: ${desk.beside!.title}`" data-test="beside-grid">
    <button
      v-for="(cell, i) in cells" :key="i" role="option" :style="{ left: `${cell.x}px`, top: `${cell.y}px`, width: `${cell.width}px`, height: `${cell.height}px` }"
      :aria-label="desk.beside!.variants[i]?.label" :aria-selected="desk.beside!.variants[i]?.now ?? false" :class="{ now: desk.beside!.variants[i]?.now }" @click="pick(i)"
    ><span>{{ desk.beside!.variants[i]?.label }}{{ desk.beside!.variants[i]?.now ? ', as it is now' : '' }}</span></button>
  </div>
</template>

<style scoped>
.beside { position: absolute; inset: 0; }
button { position: absolute; text-align: left; border: 1px solid transparent; }
button:hover, button:focus-visible { border-color: var(--bone); }
.now { box-shadow: inset 0 0 0 2px var(--bone); }
span { position: absolute; left: 6px; bottom: 4px; font-size: 12.5px; padding: 1px 5px; background: #171513b0; color: #ece4d8; }
</style>
