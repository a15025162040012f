<script setup lang="ts">
/**
 * A number on a printed scale: a bar from the neutral value to the value, and a ghost tick
 * where it stood before. Drag anywhere (Ctrl fine, Shift coarse), arrow keys, or type.
 */
import { computed, nextTick, ref } from 'vue'
import { followDrag } from '../use/gesture'
import { readNumber } from './readNumber'

const props = withDefaults(defineProps<{
  label: string
  value: number
  low: number
  high: number
  least: number
  most: number
  neutral?: number
  unit?: string
  digits?: number
  rate?: number
  live?: boolean
}>(), { neutral: 0, unit: '', digits: 0, rate: 25, live: false })
const emit = defineEmits<{ change: [value: number, gesture: string] }>()

const WIDTH = 108
const ghost = ref<number | null>(null)
const typing = ref(false)
const field = ref<HTMLInputElement | null>(null)

const place = (value: number) => 2 + (Math.min(Math.max((value - props.low) / (props.high - props.low), 0), 1)) * (WIDTH - 4)
const shown = computed(() => {
  const text = props.value.toFixed(props.digits)
  return props.digits ? text.replace(/\.?0+$/, '') || '0' : text
})
const beyond = computed(() => props.value < props.low || props.value > props.high)

function put(value: number, gesture: string) {
  const grid = 10 ** props.digits
  const kept = Math.round(Math.min(Math.max(value, props.least), props.most) * grid) / grid
  if (kept !== props.value) emit('change', kept, gesture)
}

function drag(press: PointerEvent) {
  const from = props.value
  ghost.value = from
  followDrag(press, ({ dx, event, gesture }) => {
    const speed = event.ctrlKey ? 0.1 : event.shiftKey ? 4 : 1
    put(from + (dx / (WIDTH - 4)) * (props.high - props.low) * speed, gesture)
  }, () => { setTimeout(() => { ghost.value = null }, 1200) })
}

function nudge(event: KeyboardEvent) {
  const steps: Record<string, number> = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }
  const by = steps[event.key]
  if (!by) return
  event.preventDefault()
  const unit = 10 ** -props.digits * (event.ctrlKey ? 1 : event.shiftKey ? 10 : props.digits ? 10 ** Math.max(0, props.digits - 1) : 1)
  put(props.value + by * unit, crypto.randomUUID())
}

async function startTyping() {
  typing.value = true
  await nextTick()
  field.value?.select()
}

function endTyping(keep: boolean) {
  const typed = field.value?.value ?? ''
  if (typing.value && keep) {
    const value = readNumber(typed, props.value, props.unit === 'f' ? props.rate : null)
    if (value !== null) put(value, crypto.randomUUID())
  }
  typing.value = false
}
</script>

<template>
  <div class="gauge">
    <span class="label muted">{{ label }}</span>
    <svg
      :width="WIDTH" height="18" role="slider" tabindex="0" :aria-label="label" :aria-valuenow="value" :aria-valuemin="least"
      :aria-valuemax="most" :aria-valuetext="`${shown} ${unit}`" @pointerdown="drag" @keydown="nudge"
    >
      <path :d="`M2 13.500H${WIDTH - 2}`" class="scale" />
      <path v-for="tick in 11" :key="tick" :d="`M${2 + ((tick - 1) * (WIDTH - 4)) / 10} ${tick % 5 === 1 ? 9 : 11.500}V13.500`" class="scale" />
      <rect class="bar" y="7" height="5" :x="Math.min(place(neutral), place(value))" :width="Math.max(0.5, Math.abs(place(value) - place(neutral)))" />
      <path v-if="ghost !== null && ghost !== value" class="ghost" :d="`M${place(ghost)} 3V15`" />
      <path class="mark" :class="{ live, beyond }" :d="`M${place(value)} 3V15`" />
    </svg>
    <input
      v-if="typing" ref="field" class="entry numbers" :value="shown" :aria-label="`${label}, typed`"
      @blur="endTyping(true)" @keydown.enter="endTyping(true)" @keydown.esc.stop="endTyping(false)"
    />
    <button v-else class="value numbers" :title="`${low} to ${high} ${unit}; click to type`" @click="startTyping">{{ shown }}</button>
    <span class="unit muted numbers">{{ unit }}</span>
    <slot />
  </div>
</template>

<style scoped>
.gauge { display: grid; grid-template-columns: 78px 108px 44px 32px 1fr; align-items: center; gap: 5px; height: 26px; }
.label { font-size: 12px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
svg { cursor: ew-resize; touch-action: none; }
.scale { stroke: var(--tick); fill: none; }
.bar { fill: var(--mark); }
.mark { stroke: var(--bone); stroke-width: 2; }
.mark.live { stroke: var(--now); }
.mark.beyond { stroke-dasharray: 2 2; }
.ghost { stroke: var(--muted); stroke-dasharray: 1 2; }
.value { text-align: right; font-size: 13px; cursor: text; }
.value:hover { background: var(--raised); }
.entry { width: 44px; text-align: right; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; font-size: 13px; padding: 0 2px; }
.unit { font-size: 11px; white-space: nowrap; overflow: hidden; }
</style>
