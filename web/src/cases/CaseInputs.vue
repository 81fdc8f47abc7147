<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Figure from '@/shared/Figure.vue'
import { money } from '@/shared/format'
import { useMe } from '@/shared/session'
import CaseLines from './CaseLines.vue'
import FactField from './FactField.vue'
import type { Fact, useFacts } from './useFacts'
import type { usePreview } from './usePreview'

/** What a case is computed from: costs and shares, lines of running cost and of benefit, and the notes. */
const props = defineProps<{
  idea: Schemas['IdeaWhole']
  data: Schemas['CaseOut']
  facts: ReturnType<typeof useFacts>
  preview: ReturnType<typeof usePreview>
  locked: boolean
}>()
const { currency } = useMe()
type Row = Record<string, string>
const fact = (field: string): Fact =>
  props.facts.find(field) ?? {
    field,
    label: field,
    source: '',
    date: '',
    own: false,
    value: null,
    version: 0,
  }
function keep(field: string, now: string, seen?: number) {
  void props.facts.typedOver(field, now, seen).then(() => props.preview.left(field))
}
const inputs = [
  ['robot_minutes', 'min'],
  ['robot_exception_share', ''],
  ['robot_exception_minutes', 'min'],
  ['cost_per_hour', 'an hour'],
  ['seat_kind', ''],
  ['seat_cost_per_year', 'a year'],
  ['hosting_per_robot', 'a robot'],
  ['other_software_per_year', 'a year'],
  ['support_share', 'a year'],
  ['one_time_other', 'once'],
  ['robot_hours_per_day', 'h'],
  ['robot_days_per_year', 'days'],
  ['discount_rate', 'a year'],
] as const
</script>

<template>
  <section>
    <h2>What it is computed from</h2>
    <p class="quiet">
      Volume, minutes and shares come from the sizing; costs are rows of the cost tables unless you give this
      idea its own.
    </p>
    <div class="fields">
      <FactField
        v-for="[field, unit] in inputs"
        :key="field"
        :fact="fact(field)"
        :value="facts.value(field)"
        :fault="facts.faults[field] ?? preview.fault(field)"
        :unit="unit"
        :optional="field === 'seat_kind'"
        :kind="field === 'seat_kind' ? 'text' : undefined"
        :disabled="locked"
        @typing="(now) => preview.type(field, now)"
        @keep="(now, seen) => keep(field, now, seen)"
      />
      <FactField
        :fact="fact('costs_on')"
        :value="facts.value('costs_on')"
        :fault="facts.faults.costs_on"
        kind="date"
        :disabled="locked || data.promise !== null"
        @keep="(now) => keep('costs_on', now)"
      />
    </div>
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
      :given="(facts.value('running_lines') || []) as Row[]"
      :reckoned="data.lines"
      :offers="data.offers"
      :disabled="locked"
      :fault="facts.faults.running_lines"
      :version="fact('running_lines').version"
      @keep="(now: Row[], seen?: number) => facts.typedOver('running_lines', now, seen)"
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
    <CaseLines
      :idea="idea.id"
      field="benefit_lines"
      :given="(facts.value('benefit_lines') || []) as Row[]"
      :reckoned="data.benefits"
      :disabled="locked"
      :fault="facts.faults.benefit_lines"
      :version="fact('benefit_lines').version"
      @keep="(now: Row[], seen?: number) => facts.typedOver('benefit_lines', now, seen)"
    />
  </section>
  <section class="two">
    <FactField
      v-for="field in ['risk_note', 'strategy_note']"
      :key="field"
      :fact="fact(field)"
      :value="facts.value(field)"
      :fault="facts.faults[field]"
      optional
      kind="long"
      :disabled="locked"
      @keep="(now, seen) => facts.typedOver(field, now, seen)"
    />
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 12px 20px;
  margin: 8px 0;
}
</style>
