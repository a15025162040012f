/** What other windows do to the film, as it is written. Reconnects by itself. */
import type { EditAnswer } from '../api/client'

export interface Told {
  revision: number
  /** The answer of the edit; absent in the first message, which only says how new the film is. */
  answer: EditAnswer | null
}

export function useTold(project: string, heard: (told: Told) => void) {
  let socket: WebSocket | null = null
  let closed = false

  function connect() {
    if (closed) return
    const scheme = location.protocol === 'https:' ? 'wss' : 'ws'
    socket = new WebSocket(`${scheme}://${location.host}/api/projects/${project}/told`)
    socket.onmessage = ({ data }) => {
      const message = JSON.parse(data) as { revision: number } | EditAnswer
      heard({ revision: message.revision, answer: 'change' in message ? message : null })
    }
    socket.onclose = () => { setTimeout(connect, 900) }
  }

  function close() {
    closed = true
    socket?.close()
  }

  connect()
  return { close }
}
