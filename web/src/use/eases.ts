/** The eases to start from: the editor's own first, then the shipped ones, each with its curve as the core traces it. */
import { computed, ref, watch } from 'vue'
import { post, type Ease, type EaseInfo } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'

export interface NamedEase { name: string; ease: Ease; curve: [number, number][]; own: boolean }

export const sameEase = (a: Ease, b: Ease) => a.kind === b.kind && Object.entries(a).every(([name, value]) => JSON.stringify(value) === JSON.stringify((b as Record<string, unknown>)[name]))

export function useEases() {
  const desk = useDesk()
  const project = useProject()
  /** The curves of own eases, by the ease. */
  const traced = ref<Record<string, [number, number][]>>({})

  watch(() => project.settings?.eases ?? [], async (own) => {
    for (const { ease } of own) {
      const key = JSON.stringify(ease)
      if (traced.value[key]) continue
      const info = await post<EaseInfo>('/ease', { ease }).catch(() => null)
      if (info) traced.value[key] = info.curve as [number, number][]
    }
  }, { immediate: true })

  const all = computed<NamedEase[]>(() => [
    ...(project.settings?.eases ?? []).map(({ name, ease }) => ({ name, ease: ease as Ease, curve: traced.value[JSON.stringify(ease)] ?? [], own: true })),
    ...desk.catalogue!.eases.map(({ name, ease, curve }) => ({ name, ease: ease as Ease, curve: curve as [number, number][], own: false })),
  ])
  return { all }
}
