<script setup lang="ts">
/** All films: open, make, copy, delete and put back. */
import { onMounted, ref } from 'vue'
import { answered, api, said, type ProjectSummary } from '../api/client'
import Sheet from '../parts/Sheet.vue'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { RATES, SIZES, sizeOf } from '../use/frames'

const desk = useDesk()
const project = useProject()
const films = ref<ProjectSummary[]>([])
const deleted = ref<ProjectSummary | null>(null)
const name = ref('')
const size = ref('1280×720')
const rate = ref('25')

async function attempt(work: () => Promise<void>) {
  try {
    await work()
    films.value = await answered(api.GET('/api/projects'))
  } catch (error) {
    project.problem = said(error)
  }
}
onMounted(() => attempt(async () => {}))

function enter(id: string) {
  const address = new URL(location.href)
  address.searchParams.set('project', id)
  location.assign(address)
}

const make = () => attempt(async () => {
  const made = await answered(api.POST('/api/projects', { body: { name: name.value.trim() || 'Untitled film', ...sizeOf(size.value), rate: RATES[rate.value] } }))
  enter(made.id)
})
const of = (film: ProjectSummary) => ({ params: { path: { project_id: film.id } } })
const copy = (film: ProjectSummary) => attempt(async () => { await answered(api.POST('/api/projects/{project_id}/copy', of(film))) })
const remove = (film: ProjectSummary) => attempt(async () => {
  await answered(api.DELETE('/api/projects/{project_id}', of(film)))
  deleted.value = film
})
const putBack = () => attempt(async () => {
  await answered(api.POST('/api/projects/{project_id}/put-back', of(deleted.value!)))
  deleted.value = null
})
</script>

<template>
  <Sheet label="Films" @close="desk.films = false">
    <div class="films">
      <h2>Films</h2>
      <div v-for="film in films" :key="film.id" class="film" :class="{ now: film.id === project.id }">
        <button class="name" @click="enter(film.id)">{{ film.name }}</button>
        <span class="muted numbers">{{ film.width }}×{{ film.height }}</span>
        <button class="act" @click="copy(film)">copy</button>
        <button class="act" :disabled="film.id === project.id" @click="remove(film)">delete</button>
      </div>
      <p v-if="deleted" class="muted">“{{ deleted.name }}” was deleted. <button class="act" @click="putBack">Put it back</button></p>
      <div class="make">
        <input v-model="name" placeholder="Name of a new film" maxlength="200" aria-label="Name of a new film" @keydown.enter="make" />
        <VSelect v-model="size" :items="SIZES" aria-label="Frame size" />
        <VSelect v-model="rate" :items="Object.keys(RATES)" aria-label="Frames per second" />
        <VBtn variant="flat" @click="make">Make it</VBtn>
      </div>
      <p class="muted note">The first shot added to an empty film gives it its size and rate.</p>
    </div>
  </Sheet>
</template>

<style scoped>
.films { padding: 18px 24px; }
h2 { font: 600 15px/20px var(--words); margin: 0 0 10px; }
.film { display: grid; grid-template-columns: 1fr auto auto auto; gap: 18px; align-items: center; padding: 8px 0; border-top: 1px solid var(--line); }
.name { text-align: left; font-weight: 500; }
.now .name { font-weight: 600; }
.film .muted:hover:not(:disabled, span) { color: var(--bone); }
.make { display: grid; grid-template-columns: 1fr 130px 160px auto; gap: 8px; padding-top: 14px; border-top: 1px solid var(--line); }
.make > input { background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 4px 8px; }
.note { font-size: 12.5px; margin: 10px 0 0; }
</style>
