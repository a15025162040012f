/** Two windows on one film: the Desk tells, the Preview alone follows. */
import { onBeforeUnmount, watch } from 'vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'

interface Told { project: string; frame: number; revision: number }

const NAME = 'idle-comet-preview'

/** In the Desk: tell other windows where the playhead is and how new the film is. */
export function useTeller() {
  const desk = useDesk()
  const project = useProject()
  const channel = new BroadcastChannel(NAME)
  const tell = () => channel.postMessage({ project: project.id, frame: desk.frame, revision: project.revision } satisfies Told)
  channel.onmessage = ({ data }) => { if (data === 'hello') tell() }
  watch(() => [desk.frame, project.revision, project.id], tell)
  onBeforeUnmount(() => channel.close())
}

/** In the Preview alone: follow. */
export function useListener(heard: (told: Told) => void) {
  const channel = new BroadcastChannel(NAME)
  channel.onmessage = ({ data }) => { if (data !== 'hello') heard(data as Told) }
  channel.postMessage('hello')
  onBeforeUnmount(() => channel.close())
}
