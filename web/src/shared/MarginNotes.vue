<script setup lang="ts">
import { onMounted, ref } from 'vue'

/** Puts its content into the margin while no figure is selected. */
const there = ref(false)
onMounted(() => (there.value = document.getElementById('margin-notes') !== null))
</script>

<template>
  <Teleport v-if="there" to="#margin-notes"><slot /></Teleport>
</template>
