/** What is being made for the film and asked about again and again: exports, followings, transcriptions. */
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'
import { passes } from '../api/refused'

export function useJobs<Job extends { id: string; state: string }>(ask: () => Promise<Job[]>, every: number) {
  const jobs = ref([]) as Ref<Job[]>
  const busy = computed(() => jobs.value.some((job) => job.state === 'waiting' || job.state === 'running'))
  let asked = 0
  /** The newest question whose answer is known, or too old to count. */
  let known = 0
  /** Whether the newest question failed in a way that passes: it is asked again. */
  let missed = false
  async function refresh() {
    const own = ++asked
    missed = false
    const told = await ask().catch((error: unknown) => { missed = passes(error); return null })
    if (!told || own <= known) return
    known = own
    jobs.value = told
  }
  /** Take up a job that was ordered here, before all others or after them. */
  function take(job: Job, first = false) {
    // Whatever was asked for until now knows nothing of it.
    known = asked
    const others = jobs.value.filter((each) => each.id !== job.id)
    jobs.value = first ? [job, ...others] : [...others, job]
  }
  useIntervalFn(() => { if (busy.value || missed) void refresh() }, every)
  return { jobs, busy, refresh, take }
}
