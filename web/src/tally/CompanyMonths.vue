<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import { money, monthText, number, several } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import { useMe } from '@/shared/session'
import When from '@/shared/When.vue'

/** The company's months, the newest first: who signed each and what was open then; the next one is closed here. */
const props = defineProps<{ data: Schemas['Overview'] }>()
const { currency } = useMe()
const symbol = computed(() => money('0', currency.value).replace(/\s*0$/, ''))
const months = computed(() => [...props.data.months].reverse())
const closing = ref(false)
const look = useQuery({
  queryKey: ['tally', 'month', () => props.data.to_close],
  enabled: computed(() => closing.value && !!props.data.to_close),
  queryFn: () =>
    ask(api.GET('/api/v1/value/months/{month}', { params: { path: { month: props.data.to_close ?? '' } } })),
})
const close = useAction(async (month: string) => {
  await ask(api.POST('/api/v1/value/months/{month}/close', { params: { path: { month } } }))
  closing.value = false
})
</script>

<template>
  <section class="stack tight">
    <h2>Months</h2>
    <table class="ledger">
      <thead>
        <tr>
          <th>Month</th>
          <th class="num">Promised, {{ symbol }}</th>
          <th class="num">Delivered, {{ symbol }}</th>
          <th class="num">Difference, {{ symbol }}</th>
          <th class="num">Costs, {{ symbol }}</th>
          <th>Signed</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in months" :key="row.month">
          <td>{{ monthText(row.month) }}</td>
          <td class="num">{{ number(row.promised, 2, 2) }}</td>
          <td class="num">{{ number(row.saved, 2, 2) }}</td>
          <td class="num" :class="{ bad: Number(row.difference) < 0 }">{{ number(row.difference, 2, 2) }}</td>
          <td class="num">{{ number(row.costs, 2, 2) }}</td>
          <td>
            <template v-if="row.closed_at">
              closed by {{ row.closed_by }} on <When :at="row.closed_at" day />
              <div v-if="row.open_then.length" class="quiet">open then: {{ row.open_then.join('; ') }}</div>
            </template>
            <el-button v-else-if="row.month === data.to_close" @click="closing = true">
              Close {{ monthText(row.month) }}
            </el-button>
            <span v-else class="quiet">open</span>
          </td>
        </tr>
      </tbody>
    </table>
    <Confirm
      v-if="data.to_close"
      v-model="closing"
      :title="`Close ${monthText(data.to_close)}`"
      action="Close it in my name"
      :busy="close.busy.value"
      :off="!look.data.value"
      @yes="close.go(data.to_close)"
    >
      <Loaded :pending="look.isPending.value" :error="look.error.value">
        <template v-if="look.data.value">
          <p>
            {{ monthText(data.to_close) }} holds {{ several(look.data.value.entries, 'entry', 'entries') }},
            {{ money(look.data.value.money, currency) }} in all. Once closed it stays as it is: late runs and
            corrections are posted to the first open month and name the month they belong to.
          </p>
          <template v-if="look.data.value.open.length">
            <p class="note care">Open in it, and kept beside your name:</p>
            <ul>
              <li v-for="one in look.data.value.open" :key="one">{{ one }}</li>
            </ul>
          </template>
          <p v-else class="quiet">Nothing is open in it.</p>
        </template>
      </Loaded>
      <Problem :error="close.error.value" />
    </Confirm>
  </section>
</template>
