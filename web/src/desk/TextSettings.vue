<script setup lang="ts">
/** Words and how they are set: what is used most on top, then type, paragraph, and the surface and backing among the steps. */
import { computed, ref } from 'vue'
import type { Clip, ParameterInfo } from '../api/client'
import ChoiceLine from '../parts/ChoiceLine.vue'
import WordsField from '../parts/WordsField.vue'
import { useDesk } from '../stores/desk'
import { useEdits } from '../use/edits'
import { choiceAt, type Choice } from '../use/properties'
import FacePicker from './FacePicker.vue'
import PartSettings from './PartSettings.vue'
import SurfaceLine from './SurfaceLine.vue'
import ValueRow from './ValueRow.vue'

const props = defineProps<{ clip: Clip; parameters: ParameterInfo[] }>()
const desk = useDesk()
const edits = useEdits()

const content = computed(() => (props.clip.content.kind === 'text' ? props.clip.content : null)!)
/** A choice as it is at the playhead; changing it changes what is seen there. */
const now = (name: Choice) => choiceAt(props.clip, name, desk.course, desk.local)
const families = computed(() => desk.catalogue!.families)
const faces = computed(() => families.value.map((each) => ({ title: `${each.name}, ${each.character}`, value: each.id })))
const weight = computed(() => (content.value.weight.state === 'fixed' && typeof content.value.weight.value === 'number' ? content.value.weight.value : 600))

/** A width of the letters only where the typeface has one, or it was set. */
const shown = computed(() => {
  const widths = families.value.find((each) => each.id === now('typeface'))?.widths ?? [100, 100]
  return props.parameters.filter((each) => each.name !== 'width' || widths[0] < widths[1] || content.value.width.state !== 'fixed' || content.value.width.value !== 100)
})

const values = (...names: string[]) => names.flatMap((name) => shown.value.filter((each) => each.name === name))

const ALIGN = [['left', 'left'], ['centre', 'centre'], ['right', 'right']] as const
const ACROSS = [['left', 'left'], ['centre', 'centre'], ['right', 'right']] as const
const DOWN = [['top', 'top'], ['middle', 'middle'], ['bottom', 'bottom']] as const
const BY = [['ink', 'ink'], ['type', 'type']] as const

const groups = computed((): { label: string; name: Choice; choices: readonly (readonly [string, string])[]; now: string }[] => [
  { label: 'Lines meet', name: 'align', choices: ALIGN, now: now('align') },
  { label: 'Stands', name: 'stand_x', choices: ACROSS, now: now('stand_x') },
  { label: 'and', name: 'stand_y', choices: DOWN, now: now('stand_y') },
  { label: 'Measured by', name: 'measured_by', choices: BY, now: now('measured_by') },
])

/** Words and typeface can change within the clip: keys that hold, by the playhead. */
const HELD = [['text', 'words'], ['typeface', 'typeface']] as const
const CASE = [['typed', 'as typed'], ['upper', 'capitals'], ['lower', 'small'], ['small', 'small caps']] as const
const BOX = [['wrap', 'wraps'], ['justify', 'fills'], ['fit', 'sizes to fit']] as const
const KERN = [[true, 'on'], [false, 'off']] as const

/** The characters chosen in the field, and the line a part stands in. */
const part = ref<[number, number] | null>(null)
const changes = computed(() => HELD.flatMap(([name, word]) => (content.value.held[name] ?? []).map((key) => ({ name, word, key }))))

function setFeatures(event: Event) {
  const features = (event.target as HTMLInputElement).value.trim().split(/[\s,]+/).filter(Boolean)
  edits.setting(props.clip.id, { features })
}
</script>

<template>
  <div class="settings">
    <WordsField :clip="clip.id" :text="now('text')" label="Words" :rows="2" here @chosen="part = $event" />
    <PartSettings v-if="part || content.ranges.length" :clip="clip" :part="part" />
    <div class="pair">
      <span class="muted">Typeface</span>
      <FacePicker class="face" :face="now('typeface')" :words="now('text')" :weight="weight" @choose="edits.setting(clip.id, { typeface: $event }, true)" />
    </div>
    <div><ValueRow v-for="each in values('size', 'colour')" :key="each.name" :clip="clip" step="content" :parameter="each" /></div>
    <h3>Type</h3>
    <div><ValueRow v-for="each in values('weight', 'width', 'tracking')" :key="each.name" :clip="clip" step="content" :parameter="each" /></div>
    <ChoiceLine label="Case" :choices="CASE" :now="content.case" @choose="edits.setting(clip.id, { case: $event })" />
    <ChoiceLine label="Kerning" :choices="KERN" :now="content.kerning" @choose="edits.setting(clip.id, { kerning: $event })" />
    <div class="pair">
      <span class="muted">Features</span>
      <input v-shown="content.features.join(' ')" class="features" placeholder="ss01 onum tnum" spellcheck="false" aria-label="OpenType features" @change="setFeatures" />
    </div>
    <div class="pair choices">
      <span class="muted">From here on</span>
      <div class="acts">
        <button class="act" title="Other words from the playhead on" @click="edits.hold(clip.id, 'text', now('text'))">change the words</button>
        <button class="act" title="Another typeface from the playhead on" @click="edits.hold(clip.id, 'typeface', now('typeface'))">change the typeface</button>
      </div>
    </div>
    <div v-for="each in changes" :key="each.name + each.key.id" class="pair held">
      <button class="muted numbers" title="Go there" @click="desk.goIn(clip, Math.round(each.key.at))">{{ each.word }}, {{ each.key.counts_from }} {{ Math.round(each.key.at * 100) / 100 }}</button>
      <input v-if="each.name === 'text'" v-shown="String(each.key.value)" :aria-label="`Words from frame ${each.key.at} on`" @change="desk.goIn(clip, Math.round(each.key.at)); edits.hold(clip.id, 'text', ($event.target as HTMLInputElement).value)" />
      <VSelect
        v-else :model-value="each.key.value" :items="faces" :aria-label="`${each.word} from frame ${each.key.at} on`"
        @update:model-value="(value: string | number) => { desk.goIn(clip, Math.round(each.key.at)); edits.hold(clip.id, each.name, String(value)) }"
      />
      <button class="act" @click="edits.removeHeld(clip.id, each.name, each.key.id)">remove</button>
    </div>
    <h3>Paragraph</h3>
    <ChoiceLine v-for="group in groups" :key="group.name" :label="group.label" :choices="group.choices" :now="group.now" @choose="edits.setting(clip.id, { [group.name]: $event }, true)" />
    <div><ValueRow v-for="each in values('leading', 'box')" :key="each.name" :clip="clip" step="content" :parameter="each" /></div>
    <ChoiceLine label="Box" :choices="BOX" :now="content.box_does" @choose="edits.setting(clip.id, { box_does: $event })" />
    <h3>Surface</h3>
    <SurfaceLine :clip="clip" group="surface" />
    <h3>Backing</h3>
    <SurfaceLine :clip="clip" group="backing" />
  </div>
</template>

<style scoped>
h3 { font: 600 12.5px/16px var(--words); margin: 8px 0 0; padding-top: 8px; border-top: 1px solid var(--line); }
.settings { display: grid; gap: 6px; padding-bottom: 6px; }
.pair { display: grid; grid-template-columns: 88px 1fr 76px; gap: 5px; align-items: center; font-size: 12.5px; }
.face { grid-column: span 2; }
.features { background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 3px 8px; grid-column: span 2; }
.held input { background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 3px 6px; min-width: 0; }
.held button { text-align: left; }
.choices { grid-template-columns: 88px 1fr; }
.acts { display: flex; flex-wrap: wrap; gap: 4px; }
</style>
