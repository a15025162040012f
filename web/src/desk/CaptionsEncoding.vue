<script setup lang="ts">
/** A file of captions that does not say how its characters are written: its first lines, and the encoding to choose. */
import { ref } from 'vue'
import { said, type CaptionsPreview } from '../api/client'
import Sheet from '../parts/Sheet.vue'
import { previewed, unsure } from '../use/upload'

const { file, found, answer } = unsure.value!
const encoding = ref(found.encoding)
const lines = ref(found.lines)
const problem = ref('')
const choices = found.choices.map((each) => ({ title: each.label, value: each.name }))

async function choose(name: CaptionsPreview['encoding']) {
  encoding.value = name
  problem.value = ''
  try {
    const now = await previewed(file, name)
    if (encoding.value === name) lines.value = now.lines
  } catch (error) {
    if (encoding.value !== name) return
    lines.value = []
    problem.value = said(error)
  }
}
</script>

<template>
  <Sheet label="Encoding of the captions" :width="460" @close="answer(null)"><div class="panel">
    <p class="head">{{ file.name }}</p>
    <p class="muted">The file does not name its encoding. Choose the one in which its words read right.</p>
    <div class="line"><span class="muted">Encoding</span><VSelect :model-value="encoding" :items="choices" aria-label="Encoding" @update:model-value="choose" /></div>
    <ol class="lines" data-test="caption-lines"><li v-for="(line, at) in lines" :key="at">{{ line }}</li></ol>
    <p v-if="problem" class="alarm">{{ problem }}</p>
    <div class="acts">
      <VBtn variant="flat" :disabled="!lines.length" data-test="add-captions" @click="answer(encoding)">Add captions</VBtn>
      <button class="act" @click="answer(null)">Do not add</button>
    </div>
  </div></Sheet>
</template>

<style scoped>
.panel { padding: 14px 16px; display: grid; gap: 10px; }
.head { font-weight: 600; overflow-wrap: anywhere; }
p { margin: 0; font-size: 12.5px; line-height: 1.45; }
.line { display: grid; grid-template-columns: 108px 1fr; align-items: center; font-size: 12.5px; }
.lines { margin: 0; padding: 10px 12px; list-style: none; background: var(--soot); border: 1px solid var(--line); height: 214px; overflow-y: auto; font-size: 13.5px; line-height: 1.6; }
.acts { display: flex; gap: 12px; align-items: center; }
.alarm { color: var(--alarm); }
</style>
