<script setup lang="ts">
/** How loud it is at the frame that is heard, along the foot of the picture: the last 400 ms as a line, a tick for three seconds, one for the highest peak of this run. */
import { computed, ref, watch } from 'vue'

const props = defineProps<{ level: [number, number, number] }>()
const LOW = -48
const place = (level: number) => `${(100 * Math.max(0, Math.min(1, (level - LOW) / -LOW))).toFixed(2)}%`
const top = ref(props.level[2])
watch(() => props.level, (now) => { top.value = Math.max(top.value, now[2]) })
const says = computed(() => `${props.level[1].toFixed(1)} LUFS over three seconds, peak ${top.value.toFixed(1)} dB`)
</script>

<template>
  <span class="meter" :title="says" role="meter" aria-label="Loudness" :aria-valuenow="level[1]" :aria-valuemin="LOW" aria-valuemax="0" :aria-valuetext="says" data-test="meter">
    <i class="now" :style="{ width: place(level[0]) }" />
    <i v-for="each in [-23, -14]" :key="each" class="scale" :style="{ left: place(each) }" />
    <i class="long" :style="{ left: place(level[1]) }" />
    <i class="top" :class="{ over: top > -0.9 }" :style="{ left: place(top) }" />
  </span>
</template>

<style scoped>
.meter { position: absolute; left: 0; right: 0; top: 0; height: 4px; background: var(--raised); }
i { position: absolute; top: 0; bottom: 0; width: 1px; }
.now { left: 0; background: var(--mark); }
.scale { background: var(--surround); }
.long { width: 2px; background: var(--bone); }
.top { width: 2px; background: var(--muted); }
.top.over { background: var(--alarm); }
</style>
