<script setup lang="ts">
/** How a step's motion is passed on: all at once, or line by line, word by word, letter by letter. */
import { computed } from 'vue'
import type { Cascade, Clip, Step } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import PiecesChoice from '../parts/PiecesChoice.vue'
import Gauge from '../parts/Gauge.vue'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { useSounding } from '../use/sounding'

const props = defineProps<{ clip: Clip; step: Step }>()
const project = useProject()
const edits = useEdits()

const ORDERS = ['forward', 'backward', 'from the middle', 'to the middle', 'random']
const BY = [['delay', 'apart'], ['fit', 'fitted'], ['overlap', 'overlapping']] as const
const PIVOTS = [
  ['own', 'own centre, or the block’s'], ['centre', 'centre'], ['baseline-left', 'baseline, left'], ['baseline-centre', 'baseline, centre'], ['baseline-right', 'baseline, right'],
  ['top', 'top'], ['bottom', 'bottom'], ['left', 'left'], ['right', 'right'],
] as const
const POINTS = PIVOTS.map(([value, title]) => ({ value, title }))
const PLAIN: Cascade = { unit: 'all', order: 'forward', by: 'delay', delay: 3, overlap: 0.7, seed: 1, times: [] }

const text = computed(() => (props.clip.content.kind === 'text' ? props.clip.content.text : ''))
const arrival = computed(() => props.step.units?.arrival ?? PLAIN)
const departure = computed(() => props.step.units?.departure ?? null)
const change = (end: 'arrival' | 'departure', now: Cascade, by: Partial<Cascade>, gesture?: string) =>
  edits.units(props.clip.id, props.step.id, { [end]: { ...now, ...by } }, gesture)
const { withHits } = useSounding()
const beats = computed(() => withHits(props.clip))
function byHits(sound: string | null, now: Cascade) {
  if (sound) edits.put({ kind: 'cascade_by_hits', clip: props.clip.id, step: props.step.id, sound, unit: now.unit, on: 'begins' })
}
const ends = computed(() => [
  { end: 'arrival' as const, label: 'Moves', now: arrival.value },
  ...(departure.value ? [{ end: 'departure' as const, label: 'Leaves', now: departure.value }] : []),
])
</script>

<template>
  <div class="units" data-test="units">
    <template v-for="{ end, label, now } in ends" :key="end">
      <PiecesChoice :label="label" :text="text" :now="now.unit" @choose="change(end, now, { unit: $event })" />
      <template v-if="now.unit !== 'all'">
        <div class="line">
          <span class="muted">Order</span>
          <VSelect :model-value="now.order" :items="ORDERS" :aria-label="`Order, ${label.toLowerCase()}`" @update:model-value="(order: Cascade['order']) => change(end, now, { order })" />
          <button v-if="now.order === 'random'" class="act" @click="change(end, now, { seed: now.seed + 1 })">new seed</button>
        </div>
        <ChoiceLine label="Each next" :choices="BY" :now="now.by" @choose="change(end, now, { by: $event })" />
        <div v-if="end === 'arrival' && beats.length" class="line">
          <span class="muted">By the hits of</span>
          <VSelect :model-value="null" :items="beats" :placeholder="now.by === 'times' ? 'by hits' : 'a sound'" aria-label="By the hits of" data-test="cascade-by-hits" @update:model-value="(sound: string | null) => byHits(sound, now)" />
        </div>
        <Gauge
          v-if="now.by === 'delay'" label="Apart" :value="now.delay" :low="0" :high="25" :least="0" :most="10000" unit="f" :digits="1" :rate="project.rate"
          @change="(delay, g) => change(end, now, { delay }, g)"
        />
        <Gauge
          v-if="now.by === 'overlap'" label="Overlap" :value="now.overlap * 100" :low="0" :high="100" :least="0" :most="100" unit="%"
          @change="(share, g) => change(end, now, { overlap: share / 100 }, g)"
        />
      </template>
    </template>
    <div class="line">
      <span class="muted">Departure</span>
      <button v-if="departure" class="act" @click="edits.units(clip.id, step.id, { as_arrival: true })">leave as it arrives</button>
      <button v-else class="act" @click="edits.units(clip.id, step.id, { departure: { ...arrival, unit: 'all' } })">leave in its own way</button>
    </div>
    <div class="line">
      <span class="muted">About</span>
      <VSelect :model-value="step.units?.pivot ?? 'own'" :items="POINTS" aria-label="Point it turns and grows about" @update:model-value="(pivot: (typeof PIVOTS)[number][0]) => edits.units(clip.id, step.id, { pivot })" />
    </div>
  </div>
</template>

<style scoped>
.units { border-left: 2px solid var(--line); padding-left: 10px; margin: 4px 0 8px; }
</style>
