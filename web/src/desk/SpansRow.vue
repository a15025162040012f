<script setup lang="ts">
/** Arrival and departure: how long and how softly. */
import { computed } from 'vue'
import type { Clip, Ease } from '../api/client'
import EaseCurve from '../parts/EaseCurve.vue'
import EaseShelf from '../parts/EaseShelf.vue'
import Gauge from '../parts/Gauge.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { useTryout } from '../use/tryout'

const props = defineProps<{ clip: Clip }>()
const desk = useDesk()
const project = useProject()
const edits = useEdits()
const open = computed(() => desk.openRow === 'spans')
const course = computed(() => desk.course!)

const spans = computed(() => (['arrival', 'departure'] as const).map((which) => {
  const span = course.value[which]
  const ease = span.ease
  return {
    which, span, asked: props.clip[which],
    start: ease?.kind === 'strengths' ? ease.start : 0,
    end: ease?.kind === 'strengths' ? ease.end : 0,
  }
}))

function soften(which: 'arrival' | 'departure', change: { start?: number; end?: number }, gesture: string) {
  const now = spans.value.find((each) => each.which === which)!
  edits.spanEase(props.clip.id, which, { kind: 'strengths', start: change.start ?? now.start, end: change.end ?? now.end }, gesture)
}

/** An ease rested on plays over the span it would be of, with some of the stay beside it. */
const tryout = useTryout()
function rest(which: 'arrival' | 'departure', ease: Ease) {
  const { head, length } = props.clip
  const edit = { kind: 'set_span_ease' as const, clip: props.clip.id, span: which, ease }
  if (which === 'arrival') tryout.rest(edit, props.clip)
  else tryout.rest(edit, props.clip, [head + length - course.value.departure.frames - 20, head + length - 1])
}

const summary = computed(() => `${course.value.arrival.frames} f in, ${course.value.stay} f stay, ${course.value.departure.frames} f out`)
</script>

<template>
  <section class="row" :class="{ open }">
    <div class="head">
      <button class="names" :aria-expanded="open" @click="desk.openRow = open ? null : 'spans'">
        <span class="name">Arrival and departure</span>
        <span class="muted says">{{ summary }}</span>
      </button>
      <EaseCurve v-for="each in spans" :key="each.which" class="small" :points="each.span.curve" :width="44" :height="26" />
    </div>
    <div v-if="open" class="inside">
      <template v-for="each in spans" :key="each.which">
        <Gauge
          :label="each.which === 'arrival' ? 'Arrival' : 'Departure'" :value="each.asked" :low="0" :high="75" :least="0" :most="clip.length" unit="f" :rate="project.rate"
          :data-test="`${each.which}-length`" @change="(value, gesture) => edits.spans(clip.id, { [each.which]: value }, gesture)"
        />
        <template v-if="each.span.ease">
          <Gauge
            label="Soft start" :value="each.start * 100" :low="0" :high="100" :least="0" :most="100" unit="%" :data-test="`${each.which}-start`"
            @change="(value, gesture) => soften(each.which, { start: value / 100 }, gesture)"
          />
          <Gauge
            label="Soft landing" :value="each.end * 100" :low="0" :high="100" :least="0" :most="100" unit="%" :data-test="`${each.which}-end`"
            @change="(value, gesture) => soften(each.which, { end: value / 100 }, gesture)"
          />
          <div class="ease">
            <EaseCurve :points="each.span.curve" :width="74" :height="62" />
            <EaseShelf
              :label="`Eases for the ${each.which}`" :now="each.span.mixed ? null : each.span.ease" :says="each.span.mixed ? 'different eases' : each.span.says"
              @rest="rest(each.which, $event)" @leave="tryout.leave" @choose="edits.spanEase(clip.id, each.which, $event)"
            />
          </div>
        </template>
        <p v-else class="muted nothing">Nothing moves in this {{ each.which }} yet.</p>
      </template>
    </div>
  </section>
</template>

<style scoped>
.row { padding-left: 36px; border-bottom: 1px solid var(--line); }
.row.open { background: var(--raised); }
.head { display: flex; align-items: center; gap: 10px; min-height: 46px; padding-right: 16px; }
.names { flex: 1; min-width: 0; text-align: left; padding: 4px 0; }
.name { display: block; font-weight: 600; white-space: nowrap; }
.says { display: block; font-size: 12.5px; }
.inside { padding: 0 16px 12px 0; }
.ease { display: grid; grid-template-columns: 74px 1fr; align-items: start; gap: 9px; margin: 4px 0 10px; font-size: 12.5px; }
.nothing { font-size: 12.5px; margin: 2px 0 8px; }
@container (max-width: 340px) {
  .row { padding-left: 12px; }
  .head { padding-right: 8px; }
  .small { display: none; }
  .inside { padding-right: 8px; }
}
</style>
