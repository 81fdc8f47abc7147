<script setup lang="ts">
import Problem from './Problem.vue'

/** The loading, error and empty states of a page or list. */
defineProps<{
  pending: boolean
  error: unknown
  empty?: boolean
  /** How many rows come, about: they stand as lines until they are there. */
  lines?: number
}>()
</script>

<template>
  <Problem v-if="error" :error="error" />
  <div v-else-if="pending && lines" aria-busy="true">
    <span class="unseen">Reading …</span>
    <el-skeleton :rows="lines" />
  </div>
  <p v-else-if="pending" class="quiet" aria-busy="true">Reading …</p>
  <div v-else-if="empty" class="note"><slot name="empty" /></div>
  <slot v-else />
</template>
