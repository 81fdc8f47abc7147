<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas, Working } from '@/api/client'
import { useMe } from '@/shared/session'
import Chart from '@/shared/Chart.vue'
import Figure from '@/shared/Figure.vue'
import { money, number } from '@/shared/format'
import type { Picture } from '@/shared/picture'

/** Cost before and after, net by year, the running sum, and who does the work. */
const props = defineProps<{ data: Schemas['CaseOut']; figures: Schemas['CaseFigures'] }>()
const { currency } = useMe()
const symbol = computed(() => money('0', currency.value).replace(/\s*0$/, ''))
const working = (name: string): Working | undefined => props.data.working[name]

/** Money since the start, month by month: one-time cost first, then saving less running from go-live. */
const picture = computed<Picture | null>(() => {
  const now = props.data
  const once = Number(props.figures.one_time_cost)
  const yearly = Number(props.figures.saving_per_year) - Number(props.figures.running_cost_per_year)
  if (!now.start || !now.go_live || !props.figures.npv_3y) return null
  const gap = Math.max(0, (Date.parse(now.go_live) - Date.parse(now.start)) / 86_400_000 / (365 / 12))
  const rows: (number | null)[][] = []
  const points = [0, gap, ...Array.from({ length: 37 }, (_, n) => n)].sort((a, b) => a - b)
  for (const month of points) {
    const sum = -once + Math.max(0, month - gap) * (yearly / 12)
    rows.push([Math.round(month * 100) / 100, Math.round(sum)])
  }
  const marks = [{ at: gap, words: 'go-live' }]
  const back = props.figures.payback_months
  if (back && Number(back) <= 36)
    marks.push({ at: Number(back), words: `paid back, month ${number(back, 1)}` })
  return {
    title: 'Money in and out since the start',
    kind: 'line',
    unit: symbol.value,
    xUnit: 'months from the start of the plan',
    columns: ['Month', `Sum, ${symbol.value}`],
    rows,
    marks,
  }
})
const years = computed(() => props.data.yearly ?? [])
const cost = [
  { key: 'before', words: 'Without robots' },
  { key: 'people', words: 'With robots, people' },
  { key: 'after', words: 'With robots, all in all' },
] as const
const lines = [
  { key: 'saved', words: 'Saved' },
  { key: 'to_run', words: 'To run' },
  { key: 'to_build', words: 'To build' },
] as const
const hours = computed(() => {
  const found = props.data.hours
  return [
    {
      who: 'People, handling and rework',
      today: sum(found?.handling, found?.rework),
      first: 'hours_today',
      later: found?.kept,
      name: 'hours_kept',
    },
    {
      who: 'People, handed back by robots',
      today: null,
      first: '',
      later: found?.returned,
      name: 'hours_returned',
    },
    { who: 'Robots', today: null, first: '', later: found?.robots, name: 'robot_hours' },
  ]
})
function sum(one: string | null | undefined, two: string | null | undefined): string | null {
  return one && two ? String(Number(one) + Number(two)) : null
}
</script>

<template>
  <div class="two">
    <section>
      <h2>Cost of the work, {{ symbol }}</h2>
      <table class="ledger">
        <thead>
          <tr>
            <th></th>
            <th v-for="n in 3" :key="n" class="num">Year {{ n }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in cost" :key="line.key" :class="{ sum: line.key === 'after' }">
            <td>{{ line.words }}</td>
            <td v-for="n in 3" :key="n" class="num">
              <Figure
                :name="`${line.key}_${n}`"
                :working="working(`${line.key}_${n}`)"
                :text="number(years[n - 1]?.[line.key])"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <p class="quiet">
        Year n is the nth 365 days from the start of the plan; before go-live people do all of it. All in all
        adds what it costs to run and, in the first year, to build.
      </p>
      <h2 class="gap">Year by year, {{ symbol }}</h2>
      <table class="ledger">
        <thead>
          <tr>
            <th></th>
            <th v-for="n in 3" :key="n" class="num">{{ n }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in lines" :key="line.key">
            <td>{{ line.words }}</td>
            <td v-for="n in 3" :key="n" class="num">
              <Figure
                v-if="line.key === 'to_build' && n === 1"
                name="one_time_cost"
                :working="working('one_time_cost')"
                :text="number(years[0]?.to_build ?? (figures.one_time_cost && `-${figures.one_time_cost}`))"
              />
              <Figure
                v-else-if="line.key !== 'to_build' && years[n - 1]"
                :name="`${line.key}_${n}`"
                :working="working(`${line.key}_${n}`)"
                :text="number(years[n - 1]?.[line.key])"
              />
              <template v-else>–</template>
            </td>
          </tr>
          <tr class="sum">
            <td>Net</td>
            <td v-for="n in 3" :key="n" class="num">
              <Figure
                :name="`net_${n}`"
                :working="working(`net_${n}`)"
                :text="number(figures.net?.[n - 1])"
              />
            </td>
          </tr>
          <tr>
            <td>Net, full years from go-live</td>
            <td v-for="n in 3" :key="n" class="num">
              <Figure
                :name="`live_${n}`"
                :working="working(`live_${n}`)"
                :text="number(figures.after_go_live?.[n - 1])"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section>
      <Chart v-if="picture" :picture="picture" :height="260" />
      <p v-else class="note">The picture of money in and out appears once nothing is missing.</p>
      <h2 class="gap">Who does the work, hours a year</h2>
      <table class="ledger">
        <thead>
          <tr>
            <th></th>
            <th class="num">today</th>
            <th class="num">with robots</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in hours" :key="row.who">
            <td>{{ row.who }}</td>
            <td class="num">
              <Figure :name="row.first || row.who" :working="working(row.first)" :text="number(row.today)" />
            </td>
            <td class="num">
              <Figure :name="row.name" :working="working(row.name)" :text="number(row.later)" />
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.gap {
  margin-top: 20px;
}
</style>
