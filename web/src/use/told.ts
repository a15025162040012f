/** What other windows do to the film, as it is written. Reconnects by itself. */
import { useWebSocket } from '@vueuse/core'
import { lineTo, type EditAnswer } from '../api/client'

export interface Told {
  revision: number
  /** The answer of the edit; absent in the first message, which only says how new the film is. */
  answer: EditAnswer | null
}

export function useTold(project: string, heard: (told: Told) => void, noted: (note: string) => void) {
  return useWebSocket(lineTo(`/projects/${project}/told`), {
    autoConnect: false,
    autoClose: false,
    autoReconnect: { delay: 900 },
    onMessage: (_, { data }) => {
      const message: { note: string } | { revision: number } | EditAnswer = JSON.parse(data)
      if ('note' in message) noted(message.note)
      else heard({ revision: message.revision, answer: 'change' in message ? message : null })
    },
  })
}
