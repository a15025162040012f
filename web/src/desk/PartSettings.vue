<script setup lang="ts">
/** Chosen words, or parts that were set apart before, in their own typeface, weight, size and colour. */
import { computed } from 'vue'
import type { Clip, Styled } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import ColourField from '../parts/ColourField.vue'
import Gauge from '../parts/Gauge.vue'
import { useEdits } from '../use/edits'
import FacePicker from './FacePicker.vue'

const props = defineProps<{ clip: Clip; part: [number, number] | null }>()
const edits = useEdits()
const content = computed(() => (props.clip.content.kind === 'text' ? props.clip.content : null)!)

/** The chosen characters, and each part that is set apart. */
const parts = computed(() => {
  const known = content.value.ranges.map((range) => [range.start, range.end] as [number, number])
  const chosen = props.part && !known.some(([a, b]) => a === props.part![0] && b === props.part![1]) ? [props.part] : []
  return [...chosen, ...known].map(([start, end]) => ({
    start, end, words: content.value.text.slice(start, end).replace(/\n/g, ' '),
    set: (content.value.ranges.find((range) => range.start <= start && end <= range.end) ?? {}) as Partial<Styled>,
  }))
})
const CASE = [['typed', 'as typed'], ['upper', 'capitals'], ['lower', 'small'], ['small', 'small caps']] as const
const put = (each: { start: number; end: number }, style: Partial<Styled>, gesture?: string) => edits.styleRange(props.clip.id, { start: each.start, end: each.end, ...style }, false, gesture)
const number = (value: unknown, otherwise: number) => (typeof value === 'number' ? value : otherwise)
const own = (name: 'weight' | 'tracking' | 'width') => (content.value[name].state === 'fixed' ? number(content.value[name].value, 0) : 0)
const colour = computed(() => (content.value.colour.state === 'fixed' ? String(content.value.colour.value) : '#fff6e6'))
</script>

<template>
  <details v-for="each in parts" :key="each.start" class="part" :open="!!part" data-test="part">
    <summary><span class="muted">Part</span> “{{ each.words.slice(0, 32) }}”</summary>
    <div class="line"><span class="muted">Typeface</span><FacePicker :face="each.set.typeface ?? content.typeface" :words="each.words" :weight="each.set.weight ?? 600" @choose="put(each, { typeface: $event })" /></div>
    <Gauge label="Weight" :value="each.set.weight ?? own('weight')" :low="100" :high="900" :least="1" :most="1000" @change="(weight, g) => put(each, { weight }, g)" />
    <Gauge label="Size" :value="Math.round((each.set.size ?? 1) * 100)" :low="20" :high="300" :least="5" :most="2000" :neutral="100" unit="%" @change="(size, g) => put(each, { size: size / 100 }, g)" />
    <Gauge label="Tracking" :value="each.set.tracking ?? own('tracking')" :low="-100" :high="600" :least="-500" :most="3000" unit="‰ em" @change="(tracking, g) => put(each, { tracking }, g)" />
    <Gauge label="Lifted" :value="Math.round((each.set.shift ?? 0) * 100)" :low="-60" :high="60" :least="-500" :most="500" unit="% em" @change="(shift, g) => put(each, { shift: shift / 100 }, g)" />
    <ChoiceLine label="Case" :choices="CASE" :now="each.set.case ?? content.case" @choose="put(each, { case: $event })" />
    <div class="line"><span class="muted">Colour</span><ColourField :value="each.set.colour ?? colour" label="Colour of the part" @change="(value, g) => put(each, { colour: value }, g)" /></div>
    <button class="act" @click="edits.styleRange(clip.id, { start: each.start, end: each.end }, true)">set plain</button>
  </details>
</template>

<style scoped>
.part { border-left: 2px solid var(--line); padding-left: 10px; font-size: 12.5px; }
summary { cursor: pointer; min-height: 24px; }
</style>
