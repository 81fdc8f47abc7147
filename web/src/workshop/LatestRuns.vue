<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import { lasted } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import When from '@/shared/When.vue'

/** How a routine went lately. */
const props = defineProps<{ routine: number }>()
const runs = useQuery({
  queryKey: ['runs', 'of', () => props.routine],
  queryFn: () => ask(api.GET('/api/v1/runs', { params: { query: { routine: props.routine, limit: 8 } } })),
})
</script>

<template>
  <section>
    <h2>Latest runs</h2>
    <p v-if="!runs.data.value?.rows.length" class="quiet">It never ran.</p>
    <table v-else class="ledger">
      <tbody>
        <tr v-for="run in runs.data.value.rows" :key="run.id">
          <td style="width: 110px"><Glyph :state="run.state" /></td>
          <td>
            <router-link class="whole" :to="`/runs/${run.id}`">R-{{ run.id }}</router-link>
            <span class="quiet"> {{ run.started_words }}</span>
            <div class="quiet">{{ run.reason }}</div>
          </td>
          <td class="num">{{ run.robot ?? '–' }}</td>
          <td class="num">{{ lasted(run.started_at, run.ended_at, runs.data.value.now) }}</td>
          <td class="num"><When :at="run.ended_at ?? run.made_at" /></td>
        </tr>
      </tbody>
    </table>
    <p><router-link :to="`/runs?routine=${routine}`">All its runs</router-link></p>
  </section>
</template>
