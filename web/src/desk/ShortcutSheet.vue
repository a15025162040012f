<script setup lang="ts">
/** All shortcuts, from the one table of commands, and the look of the Desk. */
import { computed } from 'vue'
import Sheet from '../parts/Sheet.vue'
import { useDesk } from '../stores/desk'
import { spelled, type Command } from '../use/commands'
import { useLook } from '../use/look'

const props = defineProps<{ table: Command[] }>()
const desk = useDesk()
const { look, tall } = useLook()
const keyed = computed(() => props.table.filter((each) => each.keys))
</script>

<template>
  <Sheet label="Shortcuts" :width="1180" @close="desk.sheet = false">
    <div class="shortcuts">
      <div class="lines">
        <div v-for="each in keyed" :key="each.keys" class="line"><kbd class="numbers">{{ spelled(each.keys!) }}</kbd><span>{{ each.does }}</span></div>
      </div>
      <p class="muted">Everything else: / and its name, such as “shorter by 1s”, “wipe 12f”, “speed 50”. Ctrl and the wheel zoom the timeline; Ctrl-drag slips a shot; an end trimmed with Ctrl moves the rest along.</p>
      <div class="look"><span class="muted">Look</span><div class="choice" role="radiogroup" aria-label="Look of the Desk">
        <button v-for="each in (['soot', 'bone'] as const)" :key="each" role="radio" :aria-checked="look === each" :class="{ on: look === each }" @click="look = each">{{ each }}</button>
      </div>
        <span class="muted">Steps</span><div class="choice" role="radiogroup" aria-label="Where the Steps stand">
          <button v-for="[each, words] in ([[true, 'the full height'], [false, 'above the timeline']] as const)" :key="words" role="radio" :aria-checked="tall === each" :class="{ on: tall === each }" @click="tall = each">{{ words }}</button>
        </div>
      </div>
    </div>
  </Sheet>
</template>

<style scoped>
.shortcuts { padding: 18px 24px; }
.lines { columns: 3; column-gap: 28px; font-size: 12.5px; }
.line { display: grid; grid-template-columns: 118px 1fr; break-inside: avoid; padding: 3px 0; }
kbd { color: var(--muted); }
p { margin: 14px 0 10px; font-size: 12.5px; border-top: 1px solid var(--line); padding-top: 10px; }
.look { display: flex; align-items: center; gap: 16px; font-size: 12.5px; }
</style>
