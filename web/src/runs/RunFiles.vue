<script setup lang="ts">
import type { Schemas } from '@/api/client'
import HandedFiles from '@/shared/HandedFiles.vue'

/** The files that a run handed over. */
defineProps<{ run: number; files: Schemas['RunFile'][] }>()
</script>

<template>
  <section>
    <h2>Files it handed over</h2>
    <HandedFiles :at="`/api/v1/runs/${run}/files`" :files="files" />
  </section>
</template>
