<script setup lang="ts">
/**
 * A number on a printed scale: a bar from the neutral value to the value, and a ghost tick
 * where it stood before. Drag anywhere (Ctrl fine, Shift coarse), arrow keys, the wheel once
 * it is in focus, or type. With a `rest` it can be put back there.
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
  rest?: number
  unit?: string
  digits?: number
  rate?: number
  live?: boolean
  /** Of several things that are set together, not all have this value. */
  mixed?: boolean
}>(), { neutral: 0, rest: undefined, unit: '', digits: 0, rate: 25, live: false, mixed: false })
/** `confirm`: the value that is there was typed or confirmed by Enter. `typed`: as it was typed, where it was. */
const emit = defineEmits<{ change: [value: number, gesture: string, typed?: string]; confirm: [value: number, gesture: string] }>()

const WIDTH = 160
const ghost = ref<number | null>(null)
const typing = ref(false)
const field = ref<HTMLInputElement | null>(null)

/** An end of the scale: it is twice as far off for as long as the value lies beyond it. */
function reach(end: number, from: number, most: number) {
  let at = end
  while ((props.value - at) * (end - from) > 0 && (most - at) * (end - from) > 0) at = from + 2 * (at - from)
  return (at - most) * (end - from) > 0 ? most : at
}
const low = computed(() => reach(props.low, props.high > 0 && props.low < 0 ? 0 : props.high, props.least))
const high = computed(() => reach(props.high, props.low < 0 && props.high > 0 ? 0 : props.low, props.most))
const place = (value: number) => 2 + (Math.min(Math.max((value - low.value) / (high.value - low.value), 0), 1)) * (WIDTH - 4)
const shown = computed(() => {
  const text = props.value.toFixed(props.digits)
  return props.digits ? text.replace(/\.?0+$/, '') || '0' : text
})
const near = (value: number) => String(Number(value.toFixed(props.digits)))
const newGesture = () => crypto.randomUUID()

function put(value: number, gesture: string, typed?: string) {
  const grid = 10 ** props.digits
  const kept = Math.round(Math.min(Math.max(value, props.least), props.most) * grid) / grid
  if (kept !== props.value) emit('change', kept, gesture, typed)
  return kept
}

function drag(press: PointerEvent) {
  const [from, wide] = [props.value, high.value - low.value]
  ghost.value = from
  followDrag(press, ({ dx, event, gesture }) => {
    const speed = event.ctrlKey ? 0.1 : event.shiftKey ? 4 : 1
    put(from + (dx / (WIDTH - 4)) * wide * speed, gesture)
  }, () => { setTimeout(() => { ghost.value = null }, 1200) })
}

/** Arrow keys and turns of the wheel that follow each other closely are one act, each going on from the last one's value. */
let spell = { gesture: '', last: -1e9, value: 0 }
function turn(by: number, event: KeyboardEvent | WheelEvent) {
  const now = performance.now()
  if (now - spell.last > 700) spell = { gesture: newGesture(), last: now, value: props.value }
  const unit = 10 ** -props.digits * (event.ctrlKey ? 1 : event.shiftKey ? 10 : props.digits ? 10 ** Math.max(0, props.digits - 1) : 1)
  const value = Math.min(Math.max(spell.value + by * unit, props.least), props.most)
  spell = { ...spell, last: now, value }
  put(value, spell.gesture)
}

/** Only a gauge in focus takes the wheel: over any other it scrolls the panel. */
function wheel(event: WheelEvent) {
  if (document.activeElement !== event.currentTarget) return
  event.preventDefault()
  turn((event.deltaY || event.deltaX) < 0 ? 1 : -1, event)
}

function nudge(event: KeyboardEvent) {
  const steps: Record<string, number> = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }
  const by = steps[event.key]
  if (!by) return
  event.preventDefault()
  turn(by, event)
}

async function startTyping() {
  typing.value = true
  await nextTick()
  field.value?.select()
}

function endTyping(keep: boolean, confirmed = false) {
  const [typed, before] = [field.value?.value ?? '', props.value]
  if (typing.value && keep) {
    const value = readNumber(typed, before, props.unit === 'f' ? props.rate : null, props.unit)
    if (value !== null && put(value, newGesture(), typed) === before && (confirmed || typed !== shown.value)) emit('confirm', before, newGesture())
  }
  typing.value = false
}
</script>

<template>
  <div class="gauge">
    <span class="label muted">{{ label }}</span>
    <button
      v-if="rest !== undefined && Math.abs(rest - value) > 1e-9" class="reset" :aria-label="`${label} back to ${near(rest)} ${unit}`" :title="`Back to ${near(rest)} ${unit}`"
      @click="put(rest, newGesture())"
    ><svg width="12" height="12"><path d="M2 5H8.500a2.500 2.500 0 0 1 0 5H5M4.500 2L1.500 5l3 3" /></svg></button>
    <svg
      class="printed" :width="WIDTH" height="18" role="slider" tabindex="0" :aria-label="label" :aria-valuenow="value" :aria-valuemin="least"
      :aria-valuemax="most" :aria-valuetext="`${shown} ${unit}`" @pointerdown="drag" @keydown="nudge" @wheel="wheel"
    >
      <g class="ends"><text x="1" y="6.500">{{ near(low) }}</text><text :x="WIDTH - 1" y="6.500" text-anchor="end">{{ near(high) }}</text></g>
      <path :d="`M2 13.500H${WIDTH - 2}`" class="scale" />
      <path v-for="tick in 11" :key="tick" :d="`M${2 + ((tick - 1) * (WIDTH - 4)) / 10} ${tick % 5 === 1 ? 9 : 11.500}V13.500`" class="scale" />
      <rect class="bar" y="7" height="5" :x="Math.min(place(neutral), place(value))" :width="Math.max(0.5, Math.abs(place(value) - place(neutral)))" />
      <path v-if="ghost !== null && ghost !== value" class="ghost" :d="`M${place(ghost)} 3V15`" />
      <path class="mark" :class="{ live }" :d="`M${place(value)} 3V15`" />
    </svg>
    <input
      v-if="typing" ref="field" class="entry numbers" :value="shown" :aria-label="`${label}, typed`"
      @blur="endTyping(true)" @keydown.enter="endTyping(true, true)" @keydown.esc.stop="endTyping(false)"
    />
    <button v-else class="value numbers" :title="`${low} to ${high} ${unit}; click to type`" @click="startTyping">{{ mixed ? 'mixed' : shown }}</button>
    <span class="unit muted numbers">{{ unit }}</span>
    <slot />
  </div>
</template>

<style scoped>
.gauge { position: relative; display: grid; grid-template-columns: 88px 160px 44px 26px 1fr; align-items: center; gap: 5px; height: 26px; }
@container (max-width: 340px) {
  .gauge { grid-template: 'label more more' 20px 'printed value unit' 20px / 160px 40px 1fr; height: auto; gap: 0 5px; padding: 2px 0; }
  .label { grid-area: label; }
  .printed { grid-area: printed; }
  .value, .entry { grid-area: value; }
  .unit { grid-area: unit; }
  .gauge > :slotted(*) { grid-area: more; justify-self: end; }
  .label { padding-right: 24px; }
  .reset { left: 138px; top: 2px; }
}
.label { font-size: 12.5px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.printed { cursor: ew-resize; touch-action: none; }
.ends { opacity: 0; }
.ends text { font: 7.5px var(--numbers); fill: var(--muted); }
.printed:hover .ends, .printed:focus .ends { opacity: 1; }
.reset { position: absolute; left: 68px; top: 5px; width: 20px; height: 16px; display: grid; place-items: center; background: var(--raised); opacity: 0; }
.reset path { fill: none; stroke: var(--muted); stroke-width: 1.2; }
.reset:hover path { stroke: var(--bone); }
.gauge:hover .reset, .reset:focus-visible { opacity: 1; }
.scale { stroke: var(--tick); fill: none; }
.bar { fill: var(--mark); }
.mark { stroke: var(--bone); stroke-width: 2; }
.mark.live { stroke: var(--now); }
.ghost { stroke: var(--muted); stroke-dasharray: 1 2; }
.value { text-align: right; font-size: 13px; cursor: text; }
.value:hover { background: var(--raised); }
.entry { width: 44px; text-align: right; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; font-size: 13px; padding: 0 2px; }
.unit { font-size: 12.5px; white-space: nowrap; overflow: hidden; }
</style>
