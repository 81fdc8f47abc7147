<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { monthText, number } from '@/shared/format'
import CorrectCount from './CorrectCount.vue'

/** What a run posted to the tally, and what corrects it. */
defineProps<{ run: Schemas['RunWhole'] }>()
</script>

<template>
  <section>
    <h2>Posted to the tally</h2>
    <p v-if="run.caution" class="note care">{{ run.caution }}</p>
    <table class="ledger">
      <thead>
        <tr>
          <th>Line</th>
          <th>Month</th>
          <th class="num">Units</th>
          <th class="num">Hours</th>
          <th class="num">Money</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="entry in run.entries" :key="entry.id">
          <td>
            <router-link
              v-if="entry.idea_id"
              :to="`/ideas/${entry.idea_id}?sheet=tally&month=${entry.month}`"
              >{{ entry.line }}</router-link
            >
            <template v-else>{{ entry.line }}</template>
            <div v-if="entry.kind !== 'run'" class="quiet">{{ entry.kind }}: {{ entry.why }}</div>
          </td>
          <td>{{ monthText(entry.month) }}</td>
          <td class="num">{{ number(entry.units) }}</td>
          <td class="num">{{ number(entry.hours, 4) }}</td>
          <td class="num">{{ number(entry.money, 4, 2) }}</td>
        </tr>
      </tbody>
    </table>
    <CorrectCount :run="run" />
  </section>
</template>
