<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { money, number, share } from '@/shared/format'
import { useMe } from '@/shared/session'

/** What other factors would do to the sizings of open ideas. */
defineProps<{ found: Schemas['MovedSizings'] }>()
const { currency } = useMe()
</script>

<template>
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
