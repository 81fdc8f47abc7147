<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useHolds } from './margin'

/**
 * Puts its content into the margin while no figure is selected. `holds`: it is history, a working or something to
 * do, for which the margin opens by itself; help alone waits behind a question mark.
 */
const props = defineProps<{ holds?: boolean }>()
useHolds(() => props.holds === true)
const there = ref(false)
onMounted(() => (there.value = document.getElementById('margin-notes') !== null))
</script>

<template>
  <Teleport v-if="there" to="#margin-notes"><slot /></Teleport>
</template>
