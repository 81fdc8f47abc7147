<script setup lang="ts">
import type { Schemas } from '@/api/client'
import When from '@/shared/When.vue'
import { pageOf } from './link'

/** What somebody set aside, and why. */
defineProps<{ rows: Schemas['Health']['set_aside'] }>()
</script>

<template>
  <section>
    <h2>Set aside by somebody</h2>
    <table class="ledger">
      <tbody>
        <tr v-for="row in rows" :key="row.id">
          <td>
            {{ row.words }}
            <router-link v-if="pageOf(row.object)" :to="pageOf(row.object)">{{ row.object }}</router-link>
            <template v-else>{{ row.about }}</template>
          </td>
          <td>{{ row.aside_why }}</td>
          <td class="num">{{ row.person }}, <When :at="row.aside_at" /></td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
