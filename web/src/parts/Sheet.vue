<script setup lang="ts">
/** A sheet over the Desk. The keyboard stays in it until it is closed, and goes back to where it was. */
import { onBeforeUnmount } from 'vue'

withDefaults(defineProps<{ label: string; width?: number; high?: boolean }>(), { width: 640 })
const emit = defineEmits<{ close: [] }>()

const before = document.activeElement
onBeforeUnmount(() => { if (before instanceof HTMLElement) before.focus() })
</script>

<template>
  <VDialog :model-value="true" :width="width" :transition="false" :aria-label="label" :class="{ high }" scrim="#000" :opacity="0.35" @update:model-value="emit('close')">
    <div class="sheet"><slot /></div>
  </VDialog>
</template>

<style scoped>
.high { align-items: flex-start; padding-top: 14vh; }
.sheet { background: var(--raised); border: 1px solid var(--line); max-height: 88vh; overflow-y: auto; }
</style>
