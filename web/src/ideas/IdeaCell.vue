<script setup lang="ts">
import { money, number, several } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import { useMe } from '@/shared/session'
import type { Column } from '@/shared/useList'
import When from '@/shared/When.vue'
import { reach, type Row } from './lists'

/** What a column of the list says of an idea. */
defineProps<{ idea: Row; column: Column }>()
const { currency } = useMe()
const days = (late: number): string => `${several(late, 'day', 'days')} late`
</script>

<template>
  <template v-if="column.key === 'stage'">
    <Glyph :state="idea.stage" />
    <div v-if="idea.building" class="quiet">{{ idea.building }}</div>
  </template>
  <template v-else-if="column.key === 'reach'">{{ reach(idea) }}</template>
  <template v-else-if="column.key === 'worth'"
    >{{ money(idea.worth, currency) }}
    <div v-if="idea.worth_waits" class="quiet">being reckoned anew</div></template
  >
  <template v-else-if="column.key === 'effort'">{{ number(idea.effort_days, 1) }}</template>
  <template v-else-if="column.key === 'due'">
    <When v-if="idea.due_on" :at="idea.due_on" /><template v-else>–</template>
    <div v-if="idea.days_late" class="quiet bad">{{ days(idea.days_late) }}</div>
  </template>
  <When v-else-if="column.key === 'since'" :at="idea.stage_since" day />
  <When v-else-if="column.key === 'changed'" :at="idea.changed_at" day />
  <template v-else-if="column.key === 'owner'">{{ idea.owner ?? '–' }}</template>
  <template v-else-if="column.key === 'source'">{{ idea.source }}</template>
  <template v-else>{{ idea.route }}</template>
</template>
