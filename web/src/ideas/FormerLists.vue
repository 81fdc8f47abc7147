<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import When from '@/shared/When.vue'

/** The lists that one brought before, and what became of them. */
const former = useQuery({
  queryKey: ['sheets', 'mine'],
  queryFn: () => ask(api.GET('/api/v1/sheets')),
})
</script>

<template>
  <section v-if="former.data.value?.length" class="stack tight">
    <h2>Lists you brought</h2>
    <table class="ledger">
      <tbody>
        <tr v-for="row in former.data.value" :key="row.id">
          <td>
            <router-link class="whole" :to="`/ideas/bring/${row.id}`">{{ row.name }}</router-link>
            <div class="quiet">{{ row.errand_words || 'not brought in yet' }}</div>
          </td>
          <td class="num"><When :at="row.made_at" /></td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
