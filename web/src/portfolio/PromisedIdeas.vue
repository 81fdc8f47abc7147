<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { money, number } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import { dayIn } from '@/shared/days'
import { useMe } from '@/shared/session'
import When from '@/shared/When.vue'
import { standing } from './standing'

/** Backed ideas: what was promised of each, and what is expected now. */
type Row = Schemas['RankedIdea']
defineProps<{ rows: Row[]; live: boolean }>()
const { currency, zone } = useMe()
const today = computed(() => dayIn(zone.value))
const symbol = computed(() => money('0', currency.value).replace(/\s*0$/, ''))
const moved = (one: string | null, other: string | null): boolean => one !== null && one !== other
</script>

<template>
  <table class="ledger">
    <thead>
      <tr>
        <th>Idea</th>
        <th class="num">Worth promised, {{ symbol }}</th>
        <th class="num">Now expected, {{ symbol }}</th>
        <th class="num">Go-live promised</th>
        <th class="num">{{ live ? 'Went live' : 'Now expected' }}</th>
        <th>Stands</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.id">
        <td>
          <router-link class="whole" :to="`/ideas/${row.id}?sheet=case`"
            >I-{{ row.id }} {{ row.title }}</router-link
          >
          <div class="quiet">{{ row.division }}</div>
        </td>
        <td class="num">
          <template v-if="row.promised_worth">{{ number(row.promised_worth) }}</template>
          <span v-else class="quiet">no promise</span>
        </td>
        <td class="num">
          <template v-if="row.promised_worth && moved(row.promised_worth, row.worth)">≠ </template
          >{{ number(row.worth) }}
          <div v-if="row.waits" class="quiet">being reckoned anew</div>
        </td>
        <td class="num"><When v-if="row.promised_go_live" :at="row.promised_go_live" /></td>
        <td class="num">
          <template v-if="live"><When v-if="row.live_on" :at="row.live_on" /></template>
          <template v-else-if="row.go_live">
            <template v-if="moved(row.promised_go_live, row.go_live)">≠ </template><When :at="row.go_live" />
            <div v-if="standing(row, today) === 'over'" class="quiet care">is over, not live yet</div>
          </template>
        </td>
        <td>
          <Glyph :state="row.stage" />
          <div v-if="row.building" class="quiet">{{ row.building }}</div>
        </td>
      </tr>
    </tbody>
  </table>
</template>
