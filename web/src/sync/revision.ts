/** The revision of the open film that this window shows: what is worked out from the film is asked for anew as it changes. */
import { ref } from 'vue'

export const filmRevision = ref(0)
