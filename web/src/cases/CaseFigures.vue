<script setup lang="ts">
import type { Schemas, Working } from '@/api/client'
import { fieldOf } from '@/shared/fieldLink'
import Figure from '@/shared/Figure.vue'
import { money, number, share, plural } from '@/shared/format'
import { useMe } from '@/shared/session'
import Lacking from './Lacking.vue'

/** The four figures of a case, each with its working and what it still needs. */
const props = defineProps<{
  data: Schemas['CaseOut']
  figures: Schemas['CaseOut']['figures']
  chances: Schemas['RangesOut']['chances']
}>()
const emit = defineEmits<{ supply: [sheet: string, field: string] }>()
const { currency } = useMe()
const working = (name: string): Working | undefined => props.data.working[name]
/** What a figure that cannot be computed still needs: share and phases need all of the sizing but rework. */
function needs(name: string): Schemas['Lack'][] {
  const lacking = working(name)?.missing.map(fieldOf) ?? []
  const fromSizing = lacking.some((field) => ['phases', 'judged_share'].includes(field))
  return props.data.missing.filter(
    (lack) =>
      lacking.includes(lack.field) ||
      (fromSizing && lack.sheet === 'sizing' && !lack.field.startsWith('rework_')),
  )
}
const cash = (value: string | null | undefined): string => money(value, currency.value)
</script>

<template>
  <div class="row figures">
    <Figure
      name="saving_per_year"
      label="Saved a year, once live"
      large
      :working="working('saving_per_year')"
      :text="cash(figures.saving_per_year)"
    >
      <template v-if="figures.cost_before">
        <Figure name="cost_before" :working="working('cost_before')" :text="cash(figures.cost_before)" />
        today,
        <Figure
          name="cost_after_people"
          :working="working('cost_after_people')"
          :text="cash(figures.cost_after_people)"
        />
        after
      </template>
      <Lacking
        v-if="figures.saving_per_year === null"
        :needs="needs('saving_per_year')"
        @supply="(...to) => emit('supply', ...to)"
      />
    </Figure>
    <Figure
      name="running_cost_per_year"
      label="Costs a year to run"
      large
      :working="working('running_cost_per_year')"
      :text="cash(figures.running_cost_per_year)"
    >
      <template v-if="figures.robots !== null">
        <Figure name="robots" :working="working('robots')" :text="String(figures.robots)" />
        {{ plural(figures.robots, 'robot', 'robots') }}, of which it uses
        {{ share(figures.robot_share, 0) }}
      </template>
      <Lacking
        v-if="figures.running_cost_per_year === null"
        :needs="needs('running_cost_per_year')"
        @supply="(...to) => emit('supply', ...to)"
      />
    </Figure>
    <Figure
      name="payback_months"
      label="Paid back after"
      large
      :working="working('payback_months')"
      :text="
        figures.payback_months
          ? `${number(figures.payback_months, 1)} months`
          : figures.net
            ? (figures.payback_said ?? '').split(',')[0]!
            : '–'
      "
    >
      <template v-if="figures.payback_months">from the start of the plan<br /></template>
      <template v-else-if="figures.net">{{ figures.payback_said?.split(', ')[1] }}</template>
      <template v-if="figures.npv_3y && chances.length">
        <template v-for="(one, n) in chances" :key="one.months"
          >{{ n ? ', ' : '' }}within {{ one.months }} months in {{ share(one.share, 0) }}</template
        >
        of the draws
      </template>
      <Lacking
        v-if="figures.payback_months === null"
        :needs="needs('payback_months')"
        @supply="(...to) => emit('supply', ...to)"
      />
    </Figure>
    <Figure
      name="npv_3y"
      label="Worth over three years, NPV"
      large
      :working="working('npv_3y')"
      :text="cash(figures.npv_3y)"
    >
      <template v-if="figures.return_3y">
        at year ends, discounted; return
        <Figure
          name="return_3y"
          :working="working('return_3y')"
          :text="`${number(Number(figures.return_3y) * 100)} %`"
        />
      </template>
      <Lacking
        v-if="figures.npv_3y === null"
        :needs="needs('npv_3y')"
        @supply="(...to) => emit('supply', ...to)"
      />
    </Figure>
  </div>
</template>

<style scoped>
.figures > * {
  max-width: 210px;
}
.figures {
  gap: 20px 36px;
  align-items: flex-start;
}
</style>
