<script setup lang="ts">
/** All texts in time order, edited in place, with the time to read each against the time it is there. */
import { computed, ref, watch } from 'vue'
import { answered, api, type Words } from '../api/client'
import WhenNear from '../parts/WhenNear.vue'
import WordsField from '../parts/WordsField.vue'
import CaptionsPanel from './CaptionsPanel.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useAnswer } from '../use/answer'
import { useEdits } from '../use/edits'
import { shortTimecode } from '../use/timecode'

const project = useProject()
const desk = useDesk()
const edits = useEdits()

/** Reading times of the clips that are in sight, or near: a film may have thousands. */
const near = ref<string[]>([])
const setNear = (clip: string, is: boolean) => { near.value = is ? [...near.value, clip] : near.value.filter((each) => each !== clip) }
const timed = useAnswer<Words[]>(() => [project.id, project.revision, near.value], () => {
  const clip = [...new Set(near.value)].slice(0, 500)
  return clip.length ? () => answered(api.GET('/api/projects/{project_id}/texts', { params: { path: { project_id: project.id }, query: { clip } } })) : undefined
})
const texts = computed(() => timed.value ?? [])

const known = computed(() => new Map(texts.value.map((words) => [`${words.clip} ${words.key}`, words])))
/** The words are the document's own, there even while the service is not; their times come from it. */
const entries = computed(() => project.clips.flatMap((clip) => {
  if (clip.content.kind !== 'text') return []
  const held = project.courses[clip.id]?.held.text ?? []
  const all = [{ key: null as number | null, text: clip.content.text, first: clip.head }, ...held.map(([frame, key]) => (
    { key: key as number | null, text: String((clip.content.kind === 'text' && clip.content.held.text?.find((each) => each.id === key)?.value) || ''), first: project.filmFrame(clip, Math.round(frame)) }))]
  return all.map((each, i) => ({
    clip, ...each, end: all[i + 1]?.first ?? project.endOf(clip), times: known.value.get(`${clip.id} ${each.key}`) ?? null,
  })).filter((each) => each.end > each.first || each.key !== null)
}).sort((a, b) => a.first - b.first))
type Entry = (typeof entries.value)[number]
const span = (each: Entry) => `${shortTimecode(each.first, project.numbering)} to ${shortTimecode(each.end, project.numbering)}`
const short = (times: Words | null) => times !== null && times.reading > times.shown + 0.05
const share = (times: Words) => Math.min(1, times.shown ? times.reading / times.shown : 1)

function enter(each: Entry) {
  desk.select(each.clip.id)
  if (each.key === null) desk.goToStay(each.clip)
  else desk.goTo(each.first)
}

// Finding and replacing
const finding = ref('')
const by = ref('')
const whole = ref(false)
const capitals = ref(false)
const found = ref<{ clip: string; name: string; times: number }[]>([])
watch([finding, whole, capitals, () => project.revision], async () => {
  found.value = finding.value ? await answered(api.GET('/api/projects/{project_id}/find', {
    params: { path: { project_id: project.id }, query: { words: finding.value, whole_words: whole.value, capitals_count: capitals.value } },
  })).catch(() => []) : []
})
const times = computed(() => found.value.reduce((sum, each) => sum + each.times, 0))
const holding = computed(() => new Set(found.value.map((each) => each.clip)))
const holds = (clip: string) => !finding.value || holding.value.has(clip)
const replace = () => edits.replaceWords(finding.value, by.value, { whole_words: whole.value, capitals_count: capitals.value })

/** Several lines pasted at once: they may be meant as one text, or as one title each. */
const pasted = ref<{ clip: string; lines: string[] } | null>(null)
function paste(event: ClipboardEvent, clip: string) {
  const lines = (event.clipboardData?.getData('text') ?? '').split(/\r?\n/).map((line) => line.trim()).filter(Boolean)
  if (lines.length > 1) pasted.value = { clip, lines }
}
function makeTitles() {
  const { clip, lines } = pasted.value!
  pasted.value = null
  // The lines were pasted as words too; the first stays on this title, each other becomes one of its own. A tab parts lines of one title.
  edits.titlesFromLines(clip, lines.map((line) => line.replace(/\t+/g, '\n')))
}
</script>

<template>
  <aside class="tray" aria-label="Text">
    <header>Text <button class="act" aria-label="Close the tray" @click="desk.tray = null">close</button></header>
    <div class="finder">
      <input v-model="finding" placeholder="find" aria-label="Find words" data-test="find" />
      <template v-if="finding">
        <input v-model="by" placeholder="replace by" aria-label="Replace by" data-test="replace-by" @keydown.enter="times && replace()" />
        <span class="muted">
          <button class="flip" :aria-pressed="whole" @click="whole = !whole">whole words</button>
          <button class="flip" :aria-pressed="capitals" @click="capitals = !capitals">capitals count</button>
        </span>
        <button class="act" :disabled="!times" data-test="replace" @click="replace">{{ times ? `replace ${times} in ${found.length} ${found.length === 1 ? 'title' : 'titles'}` : 'not found' }}</button>
      </template>
    </div>
    <div class="inside">
      <WhenNear v-for="each in entries" v-show="holds(each.clip.id)" :key="`${each.clip.id} ${each.key}`" :high="80" class="entry" :class="{ chosen: desk.selected === each.clip.id }" @near="setNear(each.clip.id, $event)">
        <div class="times">
          <span class="muted numbers">{{ span(each) }}</span>
          <span v-if="each.times" class="numbers reading" :class="short(each.times) ? 'alarm' : 'muted'" :title="`${each.times.reading} s to read, ${each.times.shown} s legible on the screen`" data-test="reading">
            <svg width="44" height="8" aria-hidden="true"><path d="M0.500 7.500H43.500" /><rect y="2" height="4" :width="44 * share(each.times)" /></svg>
            {{ each.times.reading.toFixed(1) }} of {{ each.times.shown.toFixed(1) }} s
          </span>
        </div>
        <WordsField
          :clip="each.clip.id" :text="each.text" :label="`Words of ${each.clip.name}`" :here="each.key !== null"
          :rows="Math.min(8, each.text.split('\n').length + (each.text.length > 34 ? 1 : 0))" @enter="enter(each)" @paste="paste($event, each.clip.id)"
        />
        <p v-if="pasted?.clip === each.clip.id" class="pasted">
          {{ pasted.lines.length }} lines: <button class="act" data-test="titles-from-lines" @click="makeTitles">one title each</button> <button class="act" @click="pasted = null">keep as one</button>
        </p>
        <p v-if="each.times && short(each.times)" class="alarm note">Too short to read: {{ (each.times.reading - each.times.shown).toFixed(1) }} s are missing.</p>
        <p v-for="note in each.key === null ? project.courses[each.clip.id]?.notes ?? [] : []" :key="note" class="alarm note">{{ note }}</p>
      </WhenNear>
      <CaptionsPanel />
      <p v-if="!entries.length" class="muted">There are no titles on the timeline yet.</p>
    </div>
  </aside>
</template>

<style scoped>
.finder { display: grid; gap: 6px; padding: 0 16px 8px; font-size: 12.5px; }
.finder input { background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 4px 8px; }
.finder span { display: flex; gap: 14px; }
.finder > button { text-align: left; }
.entry { padding: 8px 0 10px; border-bottom: 1px solid var(--line); }
.times { display: flex; justify-content: space-between; font-size: 12.5px; margin-bottom: 4px; }
.reading svg { vertical-align: -1px; margin-right: 4px; }
.reading path { stroke: var(--line); }
.reading rect { fill: currentColor; }
.note, .pasted { font-size: 12.5px; margin: 6px 0 0; }
</style>
