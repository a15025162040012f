/** What sorts of clips have in common. */
import type { Clip } from '../api/client'

/** Whether there is anything to see of a clip itself: sounds, cameras and lights show nothing. */
export const isSeen = (clip: Clip) => !['sound', 'camera', 'light'].includes(clip.content.kind)

/** Whether a clip is drawn as a thin rail: it does something to others, and has no picture of its own. */
export const isRail = (clip: Clip) => ['treatment', 'camera', 'light'].includes(clip.content.kind)
