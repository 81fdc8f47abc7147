<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/shared/Figure.vue'
import { money } from '@/shared/format'
import { useMe } from '@/shared/session'
import CaseLines from './CaseLines.vue'
import FactFields from './FactFields.vue'
import type { FactSheet, SheetField } from './factSheet'

/** What a case is computed from: costs and shares, lines of running cost and of benefit, and the notes. */
const props = defineProps<{
  idea: Schemas['IdeaWhole']
  data: Schemas['CaseOut']
  sheet: FactSheet
}>()
const { currency } = useMe()
const inputs = computed((): SheetField[] => [
  { field: 'robot_minutes', unit: 'min' },
  { field: 'robot_exception_share' },
  { field: 'robot_exception_minutes', unit: 'min' },
  { field: 'cost_per_hour', unit: 'an hour' },
  { field: 'seat_kind', kind: 'text' },
  { field: 'seat_cost_per_year', unit: 'a year' },
  { field: 'hosting_per_robot', unit: 'a robot' },
  { field: 'other_software_per_year', unit: 'a year' },
  { field: 'support_share', unit: 'a year' },
  { field: 'one_time_other', unit: 'once' },
  { field: 'robot_hours_per_day', unit: 'h' },
  { field: 'robot_days_per_year', unit: 'days' },
  { field: 'discount_rate', unit: 'a year' },
  // Once it is promised, it counts with today's rows.
  { field: 'costs_on', kind: 'date', fixed: props.data.promise !== null },
])
const NOTES: readonly SheetField[] = [
  { field: 'risk_note', kind: 'long' },
  { field: 'strategy_note', kind: 'long' },
]
</script>

<template>
  <section>
    <h2>What it is computed from</h2>
    <p class="quiet">
      Volume, minutes and shares come from the sizing; costs are rows of the cost tables unless you give this
      idea its own.
    </p>
    <FactFields :sheet="sheet" :fields="inputs" />
    <p class="quiet">
      Robot hours a day come from the hosts' hours and days a year from the
      <router-link to="/house/calendar">calendar</router-link>, unless you give them here.
      <template v-if="data.promise">Once it is promised, today's rows of the cost tables count.</template>
    </p>
  </section>
  <section class="stack tight">
    <h2>Running lines</h2>
    <CaseLines
      :idea="idea.id"
      field="running_lines"
      :sheet="sheet"
      :reckoned="data.lines"
      :offers="data.offers"
    />
  </section>
  <section class="stack tight">
    <div class="spread">
      <h2>Benefit lines, apart from time saved</h2>
      <p v-if="data.benefits.length">
        <Figure
          name="benefits"
          :working="data.working.benefits"
          :text="money(data.benefits_total, currency)"
        />
        a year, not in payback and NPV
      </p>
    </div>
    <CaseLines :idea="idea.id" field="benefit_lines" :sheet="sheet" :reckoned="data.benefits" />
  </section>
  <FactFields :sheet="sheet" :fields="NOTES" />
</template>
