/** The line to the painter: wishes out, frames in. Reconnects by itself. */
import { ref } from 'vue'

export interface PaintedFrame {
  frame: number
  revision: number
  serial: number
  exact: boolean
  samples: [number, number]
  seconds: number
  jpeg: Blob
}

const HEADER = 26

export function usePreviewSocket(project: () => string, onFrame: (frame: PaintedFrame) => void, onFailed: (serial: number) => void, onOpen: () => void) {
  const connected = ref(false)
  const problem = ref('')
  let socket: WebSocket | null = null
  let closed = false

  function connect() {
    if (closed) return
    const scheme = location.protocol === 'https:' ? 'wss' : 'ws'
    socket = new WebSocket(`${scheme}://${location.host}/api/projects/${project()}/preview`)
    socket.binaryType = 'arraybuffer'
    socket.onopen = () => {
      connected.value = true
      onOpen()
    }
    socket.onclose = () => {
      connected.value = false
      setTimeout(connect, 700)
    }
    socket.onmessage = ({ data }) => {
      if (typeof data === 'string') {
        const told = JSON.parse(data) as { problem: string; frame?: number; serial?: number }
        problem.value = told.problem
        if (told.serial !== undefined) onFailed(told.serial)
        return
      }
      problem.value = ''
      const view = new DataView(data)
      onFrame({
        frame: view.getUint32(0, true), revision: view.getUint32(4, true), serial: view.getUint32(8, true),
        exact: view.getUint8(16) === 1,
        samples: [view.getUint16(18, true), view.getUint16(20, true)], seconds: view.getFloat32(22, true), jpeg: new Blob([new Uint8Array(data, HEADER)], { type: 'image/jpeg' }),
      })
    }
  }

  function say(message: object) {
    if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message))
  }

  function close() {
    closed = true
    socket?.close()
  }

  return { connected, problem, connect, say, close }
}
