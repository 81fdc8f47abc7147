<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { useAddressed } from '@/shared/address'
import Glyph from '@/shared/Glyph.vue'
import Problem from '@/shared/Problem.vue'
import { useMe } from '@/shared/session'
import When from '@/shared/When.vue'
import HostHours from './HostHours.vue'
import HostSeats from './HostSeats.vue'

/** Hosts: which are heard from, under which account, with how many seats. */
type Host = Schemas['Host']
export interface CodeShown {
  host: string
  code: string
  until: string
}
defineProps<{ hosts: Host[] }>()
const emit = defineEmits<{ code: [made: CodeShown] }>()
const { may } = useMe()
const shown = useAddressed('host')
// What is changed of a host stands right below it.
const open = ref<{ host: number; what: 'hours' | 'seats' } | null>(null)
const toggle = (host: number, what: 'hours' | 'seats') =>
  (open.value = open.value?.host === host && open.value.what === what ? null : { host, what })
const renew = useAction(async (host: Host) => {
  const made = await ask(api.POST('/api/v1/hosts/{number}/code', { params: { path: { number: host.id } } }))
  emit('code', { host: host.name, code: made.code, until: made.until })
})
/** Under which accounts packages work on a host, and how they are bounded. */
const packages = (host: Host): string => {
  const facts = (host.facts ?? {}) as Record<string, string>
  return facts.packages ? `packages work ${facts.packages}, ${facts.limits}` : ''
}
const fact = (host: Host): string => {
  const facts = (host.facts ?? {}) as Record<string, string>
  return [
    facts.system,
    facts.processors && `${facts.processors} processors`,
    facts.python && `Python ${facts.python}`,
  ]
    .filter(Boolean)
    .join(', ')
}
</script>

<template>
  <table class="ledger">
    <thead>
      <tr>
        <th style="width: 110px">State</th>
        <th>Host</th>
        <th>Account</th>
        <th class="num">Heard</th>
        <th class="num">Seats in use</th>
        <th v-if="may('robot.change')"></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="host in hosts" :key="host.id">
        <tr :class="{ open: host.id === shown }" :data-spot="host.id === shown">
          <td>
            <Glyph v-if="!host.connected" state="waiting" word="to connect" />
            <Glyph v-else :state="host.silent ? 'silent' : 'heard'" />
          </td>
          <td>
            <b>{{ host.name }}</b>
            <div class="quiet">{{ fact(host) }}</div>
            <div v-if="packages(host)" class="quiet">{{ packages(host) }}</div>
            <div v-if="host.leaving_at" class="care">is leaving: its runner is being stopped</div>
            <div v-if="host.used_at" class="quiet">
              its token was used <When :at="host.used_at" near /> from {{ host.used_from
              }}{{
                host.bound
                  ? ', and works on this machine only'
                  : '; it works on any machine until the host is connected anew'
              }}
            </div>
            <div v-if="host.hours_from" class="quiet">
              works {{ host.hours_from }} to {{ host.hours_to }} ({{ host.hours_zone }})
            </div>
            <div v-if="Math.abs(host.clock_ahead_ms ?? 0) > 2000" class="care">
              its clock is {{ Math.round(Math.abs(host.clock_ahead_ms ?? 0) / 1000) }} s
              {{ (host.clock_ahead_ms ?? 0) > 0 ? 'ahead' : 'behind' }}
            </div>
          </td>
          <td>{{ host.account ?? '–' }}</td>
          <td class="num">
            <When v-if="host.heard_at" :at="host.heard_at" near /><template v-else>never</template>
          </td>
          <td class="num">{{ host.seats_used }} of {{ host.seats }}</td>
          <td v-if="may('robot.change')" class="num">
            <span class="row acts"
              ><el-button
                v-for="what in ['seats', 'hours'] as const"
                :key="what"
                link
                type="primary"
                :aria-expanded="open?.host === host.id && open.what === what"
                :aria-label="`${what === 'seats' ? 'Seats' : 'Hours'} of ${host.name}`"
                @click="toggle(host.id, what)"
                >{{ what === 'seats' ? 'Seats' : 'Hours' }}</el-button
              >
              <el-button link type="primary" @click="renew.go(host)">New code</el-button></span
            >
          </td>
        </tr>
        <tr v-if="open?.host === host.id">
          <td colspan="6">
            <HostHours v-if="open.what === 'hours'" :host="host" @leave="open = null" />
            <HostSeats v-else :host="host" @leave="open = null" />
          </td>
        </tr>
      </template>
    </tbody>
  </table>
  <Problem :error="renew.error.value" />
</template>

<style scoped>
.acts {
  justify-content: flex-end;
  gap: 12px;
}
</style>
