<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { inUnit, money, number } from '@/shared/format'
import { useMe } from '@/shared/session'
import When from '@/shared/When.vue'
import { PROMISED } from './promised'

/** What a promise freezes, at the rows of which day, and what is expected at today's, before it is made. */
const props = defineProps<{ data: Schemas['CaseOut'] }>()
const todays = defineModel<boolean>({ required: true })
const { currency } = useMe()
const tables = computed(() => props.data.tables)
const other = computed(() => tables.value.today)
const moved = computed(() => tables.value.rows.filter((row) => row.today))
type Figures = Schemas['CaseFigures']
function write(figures: Figures, name: (typeof PROMISED)[number][0]): string {
  if (name === 'payback_months')
    return figures.payback_months
      ? `${number(figures.payback_months, 1)} months`
      : (figures.payback_said ?? '–')
  return name === 'robots' ? number(figures.robots) : money(figures[name], currency.value)
}
</script>

<template>
  <table class="ledger">
    <thead>
      <tr>
        <th></th>
        <th class="num">{{ other ? 'As the case stands' : 'Frozen' }}</th>
        <th v-if="other" class="num">At today's rows</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="[name, label] in PROMISED" :key="name">
        <td>{{ label }}</td>
        <td class="num">{{ write(data.figures, name) }}</td>
        <td v-if="other" class="num">
          <component :is="write(other, name) === write(data.figures, name) ? 'span' : 'b'">{{
            write(other, name)
          }}</component>
        </td>
      </tr>
      <tr>
        <td>Go-live</td>
        <td class="num"><When :at="data.go_live" /></td>
        <td v-if="other" class="num"><When :at="data.go_live" /></td>
      </tr>
    </tbody>
  </table>
  <p v-if="!other">
    At the cost tables of <When :at="tables.day" />, {{ tables.why }}. Today's rows are the same, so what is
    promised is what is expected today.
  </p>
  <template v-else>
    <p class="note care">
      The cost tables moved since <When :at="tables.day" />, {{ tables.why }}:
      <template v-for="(row, n) in moved" :key="row.kind"
        >{{ n ? '; ' : '' }}{{ row.name }} {{ inUnit(row.value ?? '0', row.unit, currency) }} →
        {{ inUnit(row.today ?? '0', row.unit, currency) }}</template
      >. Whichever is frozen: once it is backed, what is expected follows today's rows.
    </p>
    <el-radio-group v-model="todays" class="choices" aria-label="Freeze at the rows of">
      <el-radio :value="false">Freeze at the rows of <When :at="tables.day" /></el-radio>
      <el-radio :value="true">Freeze at today's rows</el-radio>
    </el-radio-group>
  </template>
</template>
