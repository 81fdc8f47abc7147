<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Figure from '@/shared/Figure.vue'
import { number } from '@/shared/format'

/** Promised against delivered, line by line, to date. */
defineProps<{ lines: Schemas['IdeaTally']['lines']; symbol: string }>()
</script>

<template>
  <section>
    <h2>Line by line, to date</h2>
    <table class="ledger">
      <thead>
        <tr>
          <th>Line of the case</th>
          <th class="num">Promised, {{ symbol }}</th>
          <th class="num">Delivered, {{ symbol }}</th>
          <th class="num">Difference, {{ symbol }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in lines" :key="row.line">
          <td>{{ row.line }}</td>
          <td class="num">{{ number(row.promised, 2, 2) }}</td>
          <td class="num">{{ number(row.delivered, 2, 2) }}</td>
          <td class="num">
            <Figure
              :name="`line-${row.line.replaceAll(' ', '-')}`"
              :working="row.working"
              :text="number(row.difference, 2, 2)"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <p class="quiet">Month-end costs are posted when a month is over, so the running month lacks them.</p>
  </section>
</template>
