<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { size } from '@/shared/format'
import When from '@/shared/When.vue'

/** The files that a run handed over. */
defineProps<{ run: number; files: Schemas['RunFile'][] }>()
</script>

<template>
  <section>
    <h2>Files it handed over</h2>
    <table class="ledger">
      <tbody>
        <tr v-for="file in files" :key="file.id">
          <td>
            <a class="whole" :href="`/api/v1/runs/${run}/files/${file.id}`" :download="file.name">{{
              file.name
            }}</a>
          </td>
          <td class="num quiet">{{ size(file.size) }}</td>
          <td class="num"><When :at="file.at" /></td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
