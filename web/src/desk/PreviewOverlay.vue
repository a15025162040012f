<script setup lang="ts">
/** Over the picture: the selected clip's outline, safe areas, and the caret while typing. */
import { computed, nextTick, ref, watch } from 'vue'
import { get, type Handles } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { useDraft } from '../use/draft'
import { useEdits } from '../use/edits'

const props = defineProps<{ share: number }>()
const project = useProject()
const desk = useDesk()
const edits = useEdits()
const handles = ref<Handles | null>(null)
const input = ref<HTMLTextAreaElement | null>(null)
const picked = ref<[number, number]>([0, 0])
let asked = 0
let gesture = ''

watch(() => [desk.selected, desk.frame, project.revision, desk.playing], async () => {
  const serial = ++asked
  if (!desk.selected || desk.playing) {
    handles.value = null
    return
  }
  const found = await get<Handles | null>(`/projects/${project.id}/clips/${desk.selected}/handles?at=${desk.frame}`).catch(() => null)
  if (serial === asked) handles.value = found
}, { immediate: true })

const px = computed(() => 1 / props.share)
const settings = computed(() => project.settings!)
const outline = computed(() => handles.value?.corners.map((point) => point.join(',')).join(' ') ?? '')
const isText = computed(() => desk.clip?.content.kind === 'text')
const text = computed(() => (desk.clip?.content.kind === 'text' ? desk.clip.content.text : ''))
const draft = useDraft(() => text.value)

const caret = computed(() => handles.value?.carets.find((each) => each.index === picked.value[1]) ?? null)
/** The picked characters as one stripe a line. */
const stripes = computed(() => {
  const [from, to] = picked.value
  const carets = handles.value?.carets ?? []
  const out: string[] = []
  for (let i = 0; i + 1 < carets.length; i += 1) {
    const [a, b] = [carets[i], carets[i + 1]]
    if (a.index >= from && b.index <= to && b.index === a.index + 1 && text.value[a.index] !== '\n') {
      out.push([a.top, b.top, b.foot, a.foot].map((point) => point.join(',')).join(' '))
    }
  }
  return out
})

watch(() => desk.typing, async (typing) => {
  if (!typing || !isText.value) return
  const clip = desk.clip!
  // Words are typed where they can be seen: within the stay.
  const local = desk.frame - clip.head
  const drawn = desk.drawing!
  if (local < drawn.arrival.frames || local >= clip.length - drawn.departure.frames) {
    desk.goTo(clip.head + drawn.arrival.frames + Math.floor(drawn.stay / 2))
  }
  desk.playing = false
  gesture = crypto.randomUUID()
  await nextTick()
  input.value?.focus()
  input.value?.select()
  readPicked()
})

function readPicked() {
  const field = input.value
  if (field) picked.value = [field.selectionStart, field.selectionEnd]
}

function typed() {
  draft.value = input.value!.value
  edits.text(desk.selected!, { text: draft.value }, gesture)
  readPicked()
}

/** Put the caret at the character nearest to a press. */
function placeCaret(event: PointerEvent) {
  event.preventDefault()
  const svg = event.currentTarget as SVGElement
  const box = svg.ownerSVGElement!.getBoundingClientRect()
  const x = (event.clientX - box.left) / props.share
  const y = (event.clientY - box.top) / props.share
  let best: { index: number; far: number } | null = null
  for (const each of handles.value?.carets ?? []) {
    const mx = (each.top[0] + each.foot[0]) / 2
    const my = (each.top[1] + each.foot[1]) / 2
    const far = Math.abs(mx - x) + 3 * Math.abs(my - y)
    if (!best || far < best.far) best = { index: each.index, far }
  }
  if (best) {
    input.value?.focus()
    input.value?.setSelectionRange(best.index, best.index)
    readPicked()
  }
}
</script>

<template>
  <svg class="over" :class="{ typing: desk.typing }" :viewBox="`0 0 ${settings.width} ${settings.height}`" aria-hidden="true">
    <g v-if="desk.guides" fill="none" stroke="var(--bone)" :stroke-width="px" opacity="0.75">
      <path
        v-for="share in [0.035, 0.05]" :key="share" :opacity="share === 0.05 ? 1 : 0.5"
        :d="[[0, 0], [1, 0], [1, 1], [0, 1]].map(([cx, cy]) => {
          const x = cx ? settings.width * (1 - share) : settings.width * share
          const y = cy ? settings.height * (1 - share) : settings.height * share
          const s = 22 * px
          return `M${x + (cx ? -s : s)} ${y}H${x}V${y + (cy ? -s : s)}`
        }).join('')"
      />
      <path :d="`M${settings.width / 2} ${settings.height / 2 - 8 * px}v${16 * px}M${settings.width / 2 - 8 * px} ${settings.height / 2}h${16 * px}`" opacity="0.6" />
    </g>
    <template v-if="handles && !desk.playing">
      <polygon v-for="(stripe, i) in desk.typing ? stripes : []" :key="i" :points="stripe" fill="var(--bone)" opacity="0.28" />
      <polygon
        class="outline" :points="outline" :stroke-width="(desk.typing ? 1.5 : 1) * px" :stroke-dasharray="desk.typing ? 'none' : `${4 * px} ${4 * px}`"
        @pointerdown="desk.typing && placeCaret($event)"
      />
      <path
        v-if="desk.typing && caret" class="caret" :stroke-width="2 * px"
        :d="`M${caret.top.join(' ')}L${caret.foot.join(' ')}`"
      />
    </template>
  </svg>
  <textarea
    v-if="desk.typing && isText" ref="input" class="typed" :value="draft" maxlength="10000" aria-label="Words of the title" data-test="type-here"
    @input="typed" @keyup="readPicked" @select="readPicked" @blur="desk.typing = false"
  />
  <div v-if="desk.typing" class="state">Typing. Esc leaves, Ctrl+Space plays.</div>
</template>

<style scoped>
.over { position: absolute; inset: 0; width: 100%; height: 100%; pointer-events: none; overflow: visible; }
.outline { fill: none; stroke: var(--bone); opacity: 0.55; }
.typing .outline { opacity: 1; pointer-events: all; cursor: text; }
.caret { stroke: var(--now); animation: blink 1.06s steps(1) infinite; }
@keyframes blink { 50% { opacity: 0; } }
.typed { position: absolute; left: 0; bottom: 0; width: 1px; height: 1px; opacity: 0; border: 0; padding: 0; resize: none; }
.state { position: absolute; left: 50%; bottom: 10px; transform: translateX(-50%); background: var(--soot); border: 1px solid var(--line); padding: 3px 10px; font-size: 12px; }
</style>
