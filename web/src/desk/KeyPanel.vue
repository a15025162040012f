<script setup lang="ts">
/** The keys in hand: one with its frame, value and ease; several with what can be done to all. */
import { computed, ref } from 'vue'
import type { Clip, Ease } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import Gauge from '../parts/Gauge.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { besideEases } from '../use/beside'
import { useEdits } from '../use/edits'
import { keyOf, propertyOf, useParameters } from '../use/properties'
import { useTryout } from '../use/tryout'
import EaseEditor from './EaseEditor.vue'
import { inText } from '../use/wording'

const WAYS = [[false, 'eased'], [true, 'smooth through']] as const
const props = defineProps<{ clip: Clip }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const parameterOf = useParameters()
const factor = ref(100)

const place = computed(() => desk.key!)
const many = computed(() => desk.keys.length > 1)
const parameter = computed(() => parameterOf(props.clip, place.value))
const property = computed(() => propertyOf(props.clip, place.value))
const key = computed(() => keyOf(props.clip, place.value))
const curve = computed(() => desk.course?.curves.find((each) => each.step === place.value.step && each.name === place.value.name) ?? null)
const drawn = computed(() => curve.value?.keys.find((each) => each[2] === place.value.key) ?? null)
const isLast = computed(() => !many.value && curve.value?.keys.at(-1)?.[2] === place.value.key)
const times = computed(() => parameter.value?.shown_times ?? 1)
const through = computed(() => property.value?.state === 'moving' && property.value.through)
const repeat = computed(() => (property.value?.state === 'moving' ? property.value.repeat ?? null : null))
const ENDS = [['head', 'head'], ['tail', 'tail'], ['proportion', 'in proportion']] as const
const REPEATS = [[null, 'once'], ['loop', 'loop'], ['mirror', 'mirror']] as const

/** An ease rested on plays from a little before the key to a little past the next one. */
const tryout = useTryout()
function rest(ease: Ease) {
  const keyed = curve.value!.keys
  const at = keyed.findIndex((each) => each[2] === place.value.key)
  const first = Math.floor(project.filmFrame(props.clip, drawn.value![0])) - 6
  tryout.rest({ kind: 'ease_keys', keys: desk.keys, ease }, props.clip, [first, Math.ceil(project.filmFrame(props.clip, (keyed[at + 1] ?? keyed[at])[0])) + 12])
}
const set = (ease: Ease, gesture?: string) => edits.easeKeys(desk.keys, ease, gesture)

function remove() {
  edits.removeKeys(desk.keys)
  desk.keys = []
}
</script>

<template>
  <section v-if="key && parameter && drawn" class="key" aria-label="Key">
    <div class="top">
      <span class="name">{{ many ? `${desk.keys.length} keys` : `Key of ${inText(parameter.label)}` }}</span>
      <button class="act" @click="desk.beside = besideEases(desk, project)">compare eases</button>
      <button class="act" @click="remove">remove</button>
      <button class="act" @click="desk.keys = []">close</button>
    </div>
    <template v-if="!many">
      <Gauge
        label="Frame" :value="Math.round(drawn[0])" :low="0" :high="clip.length - 1" :least="0" :most="clip.length - 1" unit="f" :rate="project.rate"
        @change="(frame, gesture) => edits.moveKey(place, frame, null, gesture)"
      />
      <Gauge
        v-if="parameter.sort === 'number'" label="Value" :value="(key.value as number) * times" :low="parameter.low * times" :high="parameter.high * times" :least="parameter.least * times"
        :most="parameter.most * times" :neutral="parameter.neutral * times" :unit="parameter.unit" :digits="parameter.digits"
        @change="(value, gesture) => edits.moveKey(place, Math.round(drawn![0]), value / times, gesture)"
      />
      <template v-if="parameter.sort === 'point'">
        <Gauge
          v-for="axis in ([0, 1] as const)" :key="axis" :label="axis ? 'Y' : 'X'" :value="(key.value as [number, number])[axis]" :low="parameter.low" :high="parameter.high"
          :least="parameter.least" :most="parameter.most" unit="px" :digits="1"
          @change="(value, gesture) => edits.moveKey(place, Math.round(drawn![0]), axis ? [(key!.value as [number, number])[0], value] : [value, (key!.value as [number, number])[1]], gesture)"
        />
      </template>
    </template>
    <template v-else>
      <div class="acts">
        <button class="act" @click="edits.distributeKeys(desk.keys)">space evenly</button>
        <button class="act" @click="edits.alignKeys(desk.keys, desk.frame)">align at the playhead</button>
        <button class="act" @click="edits.stretchKeys(desk.keys, desk.frame, factor / 100)">stretch to {{ factor }} %</button>
      </div>
      <Gauge label="Stretch" :value="factor" :low="25" :high="400" :least="1" :most="10000" :neutral="100" unit="%" @change="(value) => { factor = value }" />
    </template>
    <ChoiceLine label="Counts from" :choices="ENDS" :now="key.counts_from" @choose="edits.recountKeys(desk.keys, $event)" />
    <EaseEditor v-if="!isLast && !through" :ease="key.ease" @change="set" @rest="rest" @leave="tryout.leave" />
    <template v-if="(curve?.keys.length ?? 0) > 1 && !many">
      <ChoiceLine label="All its keys" :choices="WAYS" :now="through" @choose="edits.through(clip.id, place.step, place.name, $event)" />
      <ChoiceLine
        v-if="!parameter.integrated" label="Plays" :choices="REPEATS" :now="repeat?.mode ?? null"
        @choose="edits.repeat(clip.id, place.step, place.name, $event ? { mode: $event, times: repeat?.times ?? null } : null)"
      />
      <Gauge
        v-if="repeat" label="Times" :value="repeat.times ?? 0" :low="0" :high="12" :least="0" :most="10000" :title="'0 is to the clip’s end'"
        @change="(value) => edits.repeat(clip.id, place.step, place.name, { mode: repeat!.mode ?? 'loop', times: value < 2 ? null : value })"
      />
    </template>
  </section>
</template>

<style scoped>
.key { padding: 4px 16px 10px 36px; border-bottom: 1px solid var(--line); background: var(--raised); }
.top { display: flex; flex-wrap: wrap; gap: 6px; align-items: baseline; min-height: 28px; font-size: 12.5px; }
.name { flex: 1; font-weight: 600; font-size: 13px; }
.acts { display: flex; flex-wrap: wrap; gap: 6px; font-size: 12.5px; min-height: 24px; }
@container (max-width: 340px) {
  .key { padding: 4px 8px 10px 12px; }
  .name { flex-basis: 100%; }
}
</style>
