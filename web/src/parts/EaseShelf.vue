<script setup lang="ts">
/** Named eases as small curves: resting on one tells, so that it can be tried; a click takes it. */
import { computed, ref } from 'vue'
import type { Ease } from '../api/client'
import { sameEase, useEases, type NamedEase } from '../use/eases'
import EaseCurve from './EaseCurve.vue'

const props = defineProps<{ label: string; now: Ease | null; says?: string }>()
const emit = defineEmits<{ rest: [ease: Ease]; leave: []; choose: [ease: Ease] }>()
const { all } = useEases()
const pointed = ref<string | null>(null)
const current = computed(() => (props.now ? all.value.find((each) => sameEase(each.ease, props.now!))?.name ?? null : null))

function rest(each: NamedEase) {
  pointed.value = each.name
  emit('rest', each.ease)
}
function leave() {
  pointed.value = null
  emit('leave')
}
/** By the arrow keys from one to the next, in reading order. */
function step(event: KeyboardEvent) {
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key]
  if (!by) return
  event.preventDefault()
  event.stopPropagation()
  const buttons = [...(event.currentTarget as HTMLElement).querySelectorAll('button')]
  buttons[(buttons.indexOf(event.target as HTMLButtonElement) + by + buttons.length) % buttons.length]?.focus()
}
</script>

<template>
  <div class="shelf" role="group" :aria-label="label" data-test="ease-shelf">
    <div class="curves" @keydown="step">
      <button
        v-for="each in all" :key="`${each.own} ${each.name}`" :class="{ on: each.name === current, own: each.own }" :aria-label="each.name" :aria-pressed="each.name === current"
        v-rests="[() => rest(each), leave]" @click="emit('choose', each.ease)"
      >
        <EaseCurve :points="each.curve" :width="34" :height="24" />
      </button>
    </div>
    <p class="muted says">{{ pointed ?? current ?? says ?? '' }}</p>
  </div>
</template>

<style scoped>
.curves { display: flex; flex-wrap: wrap; gap: 4px; }
.curves button { width: 38px; height: 28px; display: grid; place-items: center; border: 1px solid var(--line); border-radius: 2px; opacity: 0.75; }
.curves button:hover, .curves button:focus-visible { opacity: 1; border-color: var(--bone); }
.curves .on { opacity: 1; border-color: var(--bone); background: var(--chosen); box-shadow: inset 0 -3px var(--bone); }
.own { border-style: dashed; }
.says { font-size: 12.5px; min-height: 18px; margin: 3px 0 0; }
</style>
