<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { money, number, share } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import Progress from '@/shared/Progress.vue'
import { useMe } from '@/shared/session'
import { goesOn, useErrand } from '@/shared/useErrand'

/** What other factors would do to the sizings of open ideas, as far as it is reckoned. */
const props = defineProps<{ errand: number }>()
const { currency } = useMe()
const { errand: work } = useErrand(ref(props.errand))
const going = computed(() => goesOn(work.value?.state))
const query = useQuery({
  queryKey: ['errands', 'other-factors', () => props.errand, () => work.value?.done],
  placeholderData: (before) => before,
  queryFn: () =>
    ask(
      api.GET('/api/v1/rules/factors/preview/sizings/{number}', {
        params: { path: { number: props.errand } },
      }),
    ),
})
const found = computed(() => query.data.value)
</script>

<template>
  <Problem :error="query.error.value" />
  <p v-if="work && going" role="status">
    {{ work.words || 'Waits for the engine.' }}
    <Progress :done="work.done" :of="work.total" label="Sizings reckoned" />
  </p>
  <p v-else-if="work && work.state !== 'done'" class="care">{{ work.words }}</p>
  <template v-if="found">
    <p>
      Of {{ number(found.sizings) }} sizings <b>{{ number(found.moved) }} would come to something else</b>.
      <template v-if="found.moved > found.rows.length">The {{ found.rows.length }} that move most:</template>
    </p>
    <table v-if="found.rows.length" class="ledger">
      <thead>
        <tr>
          <th>Idea</th>
          <th class="num">Effort now, days</th>
          <th class="num">then</th>
          <th class="num">Share now</th>
          <th class="num">then</th>
          <th class="num">Worth now</th>
          <th class="num">then</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in found.rows" :key="row.id">
          <td>
            <router-link class="whole" :to="`/ideas/${row.id}?sheet=sizing`"
              >I-{{ row.id }} {{ row.title }}</router-link
            >
            <span class="quiet"> {{ row.stage }}</span>
          </td>
          <td class="num">{{ number(row.effort_now, 1) }}</td>
          <td class="num">{{ number(row.effort_then, 1) }}</td>
          <td class="num">{{ share(row.share_now, 0) }}</td>
          <td class="num">{{ share(row.share_then, 0) }}</td>
          <td class="num">{{ money(row.worth_now, currency) }}</td>
          <td class="num">{{ money(row.worth_then, currency) }}</td>
        </tr>
      </tbody>
    </table>
  </template>
</template>
