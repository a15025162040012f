<script setup lang="ts">
/**
 * An entry of a long list, made only while it is in sight or near: a film may have thousands of titles. Elsewhere its room
 * is kept, as high as it was or as it is thought to be.
 */
import { onBeforeUnmount, onMounted, ref } from 'vue'
import { watchNear } from '../use/near'

const props = defineProps<{ high: number }>()
const emit = defineEmits<{ near: [is: boolean] }>()
const element = ref<HTMLElement | null>(null)
const near = ref(false)
const room = ref(props.high)
let end = () => {}

onMounted(() => {
  end = watchNear(element.value!, (is) => {
    // What is being typed into stays, wherever the list is scrolled.
    if (!is && element.value?.contains(document.activeElement)) return
    if (near.value && !is) room.value = element.value!.offsetHeight
    if (near.value !== is) emit('near', is)
    near.value = is
  })
})
onBeforeUnmount(() => {
  end()
  if (near.value) emit('near', false)
})
</script>

<template>
  <div ref="element" :style="near ? undefined : { height: `${room}px` }"><slot v-if="near" /></div>
</template>
