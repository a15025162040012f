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
