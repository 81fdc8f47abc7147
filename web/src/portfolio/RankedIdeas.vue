<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/shared/Figure.vue'
import { money, number } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import { useMe } from '@/shared/session'

/** Ideas that wait for a decision, or for what comes before it, the best for a day of building first. */
type Row = Schemas['RankedIdea']
defineProps<{ rows: Row[] }>()
const { currency } = useMe()
const symbol = computed(() => money('0', currency.value).replace(/\s*0$/, ''))
function why(row: Row): string {
  if (row.stage === 'sized') return 'sized and agreed'
  return row.sizing_state === 'offered' ? 'waits for agreement to its sizing' : 'waits to be sized'
}
</script>

<template>
  <table class="ledger">
    <thead>
      <tr>
        <th class="num" style="width: 36px">Rank</th>
        <th>Idea</th>
        <th class="num">Worth over three years, {{ symbol }}</th>
        <th class="num">Build effort, days</th>
        <th class="num">Worth a day, {{ symbol }}</th>
        <th>Stands</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(row, n) in rows" :key="row.id">
        <td class="num">{{ row.per_day === null ? '–' : n + 1 }}</td>
        <td>
          <router-link class="whole" :to="`/ideas/${row.id}?sheet=case`"
            >I-{{ row.id }} {{ row.title }}</router-link
          >
          <div class="quiet">{{ row.division }}</div>
        </td>
        <td class="num">
          {{ number(row.worth) }}
          <div v-if="row.waits" class="quiet">being reckoned anew</div>
        </td>
        <td class="num">
          {{ number(row.effort_days, 1) }}
          <div class="quiet">{{ row.band }}</div>
        </td>
        <td class="num">
          <Figure
            v-if="row.per_day"
            :name="`rank-${row.id}`"
            :working="row.working"
            :text="number(row.per_day)"
          />
          <router-link
            v-else
            :to="`/ideas/${row.id}?sheet=${row.effort_days ? 'case' : 'sizing'}`"
            class="quiet care"
          >
            {{ row.working.missing.join(' and ') }} missing
          </router-link>
        </td>
        <td>
          <Glyph :state="row.stage" />
          <div class="quiet">{{ why(row) }}</div>
        </td>
      </tr>
    </tbody>
  </table>
</template>
