/** How the timeline is looked at: its scale and where it is scrolled to. One for the whole Desk. */
import { computed, ref } from 'vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'

/** Width of the tracks' headers, px. */
export const HEADER = 132
const MOST = 40

const width = ref(1000)
const scrolled = ref(0)
/** Px a frame; null fits the whole film. */
const zoom = ref<number | null>(null)
let scrollTo: (left: number) => void = () => {}
/** Where the pointer is on the timeline: its frame, and the clip under it. */
const pointer = { frame: null as number | null, clip: null as string | null }
let before: { zoom: number | null; scrolled: number } | null = null

export function useView() {
  const desk = useDesk()
  const project = useProject()

  const room = computed(() => Math.max(100, width.value - HEADER))
  /** An empty film shows its first ten seconds. */
  const fitting = computed(() => Math.max(0.001, (room.value - 36) / (project.length || project.numbering.base * 10)))
  const scale = computed(() => zoom.value ?? fitting.value)
  const inner = computed(() => Math.max(room.value, project.length * scale.value + 36))

  function show(first: number, last: number, margin: number) {
    zoom.value = Math.min(MOST, (room.value - 2 * margin) / Math.max(1, last - first))
    requestAnimationFrame(() => scrollTo(first * scale.value - margin))
  }

  /** The scale times so much; the frame at `from` px of the lanes (the playhead's, if left out) stays where it is. */
  function zoomBy(factor: number, from?: number) {
    const at = from ?? Math.min(Math.max(desk.frame * scale.value - scrolled.value, 0), room.value)
    const frame = (at + scrolled.value) / scale.value
    const next = Math.min(MOST, Math.max(fitting.value, scale.value * factor))
    zoom.value = next <= fitting.value ? null : next
    requestAnimationFrame(() => scrollTo(frame * scale.value - at))
  }

  function fitAll() {
    zoom.value = null
    requestAnimationFrame(() => scrollTo(0))
  }

  function fitPicked() {
    if (!desk.clips.length) return
    show(Math.min(...desk.clips.map((clip) => clip.head)), Math.max(...desk.clips.map((clip) => project.endOf(clip))), 40)
  }

  /** An arrival or departure spread over the timeline, so that its keys lie far apart. */
  function openSpan(which: 'arrival' | 'departure') {
    const clip = desk.clip
    const drawn = desk.course
    if (!clip || !drawn) return
    before ??= { zoom: zoom.value, scrolled: scrolled.value }
    const frames = Math.max(12, drawn[which].frames)
    desk.openSpan = which
    if (which === 'arrival') show(clip.head - 1, project.filmFrame(clip, Math.min(clip.length, frames)) + 2, 30)
    else show(project.filmFrame(clip, Math.max(0, clip.length - frames)) - 2, project.endOf(clip) + 1, 30)
  }

  function closeSpan() {
    desk.openSpan = null
    if (!before) return
    const { zoom: back, scrolled: left } = before
    zoom.value = back
    before = null
    requestAnimationFrame(() => scrollTo(left))
  }

  const toggleSpan = (which: 'arrival' | 'departure') => (desk.openSpan === which ? closeSpan() : openSpan(which))

  /** The timeline tells its width and place, and lends its scrolling. */
  function attach(scroll: (left: number) => void) {
    scrollTo = scroll
  }

  return { pointer, width, scrolled, zoom, room, fitting, scale, inner, zoomBy, fitAll, fitPicked, toggleSpan, closeSpan, attach }
}
