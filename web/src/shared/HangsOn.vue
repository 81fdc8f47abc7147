<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { plural } from './format'

/** What hangs on something, and what becomes of each. */
defineProps<{ hangs: Schemas['HangsOn'][]; unseen: number }>()
</script>

<template>
  <table v-if="hangs.length" class="ledger" aria-label="What hangs on it">
    <tbody>
      <tr v-for="one in hangs" :key="one.what + one.name">
        <td style="width: 90px" class="quiet">{{ one.what }}</td>
        <td>
          <router-link v-if="one.link" :to="one.link">{{ one.name }}</router-link>
          <template v-else>{{ one.name }}</template>
          <div class="quiet">{{ one.then }}</div>
        </td>
      </tr>
    </tbody>
  </table>
  <p v-if="unseen" class="quiet">
    {{ unseen }} more that you may not see {{ plural(unseen, 'hangs', 'hang') }} on it.
  </p>
</template>
