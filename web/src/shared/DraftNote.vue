<script setup lang="ts">
import type { Draft } from './unsaved'
import When from './When.vue'

/** Says that what stands in a form was typed earlier and never sent, and throws it away on wish. */
defineProps<{ draft: Draft }>()
</script>

<template>
  <p v-if="draft.from.value" class="note row" role="status">
    <span>Here again: what you typed <When :at="draft.from.value" /> and did not send.</span>
    <el-button link type="primary" @click="draft.drop()">Throw it away</el-button>
  </p>
</template>
