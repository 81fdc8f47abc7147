<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import When from '@/shared/When.vue'

/** Routines in use: what each counts for, how it went last, when it starts next. */
defineProps<{ routines: Schemas['RoutineRow'][] }>()
</script>

<template>
  <table class="ledger">
    <thead>
      <tr>
        <th>Routine</th>
        <th>Counts for</th>
        <th style="width: 150px">Last run</th>
        <th class="num">Starts next</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in routines" :key="one.id">
        <td>
          <router-link class="whole" :to="`/workshop/routines/${one.id}`">{{ one.name }}</router-link>
          <span v-if="one.on_trial" class="care"> on trial</span>
          <div class="quiet">{{ one.area }}, {{ one.package }} {{ one.release_version }}</div>
        </td>
        <td>
          <router-link v-if="one.idea_id" :to="`/ideas/${one.idea_id}?sheet=tally`"
            >I-{{ one.idea_id }} {{ one.idea }}</router-link
          >
          <span v-else class="quiet">no idea</span>
        </td>
        <td>
          <router-link v-if="one.last_run && one.last_state" :to="`/runs/${one.last_run}`"
            ><Glyph :state="one.last_state"
          /></router-link>
          <span v-else class="quiet">never ran</span>
          <div v-if="one.last_at" class="quiet"><When :at="one.last_at" /></div>
        </td>
        <td class="num">
          <When v-if="one.next_at" :at="one.next_at" near /><span v-else class="quiet">by hand only</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>
