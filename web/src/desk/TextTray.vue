<script setup lang="ts">
/** All texts in time order, edited in place, with the time to read each against the time it is there. */
import { computed, ref, watch } from 'vue'
import { get, type Words } from '../api/client'
import WordsField from '../parts/WordsField.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useEdits } from '../use/edits'
import { shortTimecode } from '../use/timecode'

const project = useProject()
const desk = useDesk()
const edits = useEdits()

const texts = ref<Words[]>([])
watch(() => [project.id, project.revision], async () => { texts.value = await get<Words[]>(`/projects/${project.id}/texts`).catch(() => texts.value) }, { immediate: true })

const entries = computed(() => texts.value.flatMap((words) => {
  const clip = project.project!.clips[words.clip]
  return clip?.content.kind === 'text' ? [{ words, clip, text: words.key === null ? clip.content.text : String(clip.content.held.text?.[words.key]?.value ?? '') }] : []
}))
const rate = computed(() => project.settings!.rate)
const span = (words: Words) => `${shortTimecode(words.first, rate.value)} to ${shortTimecode(words.end, rate.value)}`
const short = (words: Words) => words.reading > words.shown + 0.05
const share = (words: Words) => Math.min(1, words.shown ? words.reading / words.shown : 1)

function enter(words: Words) {
  desk.select(words.clip)
  if (words.key === null) desk.goToStay(project.project!.clips[words.clip])
  else desk.goTo(words.first)
}

// Finding and replacing
const finding = ref('')
const by = ref('')
const whole = ref(false)
const capitals = ref(false)
const found = ref<{ clip: string; name: string; times: number }[]>([])
watch([finding, whole, capitals, () => project.revision], async () => {
  found.value = finding.value ? await get<typeof found.value>(`/projects/${project.id}/find?words=${encodeURIComponent(finding.value)}&whole_words=${whole.value}&capitals_count=${capitals.value}`).catch(() => []) : []
})
const times = computed(() => found.value.reduce((sum, each) => sum + each.times, 0))
const holds = (clip: string) => !finding.value || found.value.some((each) => each.clip === clip)
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
    <header>Text <button class="muted" aria-label="Close the tray" @click="desk.tray = null">close</button></header>
    <div class="finder">
      <input v-model="finding" placeholder="find" aria-label="Find words" data-test="find" />
      <template v-if="finding">
        <input v-model="by" placeholder="replace by" aria-label="Replace by" data-test="replace-by" @keydown.enter="times && replace()" />
        <span class="muted">
          <button :class="{ on: whole }" @click="whole = !whole">whole words</button>
          <button :class="{ on: capitals }" @click="capitals = !capitals">capitals count</button>
        </span>
        <button :disabled="!times" data-test="replace" @click="replace">{{ times ? `replace ${times} in ${found.length} ${found.length === 1 ? 'title' : 'titles'}` : 'not found' }}</button>
      </template>
    </div>
    <div class="inside">
      <div v-for="{ words, clip, text } in entries" v-show="holds(clip.id)" :key="`${clip.id} ${words.key}`" class="entry" :class="{ chosen: desk.selected === clip.id }">
        <div class="times">
          <span class="muted numbers">{{ span(words) }}</span>
          <span class="numbers reading" :class="short(words) ? 'alarm' : 'muted'" :title="`${words.reading} s to read, ${words.shown} s legible on the screen`" data-test="reading">
            <svg width="44" height="8" aria-hidden="true"><path d="M0.500 7.500H43.500" /><rect y="2" height="4" :width="44 * share(words)" /></svg>
            {{ words.reading.toFixed(1) }} of {{ words.shown.toFixed(1) }} s
          </span>
        </div>
        <WordsField
          :clip="clip.id" :text="text" :label="`Words of ${clip.name}`" :here="words.key !== null"
          :rows="Math.min(8, text.split('\n').length + (text.length > 34 ? 1 : 0))" @enter="enter(words)" @paste="paste($event, clip.id)"
        />
        <p v-if="pasted?.clip === clip.id" class="pasted">
          {{ pasted.lines.length }} lines: <button data-test="titles-from-lines" @click="makeTitles">one title each</button> <button class="muted" @click="pasted = null">keep as one</button>
        </p>
        <p v-if="short(words)" class="alarm note">Too short to read: {{ (words.reading - words.shown).toFixed(1) }} s are missing.</p>
        <p v-for="note in words.key === null ? project.drawings[clip.id]?.notes ?? [] : []" :key="note" class="alarm note">{{ note }}</p>
      </div>
      <p v-if="!entries.length" class="muted">There are no titles on the timeline yet.</p>
    </div>
  </aside>
</template>

<style scoped>
.finder { display: grid; gap: 6px; padding: 0 16px 8px; font-size: 12px; }
.finder input { background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 4px 8px; }
.finder span { display: flex; gap: 14px; }
.finder .on { color: var(--bone); border-bottom: 1px solid var(--bone); }
.finder > button { text-align: left; }
.entry { padding: 8px 0 10px; border-bottom: 1px solid var(--line); }
.times { display: flex; justify-content: space-between; font-size: 12px; margin-bottom: 4px; }
.reading svg { vertical-align: -1px; margin-right: 4px; }
.reading path { stroke: var(--line); }
.reading rect { fill: currentColor; }
.note, .pasted { font-size: 12px; margin: 6px 0 0; }
.pasted button { border-bottom: 1px solid var(--line); margin-right: 10px; }
header button:hover { color: var(--bone); }
header button { font-size: 12px; font-weight: 400; }
</style>
