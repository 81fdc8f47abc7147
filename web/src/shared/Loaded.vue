<script setup lang="ts">
import Problem from './Problem.vue'

/** The loading, error and empty states of a page or list. */
defineProps<{ pending: boolean; error: unknown; empty?: boolean }>()
</script>

<template>
  <Problem v-if="error" :error="error" />
  <p v-else-if="pending" class="quiet" aria-busy="true">Reading …</p>
  <div v-else-if="empty" class="note"><slot name="empty" /></div>
  <slot v-else />
</template>
