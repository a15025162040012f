/** The line to the painter: wishes out, frames in. Reconnects by itself. */
import { useWebSocket } from '@vueuse/core'
import { computed, ref } from 'vue'
import { lineTo } from '../api/client'

export interface PaintedFrame {
  frame: number
  revision: number
  serial: number
  exact: boolean
  samples: [number, number]
  seconds: number
  jpeg: Blob
}

/** Runs of frames that lie ready to be played, of a state of the film. */
export interface CachedFrames {
  revision: number
  spans: [number, number][]
}

const HEADER = 26

function painted(data: ArrayBuffer): PaintedFrame {
  const view = new DataView(data)
  return {
    frame: view.getUint32(0, true), revision: view.getUint32(4, true), serial: view.getUint32(8, true),
    exact: view.getUint8(16) === 1,
    samples: [view.getUint16(18, true), view.getUint16(20, true)],
    seconds: view.getFloat32(22, true),
    jpeg: new Blob([new Uint8Array(data, HEADER)], { type: 'image/jpeg' }),
  }
}

export function usePreviewSocket(project: () => string, onFrame: (frame: PaintedFrame) => void, onFailed: (serial: number) => void, onCached: (cached: CachedFrames) => void, onOpen: () => void) {
  const problem = ref('')
  /** Whether the loops that paint are still being compiled, after the first start on a machine. */
  const compiling = ref(false)
  const { status, send, open, close } = useWebSocket<string | ArrayBuffer>(() => lineTo(`/projects/${project()}/preview`), {
    immediate: false,
    autoConnect: false,
    autoClose: false,
    autoReconnect: { delay: 700 },
    onConnected: (socket) => {
      socket.binaryType = 'arraybuffer'
      onOpen()
    },
    onMessage: (_, { data }) => {
      if (data instanceof ArrayBuffer) {
        problem.value = ''
        onFrame(painted(data))
        return
      }
      const told: { problem: string; frame?: number; serial?: number; cached?: CachedFrames; compiling?: boolean } = JSON.parse(data)
      if (told.cached) return onCached(told.cached)
      if (told.compiling !== undefined) {
        compiling.value = told.compiling
        return
      }
      problem.value = told.problem
      if (told.serial !== undefined) onFailed(told.serial)
    },
  })
  const connected = computed(() => status.value === 'OPEN')

  function say(message: object) {
    // A wish made while the line is down is made anew when it is back.
    if (connected.value) send(JSON.stringify(message), false)
  }

  return { connected, problem, compiling, connect: open, say, close }
}
