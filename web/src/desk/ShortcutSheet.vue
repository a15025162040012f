<script setup lang="ts">
/** All shortcuts, from the one table. */
import { useDesk } from '../stores/desk'

defineProps<{ table: { keys: string; does: string }[] }>()
const desk = useDesk()
</script>

<template>
  <div class="back" @click="desk.sheet = false">
    <div class="sheet" role="dialog" aria-label="Shortcuts" @click.stop>
      <div v-for="each in table" :key="each.keys" class="line"><kbd class="numbers">{{ each.keys }}</kbd><span>{{ each.does }}</span></div>
    </div>
  </div>
</template>

<style scoped>
.back { position: fixed; inset: 0; z-index: 1500; display: grid; place-items: center; background: #0007; }
.sheet { background: var(--raised); border: 1px solid var(--line); padding: 18px 24px; display: grid; gap: 7px; }
.line { display: grid; grid-template-columns: 130px 1fr; }
kbd { color: var(--muted); }
</style>
