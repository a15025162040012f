<script setup lang="ts" generic="T extends string | number | boolean | null">
/** A few words of which one holds. */
defineProps<{ label: string; choices: readonly (readonly [T, string])[]; now: T | undefined; wide?: boolean }>()
const emit = defineEmits<{ choose: [value: T] }>()
</script>

<template>
  <div class="line">
    <span class="muted">{{ label }}</span>
    <div class="choice" role="radiogroup" :aria-label="label">
      <button v-for="[value, word] in choices" :key="String(value)" role="radio" :aria-checked="now === value" :class="{ on: now === value }" @click="emit('choose', value)">{{ word }}</button>
    </div>
    <slot />
  </div>
</template>

<style scoped>
.line { display: grid; grid-template-columns: 78px 1fr auto; gap: 5px; align-items: center; min-height: 26px; font-size: 12px; }
.choice { display: flex; flex-wrap: wrap; gap: 2px 12px; }
.choice button { color: var(--muted); border-bottom: 1px solid transparent; }
.choice button:hover, .choice .on { color: var(--bone); }
.choice .on { border-color: var(--bone); }
</style>
