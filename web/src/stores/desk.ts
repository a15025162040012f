/** What the editor is looking at: playhead, selection, trays. */
import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import type { Catalogue, Clip, KindInfo } from '../api/client'
import { useProject } from './project'

export type Tray = 'text' | 'media' | 'export' | null

/** A key in hand: which property of the selected clip, and which of its keys. */
export interface ChosenKey { step: string; name: string; index: number }

export const useDesk = defineStore('desk', () => {
  const project = useProject()
  const catalogue = ref<Catalogue | null>(null)
  const frame = ref(0)
  const playing = ref(false)
  /** Film frames a shown frame: 1 plays as exported, 2 twice as fast, −1 backwards. */
  const speed = ref(1)
  const loop = ref(false)
  const selected = ref<string | null>(null)
  const openRow = ref<string | null>(null)
  const tray = ref<Tray>(null)
  const typing = ref(false)
  const held = ref<{ clip: string; done: number } | null>(null)
  const sheet = ref(false)
  const films = ref(false)
  const key = ref<ChosenKey | null>(null)
  const guides = useLocalStorage('guides', false)

  const clip = computed(() => (selected.value ? project.project?.clips[selected.value] ?? null : null))
  const drawing = computed(() => (selected.value ? project.drawings[selected.value] ?? null : null))
  /** The range that plays: the selected clip when looping, else the film. */
  const range = computed<[number, number]>(() => {
    const whole: [number, number] = [0, Math.max(0, project.length - 1)]
    return loop.value && clip.value ? [clip.value.head, clip.value.head + clip.value.length - 1] : whole
  })
  const local = computed(() => (clip.value ? Math.min(Math.max(frame.value - clip.value.head, 0), clip.value.length - 1) : 0))

  function goTo(target: number) {
    playing.value = false
    frame.value = Math.min(Math.max(Math.round(target), 0), Math.max(0, project.length - 1))
  }

  /** To the middle of a clip's stay, unless the playhead is in its stay already. */
  function goToStay(one: Clip) {
    const drawn = project.drawings[one.id]
    const [arrival, departure] = drawn ? [drawn.arrival.frames, drawn.departure.frames] : [one.arrival, one.departure]
    const at = frame.value - one.head
    if (at < arrival || at >= one.length - departure) goTo(one.head + arrival + Math.floor((one.length - arrival - departure) / 2))
  }

  function select(id: string | null) {
    if (id !== selected.value) {
      typing.value = false
      openRow.value = null
      key.value = null
    }
    selected.value = id
  }

  watch(playing, (now) => { if (!now) speed.value = 1 })
  watch(() => [clip.value, project.project], () => { if (selected.value) void project.need([selected.value]) })

  function kindOf(kind: string): KindInfo | undefined {
    return catalogue.value?.steps.find((each) => each.kind === kind)
  }

  return { catalogue, frame, playing, speed, loop, selected, openRow, tray, typing, held, sheet, films, key, guides, clip, drawing, range, local, goTo, goToStay, select, kindOf }
})
