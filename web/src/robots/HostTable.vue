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
const hoursOf = ref<Host | null>(null)
const seats = useAction((host: number, number: number) =>
  ask(
    api.PUT('/api/v1/hosts/{number}/seats', { params: { path: { number: host } }, body: { seats: number } }),
  ),
)
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
      <tr
        v-for="host in hosts"
        :key="host.id"
        :class="{ open: host.id === shown }"
        :data-spot="host.id === shown"
      >
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
        <td class="num">
          {{ host.seats_used }} of {{ host.seats }}
          <template v-if="may('robot.change')">
            <el-button
              :aria-label="`One seat fewer for ${host.name}`"
              :disabled="host.seats === 0"
              link
              type="primary"
              @click="seats.go(host.id, host.seats - 1)"
            >
              −
            </el-button>
            <el-button
              :aria-label="`One seat more for ${host.name}`"
              link
              type="primary"
              @click="seats.go(host.id, host.seats + 1)"
            >
              +
            </el-button>
          </template>
        </td>
        <td v-if="may('robot.change')" class="num">
          <el-button link type="primary" @click="hoursOf = host">Hours</el-button>
          <el-button link type="primary" @click="renew.go(host)">New code</el-button>
        </td>
      </tr>
    </tbody>
  </table>
  <HostHours v-if="hoursOf" :key="hoursOf.id" :host="hoursOf" @leave="hoursOf = null" />
  <Problem :error="seats.error.value ?? renew.error.value" />
</template>
