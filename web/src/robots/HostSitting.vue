<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { several } from '@/shared/format'
import When from '@/shared/When.vue'
import { spansOf } from './sitting'

/** When somebody was at the computer in the last week, or its screen was locked. */
const props = defineProps<{ readings: Schemas['ReadingRow'][] }>()
const MOST = 10
const spans = computed(() => spansOf(props.readings))
</script>

<template>
  <section class="stack tight">
    <h3>Somebody at it</h3>
    <p v-if="!spans.length" class="quiet">
      Nobody was seen at a terminal or a screen of it in the last week.
    </p>
    <ul v-else class="plain">
      <li v-for="one in spans.slice(0, MOST)" :key="one.from">
        <b>{{ one.what }}</b>
        <template v-if="one.to === null"> since <When :at="one.from" /></template>
        <template v-else> <When :at="one.from" /> to <When :at="one.to" /></template>
      </li>
    </ul>
    <p v-if="spans.length > MOST" class="quiet">
      {{ several(spans.length - MOST, 'time', 'times') }} before that are not listed.
    </p>
  </section>
</template>

<style scoped>
.plain {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
