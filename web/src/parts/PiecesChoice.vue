<script setup lang="ts">
/** How a text moves: the text's own first words in the pieces that move one after the other, each a little behind the last. */
import { computed } from 'vue'

const props = defineProps<{ label: string; text: string; now: Unit }>()
const emit = defineEmits<{ choose: [unit: Unit] }>()
type Unit = 'all' | 'line' | 'word' | 'letter'

const UNITS = [['all', 'all at once'], ['line', 'by line'], ['word', 'by word'], ['letter', 'by letter']] as const
const SHOWN = 8

/** Enough of the text to show two pieces; two lines where it is by line. */
const words = computed(() => {
  const found = props.text.split(/\s+/).filter(Boolean)
  const [first = 'One', second = 'two'] = found
  return [first.slice(0, SHOWN - 3), second.slice(0, SHOWN - Math.min(first.length, SHOWN - 3))]
})
const lines = computed(() => {
  const found = props.text.split('\n').map((line) => line.trim()).filter(Boolean)
  return (found.length > 1 ? found : words.value).slice(0, 2).map((line) => line.slice(0, SHOWN))
})
const pieces = (unit: Unit): string[][] => ({
  all: [[words.value.join(' ')]], line: lines.value.map((line) => [line]), word: [words.value], letter: [[...words.value.join('')]],
})[unit]
/** How far behind a piece is, as a share: the last one is about to move. */
const behind = (unit: Unit, row: number, i: number) => {
  const all = pieces(unit).flat().length
  return all > 1 ? (unit === 'line' ? row : i) / (all - 1) : 0
}
</script>

<template>
  <div class="line">
    <span class="muted">{{ label }}</span>
    <div class="pieces" role="radiogroup" :aria-label="label">
      <button v-for="[unit, name] in UNITS" :key="unit" role="radio" :aria-checked="now === unit" :aria-label="name" :class="{ on: now === unit }" @click="emit('choose', unit)">
        <span class="text" :class="`of-${unit}`" aria-hidden="true">
          <span v-for="(row, r) in pieces(unit)" :key="r" class="row">
            <b v-for="(piece, i) in row" :key="i" :style="{ transform: `translateY(${5 * behind(unit, r, i)}px)`, opacity: 1 - 0.15 * behind(unit, r, i) }">{{ piece }}</b>
          </span>
        </span>
        <span class="name">{{ name }}</span>
      </button>
    </div>
  </div>
</template>

<style scoped>
.pieces { display: grid; grid-template-columns: repeat(4, minmax(0, 1fr)); border: 1px solid var(--outline); border-radius: 2px; }
.pieces > button { display: grid; grid-template-rows: 38px 20px; justify-items: center; align-items: center; min-width: 0; color: var(--muted); overflow: hidden; }
.pieces > button + button { border-left: 1px solid var(--line); }
.pieces > button:hover { color: var(--bone); }
.pieces > .on, .pieces > .on:hover { background: var(--bone); color: var(--soot); }
.text { display: grid; justify-items: center; line-height: 15px; }
.row { display: flex; gap: 5px; }
.of-letter .row { gap: 1px; }
.text b { font-weight: 600; font-size: 12.5px; white-space: nowrap; border-bottom: 2px solid currentColor; }
.of-line b { border-bottom-width: 1px; }
.name { font-size: 12.5px; }
@container (max-width: 340px) {
  .pieces { grid-template-columns: 1fr 1fr; }
}
</style>
