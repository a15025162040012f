<script setup lang="ts">
/** How loud it is at the frame that is heard: a bar of the last 400 ms, a tick for three seconds, the true peak's hold. */
import { computed, ref, watch } from 'vue'

const props = defineProps<{ level: [number, number, number] | null }>()
const WIDTH = 104
const LOW = -48
const place = (level: number) => Math.round((Math.max(0, Math.min(1, (level - LOW) / -LOW))) * (WIDTH - 2) * 10) / 10 + 1
/** The highest peak of this run. */
const top = ref(-120)
watch(() => props.level, (now, before) => { top.value = now === null ? top.value : before === null ? now[2] : Math.max(top.value, now[2]) })
const says = computed(() => (props.level ? `${props.level[1].toFixed(1)} LUFS over three seconds, peak ${top.value.toFixed(1)} dB` : 'The film’s loudness while it plays'))
</script>

<template>
  <span class="meter" :title="says" role="meter" aria-label="Loudness" :aria-valuenow="level ? level[1] : LOW" :aria-valuemin="LOW" aria-valuemax="0" :aria-valuetext="says" data-test="meter">
    <svg :width="WIDTH" height="16" aria-hidden="true">
      <path class="scale" :d="[-48, -36, -23, -14, 0].map((each) => `M${place(each)} 12.500V15`).join('')" />
      <rect class="room" x="1" y="3" :width="WIDTH - 2" height="8" />
      <rect v-if="level" class="now" x="1" y="3" :width="place(level[0]) - 1" height="8" />
      <path v-if="level" class="long" :d="`M${place(level[1])} 1V13`" />
      <path v-if="top > LOW" :class="{ over: top > -1 }" class="top" :d="`M${place(top)} 3V11`" />
    </svg>
    <span class="numbers">{{ level ? level[1].toFixed(1) : '' }}</span>
  </span>
</template>

<style scoped>
.meter { display: flex; align-items: center; gap: 6px; }
.numbers { width: 36px; text-align: right; font-size: 12.5px; }
svg { display: block; }
.room { fill: var(--raised); }
.now { fill: var(--mark); }
.scale { stroke: var(--tick); }
.long { stroke: var(--bone); stroke-width: 1.5; }
.top { stroke: var(--muted); stroke-width: 2; }
.top.over { stroke: var(--alarm); }
</style>
