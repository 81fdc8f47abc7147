<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { useAddressed } from '@/shared/address'
import Glyph from '@/shared/Glyph.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import HostHours from './HostHours.vue'
import { later } from '@/shared/later'
import type { CodeShown } from '@/shared/code'
import HostName from './HostName.vue'

const HostSeatsAll = later(() => import('./HostSeatsAll.vue'))
const HostMaintenance = later(() => import('./HostMaintenance.vue'))
const Retire = later(() => import('@/shared/Retire.vue'))

/** Hosts: which are heard from, under which account, with how many seats. */
type Host = Schemas['Host']
const props = defineProps<{ hosts: Host[] }>()
const emit = defineEmits<{ code: [made: CodeShown] }>()
const shown = useAddressed('host')
const acts = computed(() => props.hosts.some((host) => host.may_change || host.may_retire))
// What is changed of a host stands right below it.
type What = 'Seats' | 'Hours' | 'Maintenance' | 'Name'
const open = ref<{ host: number; what: What } | null>(null)
const retiring = ref<Host | null>(null)
const path = (host: Host) => ({ params: { path: { number: host.id } } })
const toggle = (host: number, what: What) =>
  (open.value = open.value?.host === host && open.value.what === what ? null : { host, what })
const renew = useAction(async (host: Host) => {
  const made = await ask(api.POST('/api/v1/hosts/{number}/code', { params: { path: { number: host.id } } }))
  emit('code', { host: host.name, code: made.code, until: made.until })
})
</script>

<template>
  <table class="ledger stacks">
    <thead>
      <tr>
        <th style="width: 110px">State</th>
        <th>Host</th>
        <th>Account</th>
        <th class="num">Heard</th>
        <th class="num">Seats in use</th>
        <th v-if="acts"></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="host in hosts" :key="host.id">
        <tr :class="{ open: host.id === shown }" :data-spot="host.id === shown">
          <td>
            <Glyph v-if="!host.connected" state="waiting" word="to connect" />
            <Glyph v-else :state="host.silent ? 'silent' : 'heard'" />
          </td>
          <td class="whole">
            <router-link :to="`/robots/hosts/${host.id}`"
              ><b>{{ host.name }}</b></router-link
            >
            <div v-if="host.owner" class="quiet">
              own computer of {{ host.owner }}{{ host.in_use_since ? ', who uses it now' : '' }}
            </div>
            <div class="quiet">{{ host.abilities.join(', ') }}</div>
            <div v-if="host.maintenance_at" class="care">
              in maintenance<template v-if="host.maintenance_until"
                >&#32;until <When :at="host.maintenance_until" /></template
              >: {{ host.maintenance_why }}
            </div>
            <div v-if="host.leaving_at" class="care">is leaving: its runner is being stopped</div>
            <div v-if="host.hours_from" class="quiet">
              works {{ host.hours_from }} to {{ host.hours_to }} ({{ host.hours_zone }})
            </div>
            <div v-if="Math.abs(host.clock_ahead_ms ?? 0) > 2000" class="care">
              its clock is {{ Math.round(Math.abs(host.clock_ahead_ms ?? 0) / 1000) }} s
              {{ (host.clock_ahead_ms ?? 0) > 0 ? 'ahead' : 'behind' }}
            </div>
          </td>
          <td data-head="as">{{ host.account ?? '–' }}</td>
          <td class="num" data-head="heard">
            <When v-if="host.heard_at" :at="host.heard_at" near /><template v-else>never</template>
          </td>
          <td class="num" data-head="seats in use">
            {{ host.seats_used }} of {{ host.seats }}
            <div class="quiet">trial {{ host.trial_used }} of {{ host.trial_seats }}</div>
          </td>
          <td v-if="acts" class="num whole">
            <span v-if="host.may_change" class="row acts"
              ><el-button
                v-for="what in ['Seats', 'Hours', 'Maintenance'] as const"
                :key="what"
                link
                type="primary"
                :aria-expanded="open?.host === host.id && open.what === what"
                :aria-label="`${what} of ${host.name}`"
                @click="toggle(host.id, what)"
                >{{ what }}</el-button
              ></span
            >
            <span class="row acts">
              <el-button
                v-if="host.may_change"
                link
                type="primary"
                :aria-expanded="open?.host === host.id && open.what === 'Name'"
                :aria-label="`Name of ${host.name}`"
                @click="toggle(host.id, 'Name')"
                >Name</el-button
              >
              <el-button
                v-if="host.may_change"
                link
                type="primary"
                :aria-label="`New code for ${host.name}`"
                @click="renew.go(host)"
                >New code</el-button
              >
              <el-button
                v-if="host.may_retire"
                link
                type="danger"
                :aria-label="`Retire ${host.name}`"
                @click="retiring = host"
                >Retire</el-button
              >
            </span>
          </td>
        </tr>
        <tr v-if="open?.host === host.id">
          <td colspan="6">
            <HostHours v-if="open.what === 'Hours'" :host="host" @leave="open = null" />
            <HostMaintenance v-else-if="open.what === 'Maintenance'" :host="host" @leave="open = null" />
            <HostName v-else-if="open.what === 'Name'" :host="host" @leave="open = null" />
            <HostSeatsAll v-else :host="host" @leave="open = null" />
          </td>
        </tr>
      </template>
    </tbody>
  </table>
  <Problem :error="renew.error.value" />
  <Retire
    v-if="retiring"
    subject="robots"
    :number="retiring.id"
    :name="retiring.name"
    :look="() => ask(api.GET('/api/v1/hosts/{number}/retiring', path(retiring!)))"
    :act="() => ask(api.POST('/api/v1/hosts/{number}/retire', path(retiring!)))"
    @leave="retiring = null"
  />
</template>

<style scoped>
.acts {
  justify-content: flex-end;
  gap: 12px;
}
</style>
