<script setup lang="ts">
/** Edits that were not done and are kept: what they were, what stands there now, and what can be done with them. */
import { useProject } from '../stores/project'

const project = useProject()
</script>

<template>
  <section v-if="project.keptEdits.length" class="kept" role="alert" aria-label="Changes that were not made" data-test="kept-edits">
    <div v-for="kept in project.keptEdits" :key="kept.order.token" class="one" data-test="kept-edit">
      <template v-if="kept.conflicts.length">
        <p>Another window changed the same. Theirs was kept.</p>
        <table>
          <thead><tr><th scope="col" /><th scope="col">Yours</th><th scope="col">Theirs</th></tr></thead>
          <tbody>
            <tr v-for="each in kept.conflicts.slice(0, 6)" :key="each.what"><th scope="row">{{ each.what }}</th><td>{{ each.yours }}</td><td>{{ each.theirs }}</td></tr>
          </tbody>
        </table>
        <p v-if="kept.conflicts.length > 6" class="muted">And {{ kept.conflicts.length - 6 }} more.</p>
      </template>
      <p v-else>{{ kept.why }}</p>
      <div class="acts">
        <button class="act" data-test="use-mine" @click="project.settle(kept, true)">{{ kept.conflicts.length ? 'Use mine' : 'Send again' }}</button>
        <button class="act" data-test="keep-theirs" @click="project.settle(kept, false)">{{ kept.conflicts.length ? 'Keep theirs' : 'Discard' }}</button>
      </div>
    </div>
  </section>
</template>

<style scoped>
.kept { position: absolute; z-index: 1110; right: 16px; top: 52px; width: 400px; max-height: 60vh; overflow-y: auto; background: var(--raised); border: 1px solid var(--line); border-left: 2px solid var(--alarm); padding: 10px 14px; font-size: 12.5px; line-height: 1.45; }
.one + .one { border-top: 1px solid var(--line); margin-top: 10px; padding-top: 10px; }
p { margin: 0 0 6px; }
table { width: 100%; border-collapse: collapse; margin-bottom: 8px; table-layout: fixed; }
th, td { text-align: left; padding: 2px 8px 2px 0; font-weight: 400; overflow-wrap: anywhere; vertical-align: top; }
th[scope='row'], thead th { color: var(--muted); }
.acts { display: flex; gap: 8px; }
</style>
