<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, ProblemError, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Chart from '@/shared/Chart.vue'
import { faultOf } from '@/shared/faults'
import { number, writtenAs } from '@/shared/format'
import type { Picture } from '@/shared/picture'
import Problem from '@/shared/Problem.vue'
import DayField from '@/shared/DayField.vue'
import NumberField from '@/shared/NumberField.vue'
import { useDraft } from '@/shared/unsaved'

/** A year of work by month: before; after, split by who does it; and what was delivered of it. */
const props = defineProps<{ idea: Schemas['IdeaWhole']; months: Schemas['CaseMonths'] }>()
const month = new Intl.DateTimeFormat(writtenAs(), { month: 'short', timeZone: 'UTC' })
const named = (name: string): string =>
  new Intl.DateTimeFormat(writtenAs(), { month: 'short', year: 'numeric', timeZone: 'UTC' }).format(
    new Date(`${name}-15T00:00:00Z`),
  )
const picture = computed<Picture>(() => ({
  title: 'Items of a year by who does them',
  kind: 'stack',
  unit: 'items',
  columns: ['Month', 'Robots', 'Handed back', 'People'],
  rows: props.months.typical.map((one, n) => [
    month.format(new Date(Date.UTC(2026, n, 15))),
    Number(one.robots),
    Number(one.handed_back),
    Number(one.people),
  ]),
}))
const form = ref({ month: '', items: '', source: '' })
const keep = useAction(async () => {
  const known = props.months.delivered.find((one) => one.month === form.value.month)
  await ask(
    api.PUT('/api/v1/ideas/{number}/demand', {
      params: { path: { number: props.idea.id } },
      body: { ...form.value, version: known?.version ?? 0 },
    }),
  )
  form.value = { month: '', items: '', source: form.value.source }
  unsent.done()
})
const clash = computed(() =>
  keep.error.value instanceof ProblemError && keep.error.value.code === 'conflict' ? keep.error.value : null,
)
const expected = (name: string): Schemas['TypicalMonth'] | undefined =>
  props.months.typical[Number(name.slice(5)) - 1]
const unsent = useDraft('The month', () => `months-${props.idea.id}`, { form })
</script>

<template>
  <section class="stack tight">
    <h2>The year by month</h2>
    <p class="quiet">
      Before, people do all items. After, robots finish their part and hand some back; people keep the rest.
      {{
        months.drawn
          ? 'Months are those drawn on the sizing.'
          : 'No year is drawn on the sizing, so all months are alike.'
      }}
    </p>
    <Chart :picture="picture" :height="220" />
    <template v-if="months.delivered.length || idea.may.record">
      <h2>Delivered, month by month</h2>
      <table v-if="months.delivered.length" class="ledger">
        <thead>
          <tr>
            <th>Month</th>
            <th class="num">Expected to come</th>
            <th class="num">Came</th>
            <th class="num">Robots, expected</th>
            <th class="num">Robots did</th>
            <th class="num">Handed back</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in months.delivered" :key="one.month">
            <td>{{ named(one.month) }}</td>
            <td class="num">{{ number(expected(one.month)?.before) }}</td>
            <td class="num">
              {{ one.came === null ? 'not counted' : number(one.came) }}
              <div v-if="one.by" class="quiet">{{ [one.source, one.by].filter(Boolean).join(', ') }}</div>
            </td>
            <td class="num">{{ number(expected(one.month)?.robots) }}</td>
            <td class="num">{{ number(one.robots) }}</td>
            <td class="num">{{ number(one.handed_back) }}</td>
          </tr>
        </tbody>
      </table>
      <form v-if="idea.may.record" class="row" @submit.prevent="keep.go()">
        <DayField v-model="form.month" label="Month" month />
        <NumberField v-model="form.items" :chars="9" label="Items that came" placeholder="Items" />
        <el-input
          v-model="form.source"
          style="--chars: 24"
          aria-label="Where the count comes from"
          placeholder="From where?"
        />
        <el-button :disabled="keep.busy.value || !form.month || !form.items" native-type="submit"
          >Record what came</el-button
        >
        <span class="quiet">All items that came, whoever did them; it corrects later estimates.</span>
      </form>
      <p
        v-if="faultOf(keep.error.value, 'items') ?? faultOf(keep.error.value, 'month')"
        class="bad"
        role="alert"
      >
        {{ faultOf(keep.error.value, 'items') ?? faultOf(keep.error.value, 'month') }}
      </p>
      <p v-if="clash" class="bad" role="alert">
        {{ clash.message }} They wrote {{ clash.more.theirs }}. Load again to change it.
      </p>
      <Problem v-else :error="keep.error.value" :fields="['items', 'month']" />
    </template>
  </section>
</template>
