<script setup lang="ts">
/** All shortcuts, from the one table, and the look of the Desk. */
import { useDesk } from '../stores/desk'
import { useLook } from '../use/look'

defineProps<{ table: { keys: string; does: string }[] }>()
const desk = useDesk()
const { look } = useLook()
</script>

<template>
  <div class="back" @click="desk.sheet = false">
    <div class="sheet" role="dialog" aria-label="Shortcuts" @click.stop>
      <div v-for="each in table" :key="each.keys" class="line"><kbd class="numbers">{{ each.keys }}</kbd><span>{{ each.does }}</span></div>
      <div class="line look" role="radiogroup" aria-label="Look of the Desk">
        <span class="muted">Look</span>
        <span>
          <button v-for="each in (['soot', 'bone'] as const)" :key="each" role="radio" :aria-checked="look === each" :class="{ on: look === each }" @click="look = each">{{ each }}</button>
        </span>
      </div>
    </div>
  </div>
</template>

<style scoped>
.back { position: fixed; inset: 0; z-index: 1500; display: grid; place-items: center; background: #0007; }
.sheet { background: var(--raised); border: 1px solid var(--line); padding: 18px 24px; display: grid; gap: 7px; }
.line { display: grid; grid-template-columns: 130px 1fr; }
kbd { color: var(--muted); }
.look { border-top: 1px solid var(--line); padding-top: 10px; margin-top: 4px; }
.look button { color: var(--muted); margin-right: 16px; border-bottom: 1px solid transparent; }
.look .on { color: var(--bone); border-color: var(--bone); }
</style>
