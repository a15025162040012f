<script setup lang="ts">
/** Doing things by typing their names; what takes a value is typed with it: “shorter by 1s”. */
import { computed, nextTick, onMounted, ref } from 'vue'
import Sheet from '../parts/Sheet.vue'
import { useDesk } from '../stores/desk'
import { spelled, type Command } from '../use/commands'

const props = defineProps<{ table: Command[] }>()
const desk = useDesk()
const typed = ref('')
const at = ref(0)
const field = ref<HTMLInputElement | null>(null)
onMounted(() => nextTick(() => field.value?.focus()))

/** Every typed word must be found, in what a command does or is also called; a command that takes a value lets the rest be it. */
const found = computed(() => {
  const words = typed.value.trim().toLowerCase().split(/\s+/).filter(Boolean)
  return props.table.filter((each) => each.does !== 'Do something by typing its name').flatMap((command) => {
    const names = `${command.does} ${command.also ?? ''}`.toLowerCase()
    let used = words.findIndex((word) => !names.includes(word))
    if (used < 0) used = words.length
    const rest = words.slice(used).join(' ')
    if (rest && (!command.takes || !used)) return []
    return [{ command, rest, used, can: command.can?.() ?? true }]
    // What understands more of the words is more likely meant.
  }).sort((a, b) => Number(b.can) - Number(a.can) || b.used - a.used).slice(0, 9)
})

function run(i: number) {
  const hit = found.value[i]
  if (!hit?.can) return
  const value = typed.value.trim().split(/\s+/).slice(-hit.rest.split(' ').length).join(' ')
  desk.commanding = false
  hit.command.run(hit.rest ? value : undefined)
}
const move = (by: number) => { at.value = Math.min(Math.max(at.value + by, 0), found.value.length - 1) }
</script>

<template>
  <Sheet label="Do something by typing its name" :width="460" high @close="desk.commanding = false">
    <div class="box">
      <input
        ref="field" v-model="typed" placeholder="shorter by 1s" aria-label="What to do" data-test="command" @input="at = 0"
        @keydown.enter="run(at)" @keydown.down.prevent="move(1)" @keydown.up.prevent="move(-1)"
      />
      <ul role="listbox" aria-label="What goes by that name">
        <li v-for="(hit, i) in found" :key="hit.command.does" role="option" :aria-selected="i === at" :class="{ on: i === at, cant: !hit.can }" @pointerdown.prevent="run(i)">
          <span>{{ hit.command.does }} <span class="muted">{{ hit.rest || (hit.command.takes ? `… ${hit.command.takes}` : '') }}</span></span>
          <span v-if="!hit.can" class="needs">{{ hit.command.why ? `needs ${hit.command.why}` : 'not with what is in hand' }}</span>
          <kbd v-else-if="hit.command.keys" class="numbers muted">{{ spelled(hit.command.keys) }}</kbd>
        </li>
        <li v-if="!found.length" class="muted">Nothing goes by that name.</li>
      </ul>
    </div>
  </Sheet>
</template>

<style scoped>
input { width: 100%; background: var(--soot); border: 0; border-bottom: 1px solid var(--line); padding: 10px 16px; font-size: 15px; outline: none; }
ul { list-style: none; margin: 0; padding: 4px 0; }
li { display: flex; justify-content: space-between; padding: 6px 16px; cursor: pointer; }
li.on { background: var(--chosen); }
li.cant > span:first-child { opacity: 0.45; }
.needs { color: var(--muted); font-size: 12.5px; }
</style>
