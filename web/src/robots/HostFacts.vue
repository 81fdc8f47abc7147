<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { number } from '@/shared/format'
import When from '@/shared/When.vue'

/** What a host can do and how it works, as its runner reports it; what is wrong with it stands first. */
const props = defineProps<{ host: Schemas['Host']; upgrade: string }>()
const facts = computed(() => (props.host.facts ?? {}) as Record<string, string>)
const OFF_MS = 2000
const ahead = computed(() => props.host.clock_ahead_ms ?? 0)
const clock = computed(() => {
  const seconds = Math.round(Math.abs(ahead.value) / 1000)
  return `${number(seconds)} s ${ahead.value > 0 ? 'ahead' : 'behind'}`
})
</script>

<template>
  <section class="stack tight">
    <p v-if="host.maintenance_at" class="note care">
      In maintenance since <When :at="host.maintenance_at" /><template v-if="host.maintenance_until"
        >, until <When :at="host.maintenance_until" /></template
      >: {{ host.maintenance_why }}
    </p>
    <p v-if="host.leaving_at" class="note care">It is leaving: its runner is being stopped.</p>
    <p v-if="Math.abs(ahead) > OFF_MS" class="note care">
      Its clock is {{ clock }}. Set it right: from 30 minutes on it is given no work.
    </p>
    <p v-if="upgrade" class="note">{{ upgrade }}</p>
    <table class="ledger">
      <tbody>
        <tr v-if="host.owner">
          <th scope="row">Own computer of</th>
          <td>
            {{ host.owner
            }}<template v-if="host.in_use_since"
              >, who uses it since <When :at="host.in_use_since" near /></template
            ><template v-else>, who does not use it now</template>
          </td>
        </tr>
        <tr>
          <th scope="row">It can</th>
          <td>
            {{ host.abilities.join(', ') || 'not reported yet: its runner says so once it is connected' }}
          </td>
        </tr>
        <tr v-if="host.disk_free_mb !== null">
          <th scope="row">Free on its disk</th>
          <td>
            {{ number(Math.round(host.disk_free_mb / 1024)) }} GB<template v-if="host.read_at"
              >, read <When :at="host.read_at" near
            /></template>
          </td>
        </tr>
        <tr v-if="facts.packages">
          <th scope="row">Packages work</th>
          <td>{{ facts.packages }}; {{ facts.limits }}</td>
        </tr>
        <tr v-if="host.known">
          <th scope="row">Accounts it knows</th>
          <td>{{ host.known.join(', ') || 'none but the system’s own' }}</td>
        </tr>
        <tr>
          <th scope="row">Hours</th>
          <td>
            {{
              host.hours_from ? `${host.hours_from} to ${host.hours_to} (${host.hours_zone})` : 'at any hour'
            }}
          </td>
        </tr>
        <tr v-if="host.connected">
          <th scope="row">Runner</th>
          <td>
            release {{ facts.runner ?? 'not told' }}, under the account {{ host.account ?? '–' }}, connected
            <When v-if="host.connected_at" :at="host.connected_at" /><template v-if="host.used_at"
              >; its token was used <When :at="host.used_at" near /> from {{ host.used_from }}, and works
              {{
                host.bound ? 'on this machine only' : 'on any machine until it is connected anew'
              }}</template
            >
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
th {
  width: 170px;
  font-weight: 400;
  text-align: left;
  color: var(--ink-2);
  border-bottom: 1px solid var(--hair);
}
</style>
