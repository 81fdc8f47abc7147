<script setup lang="ts">
import { dayIn } from '@/shared/days'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { inUnit, money, number } from '@/shared/format'
import When from '@/shared/When.vue'

/** Which rows of the cost tables the case used, of which day, and what today's would change. */
const props = defineProps<{ data: Schemas['CaseOut']; locked: boolean }>()
const emit = defineEmits<{ day: [day: string] }>()
const { currency, zone } = useMe()
const tables = computed(() => props.data.tables)
const today = computed(() => tables.value.today)
const CHANGES = [
  ['saving_per_year', 'saved a year'],
  ['running_cost_per_year', 'to run a year'],
  ['one_time_cost', 'to build'],
  ['npv_3y', 'worth over three years'],
] as const
const changes = computed(() =>
  CHANGES.map(([name, words]) => ({
    words,
    then: props.data.figures[name],
    now: today.value?.[name] ?? null,
  })).filter((one) => today.value && one.then !== one.now),
)
</script>

<template>
  <section class="stack tight">
    <div class="spread">
      <h2>Rows of the cost tables it used</h2>
      <router-link to="/value/rates">Cost tables</router-link>
    </div>
    <p class="quiet">
      As of <When :at="tables.day" />, {{ tables.why }}.
      <template v-if="!today">Today's rows would change nothing.</template>
    </p>
    <table class="ledger">
      <thead>
        <tr>
          <th>Row</th>
          <th class="num">Used</th>
          <th class="num">From</th>
          <th>Given by</th>
          <th class="num">Today's</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in tables.rows" :key="row.kind">
          <td>
            {{ row.name }}<template v-if="row.what">, {{ row.what }}</template>
            <span v-if="row.typed" class="quiet"> this idea has its own figure instead</span>
          </td>
          <td class="num">{{ row.value === null ? '–' : inUnit(row.value, row.unit, currency) }}</td>
          <td class="num"><When v-if="row.since" :at="row.since" /></td>
          <td>{{ row.by }}</td>
          <td class="num">
            <template v-if="row.today"
              >≠ <b>{{ inUnit(row.today, row.unit, currency) }}</b></template
            ><span v-else class="quiet">the same</span>
          </td>
        </tr>
      </tbody>
    </table>
    <div v-if="today" class="note row">
      <p>
        With today's rows:
        <template v-for="(one, n) in changes" :key="one.words"
          >{{ n ? '; ' : '' }}{{ money(one.now, currency) }} {{ one.words }} instead of
          {{ money(one.then, currency) }}</template
        ><template v-if="!changes.length">no figure moves</template
        ><template v-if="today.payback_months !== data.figures.payback_months && today.payback_months"
          >; paid back after {{ number(today.payback_months, 1) }} months</template
        >.
      </p>
      <el-button v-if="!locked" @click="emit('day', dayIn(zone))"> Take today's rows </el-button>
    </div>
  </section>
</template>
