<script setup lang="ts">
/** Recipes. Designs for words are shown on the title in hand over the film itself. Resting on one plays it; a click applies it. */
import { computed, onMounted, ref } from 'vue'
import { answered, api, said, type Recipe, type RecipeInfo } from '../api/client'
import { useDesk } from '../stores/desk'
import { useProject } from '../stores/project'
import { newId, useEdits } from '../use/edits'
import { useNewTitle } from '../use/newTitle'
import { useTryout } from '../use/tryout'
import EnsemblesPart from './EnsemblesPart.vue'
import FillIns from './FillIns.vue'
import SeriesStyle from './SeriesStyle.vue'
import { useKept } from '../use/kept'

const project = useProject()
const desk = useDesk()
const edits = useEdits()
const tryout = useTryout()
const { typeInto } = useNewTitle()

const all = ref<RecipeInfo[]>([])
const typed = ref('')
const sort = ref<string | null>(null)
const adds = ref(false)
const kept = ref<RecipeInfo | null>(null)
const note = ref('')
const files = ref<HTMLInputElement | null>(null)
const several = useKept('recipes-of-several', false)
const resting = ref<string | null>(null)
const tile = ref(0)
let turning = 0

const MOMENTS = 12
const HIGH = 80
const SORTS = ['favourites', 'title', 'strap', 'chapter', 'quote', 'counter', 'end card', 'credits', 'caption', 'my own']

const load = async () => { all.value = await answered(api.GET('/api/recipes')) }
onMounted(load)

const titles = computed(() => desk.clips.filter((clip) => clip.content.kind === 'text'))
const title = computed(() => titles.value[0] ?? null)
/** What a recipe is found by: its own words, and the trade's words for all that its steps do. */
const wordsOf = (recipe: Recipe) => [recipe.name, recipe.sort, recipe.note, recipe.content.typeface, ...recipe.steps.flatMap((step) => {
  const kind = desk.kindOf(step.kind)
  return kind ? [kind.label, ...kind.synonyms] : []
})].join(' ').toLowerCase()
const found = computed(() => {
  const words = typed.value.trim().toLowerCase()
  return all.value.filter(({ recipe, favourite, own }) => {
    if (sort.value === 'favourites' ? !favourite : sort.value === 'my own' ? !own : sort.value && recipe.sort !== sort.value) return false
    return words.split(/\s+/).every((word) => wordsOf(recipe).includes(word))
  })
})
const current = computed(() => all.value.find((each) => each.recipe.id === title.value?.recipe) ?? null)

const on = computed(() => (title.value ? `&clip=${title.value.id}` : `&at=${desk.frame}`))
const picture = (id: string, tiles: number) =>
  `/api/projects/${project.id}/recipes/${id}/moments?tiles=${tiles}&width=142&height=${HIGH}${on.value}&r=${project.revision}`

function rest({ recipe }: RecipeInfo) {
  resting.value = recipe.id
  tile.value = 0
  clearInterval(turning)
  turning = window.setInterval(() => { tile.value = (tile.value + 1) % MOMENTS }, 130)
  if (title.value) tryout.rest({ kind: 'use_recipe', clips: [title.value.id], recipe, adds: adds.value }, title.value)
}
function leave() {
  clearInterval(turning)
  resting.value = null
  tryout.leave()
}
function apply({ recipe }: RecipeInfo) {
  leave()
  if (title.value) {
    edits.useRecipe(titles.value.map((clip) => clip.id), recipe, adds.value)
    // What was just changed is looked at.
    const { head, length } = title.value
    if (desk.frame < head || desk.frame >= head + length) desk.goToStay(title.value)
    return
  }
  const id = newId()
  edits.addFromRecipe(id, recipe)
  typeInto(id)
}
async function like(each: RecipeInfo) {
  each.favourite = !each.favourite
  await answered(api.PUT('/api/recipes/{id}/favourite', { params: { path: { id: each.recipe.id }, query: { liked: each.favourite } } }))
}
/** Kept at once, under the title's words; another name can be typed as soon as it is there. */
async function keep() {
  try {
    kept.value = await answered(api.POST('/api/projects/{project_id}/clips/{clip_id}/recipe', {
      params: { path: { project_id: project.id, clip_id: title.value!.id } },
      body: { name: title.value!.name.slice(0, 60), sort: current.value?.recipe.sort ?? 'title' },
    }))
    await load()
  } catch (error) { project.problem = said(error) }
}
async function rename(event: Event) {
  const name = (event.target as HTMLInputElement).value.trim()
  const { recipe } = kept.value!
  if (!name) return
  kept.value = await answered(api.PUT('/api/recipes/{id}', { params: { path: { id: recipe.id } }, body: { name, sort: recipe.sort, note: note.value } }))
  await load()
}
async function read(event: Event) {
  const field = event.target as HTMLInputElement
  try {
    for (const file of [...(field.files ?? [])]) await answered(api.POST('/api/recipes', { body: { text: await file.text() } }))
    await load()
  } catch (error) { project.problem = said(error) }
  field.value = ''
}
async function remove(recipe: Recipe) {
  await answered(api.DELETE('/api/recipes/{id}', { params: { path: { id: recipe.id } } }))
  await load()
}
</script>

<template>
  <aside class="tray" aria-label="Recipes">
    <header>Recipes <button class="act" @click="desk.tray = null">close</button></header>
    <div class="which choice" role="radiogroup" aria-label="What the recipes are of">
      <button v-for="[value, word] in ([[false, 'titles'], [true, 'scenes']] as const)" :key="word" role="radio" :aria-checked="several === value" :class="{ on: several === value }" :data-test="value ? 'ensembles' : 'designs'" @click="several = value">{{ word }}</button>
    </div>
    <EnsemblesPart v-if="several" />
    <div v-if="!several" class="find">
      <input v-model="typed" placeholder="name, kind or character" aria-label="Search recipes" data-test="find-recipe" />
      <div class="sorts choice">
        <button v-for="each in SORTS" :key="each" :class="{ on: sort === each }" :aria-pressed="sort === each" @click="sort = sort === each ? null : each">{{ each }}</button>
      </div>
      <p class="muted to">
        <template v-if="title">On “{{ title.name.slice(0, 24) }}”<template v-if="titles.length > 1"> and {{ titles.length - 1 }} more</template>,
          <span class="choice" role="radiogroup" aria-label="How it is put on"><button role="radio" :aria-checked="!adds" :class="{ on: !adds }" @click="adds = false">replace</button><button role="radio" :aria-checked="adds" :class="{ on: adds }" @click="adds = true">add</button></span></template>
        <template v-else>A new title at the playhead</template>
      </p>
    </div>
    <div v-if="!several" class="inside" @pointerleave="leave">
      <div class="shelf">
        <div v-for="each in found" :key="each.recipe.id" class="recipe" :class="{ now: each.recipe.id === title?.recipe }" v-rests="[() => rest(each), leave]">
          <button class="picture" :data-recipe="each.recipe.id" :aria-label="`${each.recipe.name}: ${each.recipe.note}`" :title="each.recipe.note" @click="apply(each)">
            <img :src="picture(each.recipe.id, 1)" alt="" width="142" height="80" loading="lazy" draggable="false" />
            <span v-if="resting === each.recipe.id" class="moving" :style="{ backgroundImage: `url(${picture(each.recipe.id, MOMENTS)})`, backgroundPositionY: `${-tile * HIGH}px` }" />
          </button>
          <div class="about">
            <span class="name">{{ each.recipe.name }}</span>
            <button class="like" :aria-pressed="each.favourite" :aria-label="`${each.recipe.name} is a favourite`" @click="like(each)">
              <svg width="12" height="12"><path :class="{ full: each.favourite }" d="M6 10.500L1.500 6V3.500L3.500 1.500L6 3.500L8.500 1.500L10.500 3.500V6Z" /></svg>
            </button>
          </div>
          <p v-if="each.missing.length" class="alarm missing">Without {{ each.missing.join(', ') }}</p>
          <div v-if="each.own" class="muted own">
            <a :href="`/api/recipes/${each.recipe.id}/file`" download>save as a file</a>
            <button class="act" @click="remove(each.recipe)">remove</button>
          </div>
        </div>
      </div>
      <p v-if="!found.length" class="muted">No recipe goes by that name.</p>
      <FillIns v-if="title && current" :clip="title" :recipe="current.recipe" />
      <div class="foot">
        <template v-if="title">
          <button class="act" data-test="keep-recipe" @click="keep">keep “{{ title.name.slice(0, 18) }}” as a recipe</button>
          <template v-if="kept">
            <input v-shown="kept.recipe.name" aria-label="Name of the recipe kept" maxlength="200" @change="rename" />
            <input v-model="note" aria-label="Note on the recipe" placeholder="a note for whoever uses it" maxlength="500" @change="rename({ target: { value: kept.recipe.name } } as unknown as Event)" />
          </template>
          <button class="act" @click="edits.reset(titles.map((clip) => clip.id))">remove all steps</button>
        </template>
        <button class="act" @click="files!.click()">read a recipe file</button>
        <a v-if="current" :href="`/api/recipes/${current.recipe.id}/file`" download>save {{ current.recipe.name }} as a file</a>
        <input ref="files" type="file" accept=".json" multiple hidden data-test="recipe-files" @change="read" />
      </div>
      <SeriesStyle :titles="titles" />
    </div>
  </aside>
</template>

<style scoped>
.which { margin: 0 16px 8px; width: fit-content; }
.find { padding: 0 16px 8px; font-size: 12.5px; }
.find input, .foot input { width: 100%; background: var(--soot); border: 1px solid var(--line); border-radius: 2px; padding: 4px 8px; }
.sorts { margin: 8px 0 2px; }
.to { margin: 6px 0 0; line-height: 18px; }
.shelf { display: grid; grid-template-columns: 1fr 1fr; gap: 10px 4px; }
.recipe { width: 142px; font-size: 12.5px; }
.picture { display: block; position: relative; width: 142px; height: 80px; background: var(--soot); outline-offset: 1px; }
.now .picture { outline: 1px solid var(--bone); }
.picture img { display: block; }
.moving { position: absolute; inset: 0; background-size: 142px auto; }
.about { display: flex; justify-content: space-between; align-items: center; gap: 6px; padding-top: 3px; }
.name { font-weight: 600; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.like svg { display: block; fill: none; stroke: var(--muted); }
.like .full { fill: var(--bone); stroke: var(--bone); }
.missing { margin: 2px 0 0; font-size: 12.5px; }
.own { display: flex; gap: 10px; font-size: 12.5px; }
.own a, .foot a { color: inherit; text-decoration: none; }
.foot { display: flex; flex-direction: column; align-items: flex-start; gap: 6px; padding: 14px 0; font-size: 12.5px; color: var(--muted); border-top: 1px solid var(--line); margin-top: 12px; }
</style>
