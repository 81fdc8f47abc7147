<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import When from '@/shared/When.vue'

/** What worked on my computer lately, and how it ended. */
defineProps<{ runs: Schemas['MyRun'][] }>()
</script>

<template>
  <section>
    <h2>What it did lately</h2>
    <table class="ledger stacks">
      <tbody>
        <tr v-for="one in runs" :key="one.id">
          <td style="width: 110px"><Glyph :state="one.state" /></td>
          <td class="whole">
            <router-link v-if="one.may_see" :to="`/runs/${one.id}`"
              >R-{{ one.id }} {{ one.routine }}</router-link
            >
            <template v-else>R-{{ one.id }} {{ one.routine }}</template>
            <div v-if="one.reason" class="quiet">{{ one.reason }}</div>
          </td>
          <td class="num"><When :at="one.ended_at" /></td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
