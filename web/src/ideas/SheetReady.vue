<script setup lang="ts">
import { computed } from 'vue'
import { several } from '@/shared/format'
import SheetComes from './SheetComes.vue'
import SheetMatch from './SheetMatch.vue'
import SheetWords from './SheetWords.vue'
import type { Sheet } from './useSheet'

/** What is said of a list before it comes in: its columns, its words, and how its lines come in. */
const props = defineProps<{ sheet: Sheet; error: unknown }>()
const SAID: [string, string, string][] = [
  ['in', 'comes in', 'come in'],
  ['here', 'is here already', 'are here already'],
  ['repeat', 'stands twice', 'stand twice'],
  ['conflict', 'is in conflict', 'are in conflict'],
  ['fault', 'stays out', 'stay out'],
]
const unsaid = computed(() => props.sheet.words.filter((one) => !one.how).length)
const becomes = computed(() =>
  SAID.filter(([key]) => props.sheet.counts[key])
    .map(([key, one, many]) => several(props.sheet.counts[key] ?? 0, one, many))
    .join(', '),
)
</script>

<template>
  <div class="stack">
    <p class="note" role="status">
      As it stands, of {{ several(sheet.total, 'line', 'lines') }}
      <b>{{ becomes || 'none was looked at' }}</b>.
      <template v-if="unsaid">
        {{ several(unsaid, 'word of theirs says', 'words of theirs say') }} nothing here yet.
      </template>
      <template v-if="!sheet.errand">Nothing has come in so far.</template>
    </p>
    <SheetMatch :key="sheet.id" :sheet="sheet" />
    <SheetWords :sheet="sheet" />
    <SheetComes :sheet="sheet" :error="error" />
  </div>
</template>
