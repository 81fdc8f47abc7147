<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { pairs } from './pairs'

/** What a run was given, what it gave, and what it counted. */
const props = defineProps<{ run: Schemas['RunWhole']; live: boolean }>()
const tables = computed(() => [
  { name: 'Inputs', rows: pairs(props.run.inputs), none: 'none given' },
  { name: 'Outputs', rows: pairs(props.run.outputs), none: props.live ? 'come at the end' : 'none' },
  { name: 'Counts', rows: pairs(props.run.counts), none: props.live ? 'come at the end' : 'none' },
])
</script>

<template>
  <div class="three">
    <section v-for="table in tables" :key="table.name">
      <h2>{{ table.name }}</h2>
      <p v-if="!table.rows.length" class="quiet">{{ table.none }}</p>
      <table v-else class="ledger">
        <tbody>
          <tr v-for="[name, value] in table.rows" :key="name">
            <td>{{ name }}</td>
            <td class="num wrap">{{ value }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 24px;
}
.wrap {
  white-space: normal;
  overflow-wrap: anywhere;
}
</style>
