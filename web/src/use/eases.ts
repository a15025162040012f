/** The eases to start from: the editor's own first, then the shipped ones, each with its curve as the core traces it. */
import { computed, ref, watch } from 'vue'
import { answered, api, type Ease } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'

export interface NamedEase { name: string; ease: Ease; curve: [number, number][]; own: boolean }

const sorted = (ease: Ease) => Object.entries(ease).sort(([one], [other]) => one.localeCompare(other))
export const sameEase = (a: Ease, b: Ease) => JSON.stringify(sorted(a)) === JSON.stringify(sorted(b))

export function useEases() {
  const desk = useDesk()
  const project = useProject()
  /** The curves of own eases, by the ease. */
  const traced = ref<Record<string, [number, number][]>>({})

  watch(() => project.settings?.eases ?? [], async (own) => {
    for (const { ease } of own) {
      const key = JSON.stringify(ease)
      if (traced.value[key]) continue
      const info = await answered(api.POST('/api/ease', { body: { ease } })).catch(() => null)
      if (info) traced.value[key] = info.curve
    }
  }, { immediate: true })

  const all = computed<NamedEase[]>(() => [
    ...(project.settings?.eases ?? []).map(({ name, ease }) => ({ name, ease: ease, curve: traced.value[JSON.stringify(ease)] ?? [], own: true })),
    ...desk.catalogue!.eases.map(({ name, ease, curve }) => ({ name, ease: ease, curve: curve, own: false })),
  ])
  return { all }
}
