<script setup lang="ts">
/** An ease: its kind, its numbers, named ones to start from, one's own kept under a name, and written as text. */
import { computed, ref } from 'vue'
import { answered, api, said, type Ease, type EaseInfo } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import EaseCurve from '../parts/EaseCurve.vue'
import EaseShelf from '../parts/EaseShelf.vue'
import Gauge from '../parts/Gauge.vue'
import { useProject } from '../stores/project'
import { useAnswer } from '../use/answer'
import { sameEase, useEases } from '../use/eases'
import { useEdits } from '../use/edits'

const props = defineProps<{ ease: Ease; curve?: [number, number][] }>()
const emit = defineEmits<{ change: [ease: Ease, gesture?: string]; rest: [ease: Ease]; leave: [] }>()
const project = useProject()
const edits = useEdits()
const written = ref(false)
const keeping = ref(false)

const KINDS = [['hold', 'hold'], ['linear', 'even'], ['strengths', 'soft'], ['free', 'curve'], ['spring', 'spring'], ['bounce', 'bounce'], ['jumps', 'jumps']] as const
const FIRST: Record<string, Ease> = {
  hold: { kind: 'hold' }, linear: { kind: 'linear' }, strengths: { kind: 'strengths', start: 1 / 3, end: 1 / 3 }, free: { kind: 'free', x1: 0.2, y1: 0.8, x2: 0.3, y2: 1.15 },
  spring: { kind: 'spring', damping: 0.35 }, bounce: { kind: 'bounce', bounces: 3, kept: 0.5 }, jumps: { kind: 'jumps', count: 4, at: 'end' },
}
const kinds = computed(() => (props.ease.kind === 'traced' ? [...KINDS, ['traced', 'traced'] as const] : KINDS))
const { all } = useEases()
const own = computed(() => all.value.find((each) => each.own && sameEase(each.ease, props.ease)) ?? null)

const told = useAnswer<EaseInfo>(() => props.ease, () => () => answered(api.POST('/api/ease', { body: { ease: props.ease } })))

async function read(event: Event) {
  const css = (event.target as HTMLInputElement).value
  if (!css.trim() || css === told.value?.css) return
  try {
    emit('change', (await answered(api.POST('/api/ease', { body: { css } }))).ease)
  } catch (error) {
    project.problem = said(error)
  }
}

function keep(event: Event) {
  const name = (event.target as HTMLInputElement).value.trim()
  keeping.value = false
  if (name) edits.saveEase(name, props.ease)
}
const set = (change: object, gesture: string) => emit('change', { ...props.ease, ...change }, gesture)
</script>

<template>
  <div class="ease">
    <ChoiceLine label="Ease on" :choices="kinds" :now="ease.kind" @choose="FIRST[$event] && emit('change', FIRST[$event])">
      <EaseCurve v-if="told" :points="told.curve" :width="48" :height="26" />
    </ChoiceLine>
    <template v-if="ease.kind === 'strengths'">
      <Gauge label="Soft start" :value="ease.start * 100" :low="0" :high="100" :least="0" :most="100" unit="%" @change="(v, g) => set({ start: v / 100 }, g)" />
      <Gauge label="Soft landing" :value="ease.end * 100" :low="0" :high="100" :least="0" :most="100" unit="%" @change="(v, g) => set({ end: v / 100 }, g)" />
    </template>
    <template v-else-if="ease.kind === 'free'">
      <Gauge
        v-for="part in (['x1', 'y1', 'x2', 'y2'] as const)" :key="part" :label="part" :value="ease[part]" :digits="2"
        :low="part[0] === 'x' ? 0 : -1" :high="part[0] === 'x' ? 1 : 2" :least="part[0] === 'x' ? 0 : -100" :most="part[0] === 'x' ? 1 : 100"
        @change="(v, g) => set({ [part]: v }, g)"
      />
    </template>
    <Gauge v-else-if="ease.kind === 'spring'" label="Damping" :value="ease.damping" :low="0" :high="1.5" :least="0.05" :most="4" :digits="2" @change="(v, g) => set({ damping: v }, g)" />
    <template v-else-if="ease.kind === 'bounce'">
      <Gauge label="Bounces" :value="ease.bounces" :low="1" :high="6" :least="1" :most="12" @change="(v, g) => set({ bounces: v }, g)" />
      <Gauge label="Speed kept" :value="ease.kept * 100" :low="0" :high="100" :least="5" :most="95" unit="%" @change="(v, g) => set({ kept: v / 100 }, g)" />
    </template>
    <template v-else-if="ease.kind === 'jumps'">
      <Gauge label="Jumps" :value="ease.count" :low="1" :high="12" :least="1" :most="1000" @change="(v, g) => set({ count: v }, g)" />
      <ChoiceLine label="Each at" :choices="[['end', 'its end'], ['start', 'its start']] as const" :now="ease.at" @choose="set({ at: $event }, '')" />
    </template>
    <div class="line named">
      <span class="muted from">From</span>
      <EaseShelf label="Named eases" :now="ease" :says="told?.says" @rest="emit('rest', $event)" @leave="emit('leave')" @choose="emit('change', $event)" />
      <input v-if="keeping" class="keep" placeholder="its name" maxlength="200" aria-label="Name to keep this ease under" @vue:mounted="({ el }: any) => el.focus()" @blur="keeping = false" @keydown.enter="keep" @keydown.esc.stop="keeping = false" />
      <button v-else-if="own" class="act" @click="edits.forgetEase(own.name)">forget</button>
      <button v-else class="act" @click="keeping = true">keep</button>
    </div>
    <div class="line">
      <span class="muted">As text</span>
      <button v-if="!written" class="act" data-test="as-text" @click="written = true">write the curve</button>
      <input v-else v-shown="told?.css ?? ''" class="numbers written" spellcheck="false" aria-label="The ease as text, in the web’s notation" title="cubic-bezier(…), linear(…), steps(…)" data-test="css" @keydown.enter="($event.target as HTMLInputElement).blur()" @blur="read" />
    </div>
  </div>
</template>

<style scoped>
.named { align-items: start; }
.from { padding-top: 6px; }
.written, .keep { background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 3px 6px; font-size: 12.5px; min-width: 0; }
.keep { width: 90px; }
.named button:hover { color: var(--bone); }
</style>
