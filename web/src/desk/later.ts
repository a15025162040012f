/** Parts of the Desk that the first screen does without: each is loaded when it is opened, and all of them as soon as nothing else is to be done. */
import { defineAsyncComponent, type Component } from 'vue'

type Load = () => Promise<{ default: Component }>

const loads: Load[] = []

function later(load: Load) {
  loads.push(load)
  return defineAsyncComponent(load)
}

export const ArrangeRow = later(() => import('./ArrangeRow.vue'))
export const CameraRow = later(() => import('./CameraRow.vue'))
export const CaptionsEncoding = later(() => import('./CaptionsEncoding.vue'))
export const DrawOverlay = later(() => import('./DrawOverlay.vue'))
export const ExportTray = later(() => import('./ExportTray.vue'))
export const FilmsSheet = later(() => import('./FilmsSheet.vue'))
export const FramePanel = later(() => import('./FramePanel.vue'))
export const HandheldPanel = later(() => import('./HandheldPanel.vue'))
export const LightRow = later(() => import('./LightRow.vue'))
export const MasksPanel = later(() => import('./MasksPanel.vue'))
export const MediaTray = later(() => import('./MediaTray.vue'))
export const MotorPanel = later(() => import('./MotorPanel.vue'))
export const PairRow = later(() => import('./PairRow.vue'))
export const PatternSettings = later(() => import('./PatternSettings.vue'))
export const PictureSettings = later(() => import('./PictureSettings.vue'))
export const PointsRow = later(() => import('./PointsRow.vue'))
export const RecipesTray = later(() => import('./RecipesTray.vue'))
export const ShortcutSheet = later(() => import('./ShortcutSheet.vue'))
export const SoundRow = later(() => import('./SoundRow.vue'))
export const SoundTray = later(() => import('./SoundTray.vue'))
export const SpaceView = later(() => import('./SpaceView.vue'))
export const TextTray = later(() => import('./TextTray.vue'))
export const ToneCurves = later(() => import('./ToneCurves.vue'))

let loading = false
/** Once, as soon as nothing else is to be done. */
export function loadTheRest() {
  if (loading) return
  loading = true
  const all = () => { for (const load of loads) void load().catch(() => undefined) }
  if ('requestIdleCallback' in window) requestIdleCallback(all, { timeout: 3000 })
  else setTimeout(all, 500)
}
